import { create } from "zustand";
import type { Schema } from "~/api/client";
import type { Dropped } from "~/sheet/dropped";

export type Planned = Schema["PlannedReplacement"];

/** What is to be replaced: one item with a file that is yet to come, one by another, or all that have the names of a selection. */
export type Wanted =
  | { with: "a file"; of: number; folder: number | undefined; dropped?: Dropped }
  | { with: "another"; pair: [number, number] }
  | { with: "namesakes" };

/** useReplacing is what the dialog asks about. */
export const useReplacing = create<{ wanted?: Wanted }>(() => ({}));

export const askToReplace = (wanted: Wanted) => useReplacing.setState({ wanted });
export const endReplacing = () => useReplacing.setState({ wanted: undefined });

/** shownIn says in words what shows an item: the first few names of each sort, and whether people outside see it. */
export function shownIn(showing: Planned["showing"]): { text: string; outside: boolean }[] {
  const say = (list: Planned["showing"], one: string, more: string, outside: boolean) => {
    if (list.length === 0) return [];
    const named = list.slice(0, 4).map((s) => `“${s.name}”`);
    const rest = list.length > named.length ? ` and ${(list.length - named.length).toLocaleString("en-GB")} more` : "";
    return [{ text: `${list.length.toLocaleString("en-GB")} ${list.length === 1 ? one : more}: ${named.join(", ")}${rest}`, outside }];
  };
  const galleries = showing.filter((s) => s.what === "gallery");
  return [
    ...say(
      galleries.filter((s) => s.open),
      "open gallery",
      "open galleries",
      true,
    ),
    ...say(
      galleries.filter((s) => !s.open),
      "closed gallery",
      "closed galleries",
      false,
    ),
    ...say(
      showing.filter((s) => s.what === "embed" && s.open),
      "embed on websites",
      "embeds on websites",
      true,
    ),
    ...say(
      showing.filter((s) => s.what === "embed" && !s.open),
      "embed that is off",
      "embeds that are off",
      false,
    ),
    ...(showing.some((s) => s.what === "address") ? [{ text: "pages that use its public address", outside: true }] : []),
    ...say(
      showing.filter((s) => s.what === "album"),
      "album",
      "albums",
      false,
    ),
  ];
}

/** outsideIn says in words where people outside will see what replaces some items at once, or nothing. */
export function outsideIn(pairs: Planned[]): string {
  const open = pairs.flatMap((p) => p.showing.map((s) => ({ ...s, of: p.of.id }))).filter((s) => s.open);
  const many = (what: string, one: string, more: string) => {
    const n = new Set(open.filter((s) => s.what === what).map((s) => s.name || String(s.of))).size;
    return n === 0 ? [] : [`${n.toLocaleString("en-GB")} ${n === 1 ? one : more}`];
  };
  const places = [
    ...many("gallery", "open gallery", "open galleries"),
    ...many("embed", "embed", "embeds"),
    ...many("address", "public address", "public addresses"),
  ];
  return places.length < 2 ? places.join("") : `${places.slice(0, -1).join(", ")} and ${places.at(-1)}`;
}
