import { create } from "zustand";

/** useCarrying is what of the satchel is to be carried on to an album or to pages, until one has said to which. */
export const useCarrying = create<{ toAlbum: number[] | undefined; toPages: number[] | undefined }>(() => ({
  toAlbum: undefined,
  toPages: undefined,
}));
