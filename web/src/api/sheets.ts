import { keepPreviousData, useQuery, type QueryKey } from "@tanstack/react-query";
import { useCallback } from "react";
import { create } from "zustand";
import { ask, client, type Schema, type SheetQuery } from "./client";
import { queries } from "./queries";

/** SheetData is a sheet of which some pages may not be loaded yet: their items have ids below 0 and guessed proportions. */
export interface SheetData {
  ids: number[];
  ratios: number[];
  tints: number[];
  /** How many more there are that were set aside. */
  aside?: number;
  /** How many items there are with all that lie together. */
  items: number;
  /** What lies together, as far as it is loaded, by the item that stands for it. */
  piles: SheetPile[];
}

export type SheetPile = Schema["SheetPile"];

const page = 10_000;
const guess = { ratio: 1500, tint: 0xdcdacf };
/** Up to so many items are loaded by and by even if nobody looks at them. */
const everything = 120_000;

const load = (brand: string, query: SheetQuery, from: number) =>
  ask(client.POST("/api/brands/{brand}/sheet", { params: { path: { brand }, query: { from, most: page } }, body: query }));

/** What is in view, so that it is loaded anew first when something has changed. */
let inView: number[] = [];

/** loadSheet loads the first page and, of a sheet that is known already, the pages in view. What else was known of it keeps its
 * proportions until it is loaded again, so that nothing moves. */
async function loadSheet(brand: string, query: SheetQuery): Promise<SheetData> {
  const before = queries.getQueryData<SheetData>(["sheet", query]);
  const starts = new Set([0]);
  for (const id of before ? inView : []) {
    const at = before!.ids.indexOf(id);
    if (at >= 0) starts.add(pageOf(at));
  }
  const pages = await Promise.all([...starts].map(async (start) => ({ start, got: await load(brand, query, start) })));
  const total = pages[0]!.got.total;
  const data: SheetData = { ids: [], ratios: [], tints: [], aside: pages[0]!.got.aside, items: pages[0]!.got.items, piles: [] };
  for (let i = 0; i < total; i++) {
    data.ids.push(-i - 1);
    data.ratios.push(before?.ratios[i] ?? guess.ratio);
    data.tints.push(before?.tints[i] ?? guess.tint);
  }
  for (const { start, got } of pages) if (got.total === total) put(data, start, got);
  return data;
}

const pageOf = (at: number) => Math.floor(at / page) * page;

function put(data: SheetData, start: number, got: SheetData) {
  got.ids.forEach((id, i) => {
    data.ids[start + i] = id;
    data.ratios[start + i] = got.ratios[i]!;
    data.tints[start + i] = got.tints[i]!;
  });
  if (got.piles.length === 0) return;
  const fresh = new Set(got.piles.map((p) => p.front));
  data.piles = [...data.piles.filter((p) => !fresh.has(p.front)), ...got.piles];
}

/** useSheet is what a place shows, the first page of it at once, without what is on its way out of it. */
export function useSheet(brand: string, query: SheetQuery) {
  const leaving = useLeaving((s) => s.list);
  const select = useCallback((data: SheetData) => leaving.reduce((left, l) => without(left, l, query), data), [leaving, query]);
  return useQuery({
    queryKey: ["sheet", query],
    placeholderData: keepPreviousData,
    queryFn: () => loadSheet(brand, query),
    select: leaving.length > 0 ? select : undefined,
    structuralSharing: false, // comparing a hundred thousand numbers for each page that comes in is felt while scrolling
  });
}

const underway = new Set<string>();

/** fillSheet loads the page of the first of some items that is not loaded yet, and else, of a sheet that is not too long,
 * the first page that is missing. */
