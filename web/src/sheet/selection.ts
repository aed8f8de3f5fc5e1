import { create } from "zustand";
import type { Selection, SheetQuery } from "~/api/client";

interface Chosen {
  /** The items of the sheet in order. */
  ids: number[];
  query: SheetQuery;
  selected: Set<number>;
  /** The item that the keyboard is at, and where a range begins. */
  cursor: number | undefined;
  anchor: number | undefined;
  /** The item in the big view. */
  open: number | undefined;
}

export const useChosen = create<Chosen>(() => ({ ids: [], query: { place: "everything" }, selected: new Set(), cursor: undefined, anchor: undefined, open: undefined }));

const set = useChosen.setState;
const get = useChosen.getState;

/** useTileState says how one item stands, so that only its tile is drawn again when that changes. */
export const useTileState = (id: number) => useChosen((s) => (s.selected.has(id) ? "selected" : s.cursor === id ? "cursor" : ""));

/** showSheet takes over what a sheet shows. What is not in it any more is not selected any more. */
export function showSheet(ids: number[], query: SheetQuery) {
  const present = new Set(ids);
  const { selected, cursor, open } = get();
  const kept = [...selected].filter((id) => present.has(id));
  set({
    ids,
    query,
    selected: kept.length === selected.size ? selected : new Set(kept),
    cursor: cursor !== undefined && present.has(cursor) ? cursor : undefined,
    open: open !== undefined && present.has(open) ? open : undefined,
  });
}

export function selectOnly(id: number) {
  set({ selected: new Set([id]), cursor: id, anchor: id });
}

export function toggle(id: number) {
  const selected = new Set(get().selected);
  if (!selected.delete(id)) selected.add(id);
  set({ selected, cursor: id, anchor: id });
}

/** extendTo selects everything from where the range begins to the item. */
export function extendTo(id: number) {
  const { ids, anchor } = get();
  const from = Math.max(0, ids.indexOf(anchor ?? id));
  const to = ids.indexOf(id);
  set({ selected: new Set(ids.slice(Math.min(from, to), Math.max(from, to) + 1)), cursor: id });
}

export const selectThese = (ids: Iterable<number>) => set({ selected: new Set(ids) });
export const selectEverything = () => set({ selected: new Set(get().ids) });
export const selectNothing = () => set({ selected: new Set(), anchor: undefined });

/** moveCursor goes so many items on; with extend the selection grows, otherwise it moves. In the big view it turns pages. */
export function moveCursor(by: number, extend = false) {
  const { ids, cursor, open } = get();
  if (ids.length === 0) return;
  const at = ids.indexOf(open ?? cursor ?? -1);
  const next = ids[Math.max(0, Math.min(ids.length - 1, at < 0 ? 0 : at + by))]!;
  if (open !== undefined) set({ open: next });
  if (extend && open === undefined) extendTo(next);
  else selectOnly(next);
}

export function openBig(id: number | undefined) {
  set({ open: id });
  if (id !== undefined) selectOnly(id);
}

/** inOrder is the selection in the order of the sheet. */
export function inOrder(): number[] {
  const { ids, selected } = get();
  return selected.size === 1 ? [...selected] : ids.filter((id) => selected.has(id));
}

/** asSelection words the selection for the server; everything in a large sheet goes as its query. */
export function asSelection(): Selection {
  const { ids, selected, query } = get();
  if (selected.size > 2000 && selected.size === ids.length) return { everything: query };
  return { ids: inOrder() };
}
