import { create } from "zustand";
import type { Selection, SheetQuery } from "~/api/client";
import type { SheetPile } from "~/api/sheets";

interface Chosen {
  /** The items of the sheet in order; a number below 0 stands for one whose page is not loaded yet. */
  ids: number[];
  query: SheetQuery;
  /** How many items there are with all that lie together. */
  items: number;
  /** What lies together: a folded pile by the item that stands for it, one that is unfolded by each of its items. */
  piles: Map<number, SheetPile>;
  /** Which item stands for one that lies behind it. */
  fronts: Map<number, number>;
  selected: Set<number>;
  /** Everything that the query shows is selected but these, also what is not loaded. */
  wholly: boolean;
  except: Set<number>;
  /** The item that the keyboard is at, and where a range begins. */
  cursor: number | undefined;
  anchor: number | undefined;
  /** The item in the big view, and where it was in the sheet when somebody else took it out. */
  open: number | undefined;
  openAt: number;
  /** Items that are seen side by side in the place of the sheet; the selection is the one that verdicts are about. */
  compared: number[];
  /** What one acted on last, and what takes its place: where that goes out of the sheet, one stays where one was. */
  acted: Set<number>;
  heir: number | undefined;
  /** A click or tap adds to the selection, as on a phone after a long press. */
  mode: boolean;
  /** Items that were cut, to be pasted into another folder. */
  cut: Set<number>;
}

export const useChosen = create<Chosen>(() => ({
  ids: [],
  query: { place: "everything" },
  items: 0,
  piles: new Map(),
  fronts: new Map(),
  selected: new Set(),
  wholly: false,
  except: new Set(),
  cursor: undefined,
  anchor: undefined,
  open: undefined,
  openAt: -1,
  compared: [],
  acted: new Set(),
  heir: undefined,
  mode: false,
  cut: new Set(),
}));

const set = useChosen.setState;
const get = useChosen.getState;

/** folded is what lies behind an item with it, which is selected with it; but not while one looks at single pictures. */
const folded = (s: Chosen, id: number) => {
  const pile = s.open === undefined && s.compared.length === 0 ? s.piles.get(id) : undefined;
  return pile && !pile.unfolded ? pile.ids : [id];
};
const withBehind = (s: Chosen, ids: number[]) => (s.piles.size > 0 ? ids.flatMap((id) => folded(s, id)) : ids);
const size = (s: Chosen, ids: Set<number>) => (s.piles.size > 0 ? withBehind(s, [...ids]).length : ids.size);
const counted = (s: Chosen) => (s.wholly ? s.items - size(s, s.except) : size(s, s.selected));

/** useTileState says how one item stands, so that only its tile is drawn again when that changes. */
export const useTileState = (id: number) => useChosen((s) => (s.selected.has(id) ? "selected" : s.cursor === id ? "cursor" : ""));

/** useCount is how many items are selected. */
export const useCount = () => useChosen(counted);

/** useOnlySelected is the one item that is selected, if it is one. */
export const useOnlySelected = () => useChosen((s) => (!s.wholly && counted(s) === 1 ? [...s.selected][0] : undefined));

/** What a sheet shows, whatever the order. */
const contents = (query: SheetQuery) =>
  JSON.stringify({ ...query, sort: undefined, descending: undefined, piled: undefined, unfolded: undefined });

/** actingOn notes that one does something to items which may take them out of the sheet. The next one takes their place, or
 * the heir, if there is one: of items that are compared the next of those. */
export function actingOn(ids: Iterable<number>, heir?: number) {
  const acted = new Set(ids);
  const compared = comparedHere(get());
  const first = compared.findIndex((id) => acted.has(id));
  const beside = (id: number) => !acted.has(id);
  set({ acted, heir: heir ?? compared.slice(first + 1).find(beside) ?? compared.slice(0, Math.max(0, first)).findLast(beside) });
}