export async function fillSheet(brand: string, query: SheetQuery, seen: number[]) {
  const key = ["sheet", query];
  const data = queries.getQueryData<SheetData>(key);
  if (seen.length > 0) inView = [seen[0]!, ...seen.slice(-1)];
  if (!data) return;
  const ghost = firstGhost(seen) ?? (data.ids.length <= everything ? firstGhost(data.ids) : undefined);
  if (ghost === undefined) return;
  const at = -ghost - 1;
  const start = pageOf(at);
  const name = JSON.stringify([query, start]);
  if (underway.has(name)) return;
  underway.add(name);
  try {
    const got = await load(brand, query, start);
    queries.setQueryData<SheetData>(key, (old) => {
      if (!old || got.total !== old.ids.length) return old; // it has changed meanwhile, and is being loaded anew
      const next = { ...old, ids: old.ids.slice(), ratios: old.ratios.slice(), tints: old.tints.slice() };
      put(next, start, got);
      return next;
    });
  } catch {
    // what is in view asks again
  } finally {
    underway.delete(name);
  }
}

/** Leaving is items that go out of what some sheets show: those of the ids, and those of the query that are not loaded. */
export interface Leaving {
  ids: Set<number>;
  whole?: SheetQuery;
  from: (query: SheetQuery) => boolean;
}

function without(data: SheetData, leaving: Leaving, query: SheetQuery): SheetData {
  if (!leaving.from(query)) return data;
  const whole = leaving.whole !== undefined && JSON.stringify(leaving.whole) === JSON.stringify(query);
  const keep: number[] = [];
  data.ids.forEach((id, i) => (id < 0 ? whole : leaving.ids.has(id)) || keep.push(i));
  if (keep.length === data.ids.length) return data;
  const gone = data.ids.length - keep.length;
  const behind = data.piles.flatMap((p) => (p.unfolded ? [] : p.ids.filter((id) => id !== p.front && leaving.ids.has(id))));
  return {
    ...data,
    items: data.items - gone - behind.length,
    ids: keep.map((i) => data.ids[i]!),
    ratios: keep.map((i) => data.ratios[i]!),
    tints: keep.map((i) => data.tints[i]!),
  };
}

/** A plain loop: it runs over a hundred thousand while somebody scrolls. */
function firstGhost(ids: number[]) {
  for (let i = 0; i < ids.length; i++) if (ids[i]! < 0) return ids[i];
  return undefined;
}

/** hideFromSheets takes items out of what sheets show, before the server has answered. It returns what shows them again where the server
 * refuses or cannot be reached: nothing can be loaded then. */
export function hideFromSheets(leaving: Leaving) {
  const hidden: { key: QueryKey; before: SheetData; now: SheetData }[] = [];
  for (const [key, before] of queries.getQueriesData<SheetData>({ queryKey: ["sheet"] })) {
    const now = before && without(before, leaving, key[1] as SheetQuery);
    if (!now || now === before) continue;
    hidden.push({ key, before, now });
    queries.setQueryData<SheetData>(key, now);
  }
  return () => {
    // what is not as it was hidden was loaded meanwhile
    for (const { key, before, now } of hidden) if (queries.getQueryData(key) === now) queries.setQueryData<SheetData>(key, before);
    void queries.invalidateQueries({ queryKey: ["sheet"] });
  };
}

const useLeaving = create<{ list: (Leaving & { trail: number })[] }>(() => ({ list: [] }));

/** hideUntilDone keeps items out of sight while the server takes them out in pieces. */
export const hideUntilDone = (trail: number, leaving: Leaving) =>
  useLeaving.setState((s) => ({ list: [...s.list, { ...leaving, trail }] }));

/** showAllBut ends that for what does not go on any more, when the sheets are as the server left them. */
export async function showAllBut(goesOn: Set<number>) {
  const done = useLeaving.getState().list.filter((l) => !goesOn.has(l.trail));
  if (done.length === 0) return;
  await queries.invalidateQueries({ queryKey: ["sheet"] });
  useLeaving.setState((s) => ({ list: s.list.filter((l) => !done.includes(l)) }));
}
