import type { Schema, Selection } from "~/api/client";
import { plural } from "~/kit/words";

export type Page = Schema["Page"];
export type Mend = Schema["Mend"];
export type PageCheck = Schema["PageCheck"];

/** OnPage is what differs for a page: its caption, where it has one of its own, the album there, and how what does not fit is mended. */
export interface OnPage {
  caption?: string;
  album: string;
  mends: Mend[];
}

/** Draft is a dispatch that is being put together. */
export interface Draft {
  caption: string;
  when: "now" | "at" | "slot";
  at: string;
  /** Which items, in an order other than that of what was selected. */
  order?: number[];
  /** Where it was tried out before. */
  rehearsal?: number | undefined;
  /** The draft that it was. */
  draft?: number | undefined;
  /** A post that is taken back once all of this is out. */
  moves?: number | undefined;
  pages: Record<number, OnPage>;
}

export const emptyDraft: Draft = { caption: "", when: "now", at: "", pages: {} };

/** wanted is a draft as the server takes it. */
export function wanted(selection: Selection, draft: Draft): Schema["NewDispatch"] {
  return {
    selection: draft.order ? { ids: draft.order } : selection,
    caption: draft.caption,
    ...(draft.when === "at" && draft.at ? { at: draft.at } : {}),
    ...(draft.when === "slot" ? { slot: true } : {}),
    ...(draft.rehearsal ? { rehearsal: draft.rehearsal } : {}),
    ...(draft.draft ? { draft: draft.draft } : {}),
    ...(draft.moves ? { moves: draft.moves } : {}),
    pages: Object.entries(draft.pages).map(([page, on]) => ({
      page: Number(page),
      mends: on.mends,
      ...(on.caption === undefined ? {} : { caption: on.caption }),
      ...(on.album.trim() ? { album: on.album.trim() } : {}),
    })),
  };
}

/** rehearsedDraft is what a draft begins with that follows from a rehearsal. */
export const rehearsedDraft = (from: { id: number; page: number } | undefined): Partial<Draft> =>
  from ? { rehearsal: from.id, pages: { [from.page]: { album: "", mends: [] } } } : {};

/** draftOf is a draft that was kept, as it is put together. */
export function draftOf(kept: Schema["Draft"]): Draft {
  const d = kept.dispatch;
  return {
    caption: d.caption,
    when: d.slot ? "slot" : d.at ? "at" : "now",
    at: d.at ?? "",
    draft: kept.id,
    rehearsal: d.rehearsal,
    moves: d.moves,
    pages: Object.fromEntries(
      d.pages.map((p) => [
        p.page,
        { album: p.album ?? "", mends: p.mends ?? [], ...(p.caption === undefined ? {} : { caption: p.caption }) } satisfies OnPage,
      ]),
    ),
  };
}

/** moved is an order with some put before another one, or at the end. */
export function moved(order: number[], those: number[], before: number | undefined): number[] {
  const rest = order.filter((id) => !those.includes(id));
  const at = before === undefined ? rest.length : those.includes(before) ? -1 : rest.indexOf(before);
  if (at < 0 || those.some((id) => !order.includes(id))) return order;
  return [...rest.slice(0, at), ...order.filter((id) => those.includes(id)), ...rest.slice(at)];
}

/** stepped is an order with one moved by some places, as far as there are any. */
export function stepped(order: number[], id: number, by: number): number[] {
  const rest = order.filter((other) => other !== id);
  const at = Math.max(0, Math.min(rest.length, order.indexOf(id) + by));
  return [...rest.slice(0, at), id, ...rest.slice(at)];
}

/** mended puts mends in place of those of the same items before; that of a caption and that of the number of posts stand side by side. */
export function mended(before: Mend[], more: Mend[]): Mend[] {
  const same = (a: Mend, b: Mend) => a.item === b.item && (a.item !== 0 || a.mend === b.mend);
  return [...before.filter((m) => !more.some((n) => same(m, n))), ...more];
}

/** audience says who will see it, in one sentence: how many pages are for everyone, and how many members the others have. */
export function audience(pages: Page[]): string {
  const parts: string[] = [];
  const open = pages.filter((p) => p.reach === "everyone");
  const closed = pages.filter((p) => p.reach === "members");
  const hidden = pages.filter((p) => p.reach === "nobody");
  const only = pages.length === 1;
  if (open.length > 0) parts.push(only ? "It is public" : open.length === pages.length ? "All are public" : `${is(open.length)} public`);
  for (const p of closed) parts.push(`${only ? "it" : closed.length === 1 ? "one" : p.name} has ${plural(p.people, "member")}`);
  if (hidden.length > 0)
    parts.push(
      only
        ? "nobody sees it but those who work with it"
        : `${is(hidden.length)} seen by nobody but those who work with ${hidden.length === 1 ? "it" : "them"}`,
    );
  const text = parts.join(", ");
  return text ? text[0]!.toUpperCase() + text.slice(1) + "." : "";
}

const is = (n: number) => (n === 1 ? "one is" : `${n.toLocaleString("en-GB")} are`);