/** showSheet takes over what a sheet shows. What is not in it any more is not selected any more; what is not loaded may still be
 * in it. When one's own act took out what one was at, the next item takes its place; what others do changes neither place nor
 * selection. */
export function showSheet(ids: number[], query: SheetQuery, items = ids.length, together: SheetPile[] = []) {
  const s = get();
  const piles = new Map(together.flatMap((p) => (p.unfolded ? p.ids.map((id) => [id, p] as const) : [[p.front, p] as const])));
  const behind = together.filter((p) => !p.unfolded).flatMap((p) => p.ids.map((id) => [id, p.front] as const));
  const fronts = new Map(behind.filter(([id, front]) => id !== front));
  const present = new Set([...ids, ...fronts.keys()]);
  const same = contents(s.query) === contents(query);
  const unsure = same && ids.some((id) => id < 0);
  const gone = (id: number | undefined): id is number => id !== undefined && !present.has(id) && !unsure;
  const wholly = s.wholly && same;
  // whatever lies behind another one now is selected with it, unless one looks at single pictures
  const inSight = (id: number) => (s.open === undefined && s.compared.length === 0 ? (fronts.get(id) ?? id) : id);
  const kept = wholly
    ? ids.filter((id) => id > 0 && !s.except.has(id))
    : [...new Set([...s.selected].filter((id) => !gone(id)).map(inSight))];
  const next = (id: number) => (s.heir !== undefined && present.has(s.heir) ? s.heir : following(s.ids, id, present));
  const mine = (id: number | undefined) => gone(id) && same && s.acted.has(id);
  let { cursor, open, openAt } = s;
  if (cursor !== undefined) cursor = inSight(cursor);
  if (gone(cursor)) cursor = same ? next(cursor) : undefined;
  const [only] = s.selected;
  const follow = s.selected.size === 1 && kept.length === 0 && mine(only) ? cursor : undefined;
  if (mine(open)) open = next(open!);
  else if (gone(open)) {
    openAt = Math.max(openAt, s.ids.indexOf(open));
    if (!same) open = undefined;
  }
  if (follow !== undefined) kept.push(follow);
  set({
    ids,
    query,
    items,
    piles,
    fronts,
    wholly,
    selected:
      !wholly && follow === undefined && kept.length === s.selected.size && kept.every((id) => s.selected.has(id))
        ? s.selected
        : new Set(kept),
    cursor,
    anchor: follow ?? s.anchor,
    open,
    openAt: open !== undefined && !present.has(open) ? openAt : -1,
    compared: same ? s.compared : [],
    mode: s.mode && kept.length > 0,
  });
}

/** following is the first item after one, or else the last one before it, that is still there. */
function following(ids: number[], id: number, present: Set<number>) {
  const at = ids.indexOf(id);
  const there = (i: number) => i > 0 && present.has(i);
  return ids.slice(at + 1).find(there) ?? ids.slice(0, Math.max(0, at)).findLast(there);
}

const choose = (selected: Set<number>, more: Partial<Chosen> = {}) => set({ selected, wholly: false, except: new Set(), ...more });

export function selectOnly(id: number) {
  choose(new Set([id]), { cursor: id, anchor: id });
}

export function toggle(id: number) {
  const { selected, wholly, except, mode } = get();
  const next = new Set(selected);
  const off = next.delete(id);
  if (!off) next.add(id);
  const left = new Set(except);
  if (wholly && off) left.add(id);
  else left.delete(id);
  set({ selected: next, except: left, cursor: id, anchor: id, mode: mode && next.size > 0 });
}

/** extendTo selects everything from where the range begins to the item. */
export function extendTo(id: number) {
  const { ids, anchor } = get();
  const from = Math.max(0, ids.indexOf(anchor ?? id));
  const to = ids.indexOf(id);
  choose(new Set(ids.slice(Math.min(from, to), Math.max(from, to) + 1).filter((i) => i > 0)), { cursor: id });
}

