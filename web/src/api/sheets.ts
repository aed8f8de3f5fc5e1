import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ask, client, type SheetQuery } from "./client";
import { queries } from "./queries";

/** SheetData is a sheet of which some pages may not be loaded yet: their items have ids below 0 and guessed proportions. */
export interface SheetData {
  ids: number[];
  ratios: number[];
  tints: number[];
}

const page = 10_000;
const guess = { ratio: 1500, tint: 0xdcdacf };
/** Up to so many items are loaded by and by even if nobody looks at them. */
const everything = 120_000;

const load = (brand: string, query: SheetQuery, from: number) =>
  ask(client.POST("/api/brands/{brand}/sheet", { params: { path: { brand }, query: { from, most: page } }, body: query }));

async function firstPage(brand: string, query: SheetQuery): Promise<SheetData> {
  const first = await load(brand, query, 0);
  const data: SheetData = { ids: first.ids, ratios: first.ratios, tints: first.tints };
  for (let i = first.ids.length; i < first.total; i++) {
    data.ids.push(-i - 1);
    data.ratios.push(guess.ratio);
    data.tints.push(guess.tint);
  }
  return data;
}

/** useSheet is what a place shows, the first page of it at once. */
export const useSheet = (brand: string, query: SheetQuery) => useQuery({ queryKey: ["sheet", query], placeholderData: keepPreviousData, queryFn: () => firstPage(brand, query) });

const underway = new Set<string>();

/** fillSheet loads the first page that is missing among the items from … to, and then, of a sheet that is not too long, the
 * others. */
export async function fillSheet(brand: string, query: SheetQuery, from: number, to: number) {
  const key = ["sheet", query];
  const data = queries.getQueryData<SheetData>(key);
  if (!data) return;
  const missing = (a: number, b: number) => {
    for (let i = a; i < Math.min(b, data.ids.length); i++) if (data.ids[i]! < 0) return i;
    return -1;
  };
  let at = missing(from, to);
  if (at < 0 && data.ids.length <= everything) at = missing(0, data.ids.length);
  if (at < 0) return;
  const start = Math.floor(at / page) * page;
  const name = JSON.stringify([query, start]);
  if (underway.has(name)) return;
  underway.add(name);
  try {
    const got = await load(brand, query, start);
    queries.setQueryData<SheetData>(key, (old) => {
      if (!old || got.total !== old.ids.length) return old; // it has changed meanwhile, and is being loaded anew
      const next = { ids: old.ids.slice(), ratios: old.ratios.slice(), tints: old.tints.slice() };
      got.ids.forEach((id, i) => {
        next.ids[start + i] = id;
        next.ratios[start + i] = got.ratios[i]!;
        next.tints[start + i] = got.tints[i]!;
      });
      return next;
    });
  } catch {
    // what is in view asks again
  } finally {
    underway.delete(name);
  }
}

/** hideFromSheets takes items out of what every sheet of a kind shows, before the server has answered. */
export function hideFromSheets(ids: Set<number>, from: (query: SheetQuery) => boolean) {
  for (const [key, data] of queries.getQueriesData<SheetData>({ queryKey: ["sheet"] })) {
    if (!data || !from(key[1] as SheetQuery)) continue;
    const keep: number[] = [];
    data.ids.forEach((id, i) => !ids.has(id) && keep.push(i));
    if (keep.length === data.ids.length) continue;
    queries.setQueryData<SheetData>(key, { ids: keep.map((i) => data.ids[i]!), ratios: keep.map((i) => data.ratios[i]!), tints: keep.map((i) => data.tints[i]!) });
  }
}
