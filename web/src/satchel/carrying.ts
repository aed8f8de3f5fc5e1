import { create } from "zustand";
import type { Selection } from "~/api/client";

/** useCarrying is what is to be carried on to an album or to pages, until one has said to which. */
export const useCarrying = create<{ toAlbum: number[] | undefined; toPages: { selection: Selection; count: number } | undefined }>(() => ({
  toAlbum: undefined,
  toPages: undefined,
}));