export const selectThese = (ids: Iterable<number>) => choose(new Set([...ids].filter((id) => id > 0)));
export const selectEverything = () => choose(new Set(get().ids.filter((id) => id > 0)), { wholly: true });
export const selectNothing = () => choose(new Set(), { anchor: undefined, mode: false });

/** invert selects what is not selected, and the other way round. */
export function invert() {
  const { ids, selected, wholly, except } = get();
  if (wholly) selectThese(except);
  else if (selected.size === 0) selectEverything();
  else
    choose(
      new Set(ids.filter((id) => id > 0 && !selected.has(id))),
      ids.some((id) => id < 0) ? { wholly: true, except: new Set(selected) } : {},
    );
}

/** takeForDrag is what a drag of an item takes along: the selection, or the item alone if it is not in it. */
export function takeForDrag(id: number) {
  if (!get().selected.has(id)) selectOnly(id);
  return inOrder();
}

/** selectMode makes clicks and taps add to the selection. */
export const selectMode = (mode: boolean) => set({ mode });

/** cut marks the selection to be pasted elsewhere. */
export const cut = () => set({ cut: new Set(inOrder()) });
export const cutNothing = () => set({ cut: new Set() });

/** moveCursor goes so many items on; with extend the selection grows, otherwise it moves. In the big view it turns pages. */
export function moveCursor(by: number, extend = false) {
  const { ids, cursor, open, openAt, fronts } = get();
  if (ids.length === 0) return;
  const compared = comparedHere(get());
  if (compared.length > 0) {
    selectOnly(compared[Math.max(0, Math.min(compared.length - 1, compared.indexOf(cursor ?? -1) + by))]!);
    return;
  }
  const now = open ?? cursor ?? -1;
  let at = ids.indexOf(fronts.get(now) ?? now);
  if (at < 0 && openAt >= 0) at = by > 0 ? openAt - 1 : openAt; // its item has gone: what followed it has its place
  const next = ids[Math.max(0, Math.min(ids.length - 1, at < 0 ? 0 : at + by))]!;
  if (next < 0) return;
  if (open !== undefined) set({ open: next, openAt: -1 });
  if (extend && open === undefined) extendTo(next);
  else selectOnly(next);
}

export function openBig(id: number | undefined) {
  set({ open: id, openAt: -1, compared: [] });
  if (id !== undefined) selectOnly(id);
}

/** mostCompared is how many items are seen side by side at most. */
export const mostCompared = 6;

/** compare sees some items side by side, and is at one of them. */
export function compare(ids: number[], at = ids[0]) {
  set({ compared: ids.slice(0, mostCompared), open: undefined, openAt: -1 });
  if (at !== undefined) selectOnly(at);
}

/** comparedHere are those that are compared and in the sheet: what one takes out of it has gone, and comes back with undo. */
export const comparedHere = ({ compared, ids, fronts }: Pick<Chosen, "compared" | "ids" | "fronts">) =>
  compared.filter((id) => ids.includes(id) || fronts.has(id));

/** compareNoMore goes back to the sheet, with what was compared selected. */
export function compareNoMore() {
  const { cursor, fronts } = get();
  const here = [...new Set(comparedHere(get()).map((id) => fronts.get(id) ?? id))];
  set({ compared: [] });
  selectThese(here);
  if (here.length > 0) set({ cursor: cursor !== undefined && here.includes(cursor) ? cursor : here[0] });
}

/** inOrder is the selection in the order of the sheet, as far as it is loaded, with what lies folded behind it. */
export function inOrder(): number[] {
  const { ids, selected } = get();
  return withBehind(get(), selected.size === 1 ? [...selected] : ids.filter((id) => selected.has(id)));
}

/** asSelection words the selection for the server: everything that a large sheet shows goes as its query. */
export function asSelection(): Selection {
  const s = get();
  if (s.wholly && counted(s) > 2000) return { everything: s.query, except: withBehind(s, [...s.except]) };
  return { ids: inOrder() };
}
