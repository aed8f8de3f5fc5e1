import { create } from "zustand";

/** Whose settings are carried over to others. */
export const useCopied = create<{ id?: number }>(() => ({}));
