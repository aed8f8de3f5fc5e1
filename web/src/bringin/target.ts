import { create } from "zustand";
import type { Target } from "~/sheet/dropped";

interface Chosen {
  /** The folder that was chosen on the board, 0 for Unfiled; undefined follows what is open. */
  folder?: number;
  policy: NonNullable<Target["policy"]>;
  /** Where files go that are dropped on the board or pasted. */
  target: Target;
  set: (change: Partial<Omit<Chosen, "set">>) => void;
}

/** useTarget is where files go and what is done with duplicates, as the board shows it before they go. */
export const useTarget = create<Chosen>((set) => ({ policy: "skip", target: {}, set }));
