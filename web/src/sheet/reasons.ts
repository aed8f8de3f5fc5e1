import { create } from "zustand";
import { type Schema } from "~/api/client";
import { whyFound } from "./acts";

export type Reason = Schema["Reason"];

interface Reasons {
  /** The words that are searched for; none while nothing is. */
  words: string | undefined;
  of: Map<number, Reason[]>;
}

/** useReasons is why the items in sight were found. */
export const useReasons = create<Reasons>(() => ({ words: undefined, of: new Map() }));

/** useMeant is what a search with a slip of the hand was taken for; what one wants as it was typed is not corrected again. */
export const useMeant = create<{ typed: string; meant: string; asTyped: Set<string> }>(() => ({
  typed: "",
  meant: "",
  asTyped: new Set(),
}));

const most = 200;
const asked = new Set<number>();

/** searchFor begins anew with other words. */
export function searchFor(words: string | undefined) {
  if (useReasons.getState().words === words) return;
  asked.clear();
  useReasons.setState({ words, of: new Map() });
}

/** explain finds out why some items were found, a bounded number of them at a time. What fails stays unexplained. */
export async function explain(brand: string, ids: number[]) {
  const { words } = useReasons.getState();
  const open = ids.filter((id) => id > 0 && !asked.has(id)).slice(0, most);
  if (!words || open.length === 0) return;
  open.forEach((id) => asked.add(id));
  const found = await whyFound(brand, words.slice(0, 1000), open).catch(() => []);
  useReasons.setState((s) => (s.words === words ? { of: new Map([...s.of, ...found.map((f) => [f.id, f.reasons] as const)]) } : s));
}

const fields: Record<Reason["field"], string> = {
  title: "title",
  fileName: "file name",
  alt: "alt text",
  description: "description",
  place: "place",
  credit: "credit",
  camera: "camera",
  tag: "tags",
  folder: "folder",
  album: "album",
};

/** inWords says which words were found, and where. */
export const inWords = (reasons: Reason[]) => reasons.map((r) => `${r.match} in ${fieldOf(r)}`).join(", ");

/** fieldOf says in which field something was found. */
export const fieldOf = (reason: Reason) => fields[reason.field];
