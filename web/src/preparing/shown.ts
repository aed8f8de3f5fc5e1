import { create } from "zustand";

/** What is seen of a picture now: for whoever measures it. */
export const useShown = create<{ id?: number; address?: string }>(() => ({}));

export const show = (id: number, address: string | undefined) => useShown.setState({ id, address });
