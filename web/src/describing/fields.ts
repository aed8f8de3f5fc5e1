import type { Asset, Schema } from "~/api/client";

export type FieldName = Schema["WordField"];

export interface FieldShown {
  name: FieldName;
  label: string;
  /** Several different ones, as in "7 titles". */
  many: string;
  kind: "line" | "text" | "day" | "exact";
  hint?: string;
  placeholder?: string;
  /** The heading of the part of the card that begins with it. */
  begins?: string;
}

/** fields are the words of an item in the order of the card; tags come after the alt text. */
export const fields: FieldShown[] = [
  { name: "title", label: "Title", many: "titles", kind: "line" },
  { name: "alt", label: "Alt text", many: "alt texts", kind: "text", hint: "What somebody should know who cannot see it" },
  { name: "description", label: "Description", many: "descriptions", kind: "text" },
  { name: "credit", label: "Credit", many: "credits", kind: "line", begins: "Rights" },
  { name: "copyright", label: "Copyright", many: "copyright notices", kind: "line" },
  { name: "usageTerms", label: "Usage terms", many: "usage terms", kind: "text", hint: "What it may be used for, and where" },
  { name: "rightsUntil", label: "Rights end on", many: "days on which the rights end", kind: "day" },
  { name: "place", label: "Place", many: "places", kind: "line", begins: "Where and when" },
  { name: "coordinates", label: "Coordinates", many: "coordinates", kind: "exact", placeholder: "52.3702, 4.8952" },
  { name: "taken", label: "Date taken", many: "dates", kind: "exact", placeholder: "2026-05-17 14:30" },
  { name: "takenZone", label: "Time zone", many: "time zones", kind: "exact", placeholder: "+02:00" },
];

/** textOf is what a field of an item says. */
export function textOf(asset: Asset, name: FieldName): string {
  if (name === "coordinates")
    return asset.latitude === undefined || asset.longitude === undefined ? "" : `${asset.latitude}, ${asset.longitude}`;
  return shown(name, asset[name] ?? "");
}

/** shown is a text as one reads it: a moment with a space instead of the T of its form. */
export const shown = (name: FieldName, text: string) => (name === "taken" ? text.replace("T", " ").replace(/\.\d+$/, "") : text);

/** questionOf asks about an alt text that will hardly help anybody; it refuses nothing. */
export function questionOf(alt: string, fileName: string): string | undefined {
  const bare = (text: string) =>
    text
      .trim()
      .toLowerCase()
      .replace(/\.\w+$/, "");
  if (alt && bare(alt) === bare(fileName)) return "That is the name of the file. What is to be seen?";
  const n = [...alt].length;
  return n > 250 ? `${n} characters are a lot to listen to. Does it work in 250?` : undefined;
}

/** rightsSaid says how long rights last, once that matters. */
export function rightsSaid({ rights, rightsDays: left }: Pick<Asset, "rights" | "rightsDays">): string | undefined {
  if (rights === "ended") return `The rights ended ${left === -1 ? "yesterday" : `${-left} days ago`}.`;
  if (rights !== "ending") return undefined;
  return `The rights end ${left === 0 ? "today" : left === 1 ? "tomorrow" : `in ${left} days`}.`;
}
