import type { Field, Rule } from "../filters";

/** What one can build a filter of, as it is offered, and what it begins as. */
export interface Kind {
  label: string;
  field: Field;
  begin: Rule;
}

export const kinds: Kind[] = [
  { label: "Stars", field: "stars", begin: { field: "stars", from: 4, to: 5 } },
  { label: "Stage", field: "stage", begin: { field: "stage" } },
  { label: "My keepers", field: "keeper", begin: { field: "keeper" } },
  { label: "Prepared, sent out", field: "state", begin: { field: "state", names: ["prepared"] } },
  { label: "Tags", field: "tag", begin: { field: "tag" } },
  { label: "Words", field: "words", begin: { field: "words", names: [""] } },
  { label: "Folder", field: "folder", begin: { field: "folder", below: true } },
  { label: "Album", field: "album", begin: { field: "album" } },
  { label: "Taken", field: "taken", begin: { field: "taken", last: 30 } },
  { label: "This day in other years", field: "anniversary", begin: { field: "anniversary" } },
  { label: "Added", field: "added", begin: { field: "added", last: 30 } },
  { label: "Colour", field: "colour", begin: { field: "colour", names: ["#17695f"], from: 10 } },
  { label: "Kind", field: "kind", begin: { field: "kind", names: ["picture"] } },
  { label: "Dimensions", field: "longer", begin: { field: "longer", from: 2000 } },
  { label: "File size", field: "bytes", begin: { field: "bytes", from: 5_000_000 } },
  { label: "Camera", field: "camera", begin: { field: "camera" } },
  { label: "Place", field: "place", begin: { field: "place" } },
  { label: "Where from", field: "source", begin: { field: "source", names: ["upload"] } },
  { label: "Who is shown", field: "consent", begin: { field: "consent", names: ["refused"] } },
  { label: "What it lacks", field: "lacks", begin: { field: "lacks", names: ["alt"] } },
  { label: "End of rights", field: "rights", begin: { field: "rights", missing: true } },
  { label: "Set aside", field: "aside", begin: { field: "aside" } },
];

/** The sides of a picture that one kind is about. */
export const sides: Field[] = ["longer", "width", "height"];

/** kindOf is what a condition is offered as; undefined for one that cannot be built here. */
export const kindOf = (rule: Rule) => kinds.find((k) => k.field === rule.field || (k.field === "longer" && sides.includes(rule.field!)));
