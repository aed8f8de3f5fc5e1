import { create } from "zustand";
import { inOrder, useChosen } from "./selection";

/** useSlides is the slideshow that runs: of which items, and where it begins. */
export const useSlides = create<{ ids: number[] | undefined; from: number }>(() => ({ ids: undefined, from: 0 }));

/** startSlides shows the selection one after the other or, where that is one item or none, the sheet from there on. */
export function startSlides() {
  const { ids, selected, cursor, open } = useChosen.getState();
  const several = selected.size > 1 ? inOrder() : ids;
  if (several.length === 0) return;
  useSlides.setState({ ids: several, from: selected.size > 1 ? 0 : Math.max(0, several.indexOf(open ?? cursor ?? -1)) });
}

export const endSlides = () => useSlides.setState({ ids: undefined });

/** shuffled puts numbers from 0 to n into an order by chance, the first one first (Durstenfeld, 1964). */
export function shuffled(n: number, first: number, random: () => number = Math.random) {
  const out = Array.from({ length: n }, (_, i) => i);
  [out[0], out[first]] = [out[first]!, out[0]!];
  for (let i = n - 1; i > 1; i--) {
    const j = 1 + Math.floor(random() * i);
    [out[i], out[j]] = [out[j]!, out[i]!];
  }
  return out;
}
