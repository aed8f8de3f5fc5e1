import { create } from "zustand";
import { selectOnly, useChosen } from "./selection";

/** How many piles are unfolded at a time. */
const most = 500;

/** useUnfolded is of which items the pile is shown one by one. */
export const useUnfolded = create<{ ids: number[] }>(() => ({ ids: [] }));

/** unfold shows what lies together with an item one by one, or folds it again. */
export function unfold(id: number) {
  const pile = useChosen.getState().piles.get(id);
  if (!pile) return;
  useUnfolded.setState((s) => ({
    ids: pile.unfolded ? s.ids.filter((other) => !pile.ids.includes(other)) : [...s.ids, pile.front].slice(-most),
  }));
  if (pile.unfolded) selectOnly(pile.front);
}

/** inPile says in words how an item lies with others, as it is read on its tile. */
export function inPile(id: number): string | undefined {
  const pile = useChosen.getState().piles.get(id);
  if (!pile) return undefined;
  return pile.unfolded ? `${pile.ids.indexOf(id) + 1} of ${pile.ids.length} together` : `${pile.ids.length} together`;
}
