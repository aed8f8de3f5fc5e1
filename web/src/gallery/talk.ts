import { useQuery, useQueryClient } from "@tanstack/react-query";
import { create } from "zustand";
import { messageOf, ProblemError, type Schema } from "~/api/client";
import { listen } from "./acts";

export type Talk = Schema["GuestTalk"];

/** How often a guest's page asks what others did, in milliseconds. */
const again = 10_000;

/** useTalk is what this guest, and others where that is shown, chose and wrote. */
export function useTalk(code: string) {
  return useQuery({ queryKey: ["talk"], queryFn: () => listen(code), refetchInterval: again, retry: false }).data;
}

/** Asked is what waits until a guest has said what they are called. */
interface Asked {
  then?: () => void;
  problem?: string;
}
export const useAsked = create<Asked>(() => ({}));

/** useDoing does something in the name of the guest: at once, or when they have said what they are called. What is against it is told. */
export function useDoing() {
  const cache = useQueryClient();
  return (act: () => Promise<unknown>) => {
    const go = async () => {
      try {
        await act();
        useAsked.setState({ problem: undefined });
      } catch (error) {
        if (error instanceof ProblemError && error.problem.field === "name") useAsked.setState({ then: () => void go() });
        else useAsked.setState({ problem: messageOf(error) });
      }
      await cache.invalidateQueries({ queryKey: ["talk"] });
    };
    if (cache.getQueryData<Talk>(["talk"])?.me === undefined) useAsked.setState({ then: () => void go() });
    else void go();
  };
}

/** marksOf are the marks on one picture in one list. */
export const marksOf = (talk: Talk, list: number, picture: string) => talk.marks.filter((m) => m.list === list && m.picture === picture);

/** mineIn are the codes of the pictures that this guest put into a list. */
export const mineIn = (talk: Talk, list: number) => new Set(talk.marks.filter((m) => m.list === list && m.mine).map((m) => m.picture));
