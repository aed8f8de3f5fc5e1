import type { Field, Rule } from "../filters";

/** What one can build a filter of, as it is offered, and what it begins as. */
export interface Kind {
  label: string;
  field: Field;
  begin: Rule;
}

/** What is offered, of all that the contract has: null is a condition that is not built by hand. */
const begins: Record<Field, readonly [label: string, begin: Omit<Rule, "field">] | null> = {
  stars: ["Stars", { from: 4, to: 5 }],
  stage: ["Stage", {}],
  keeper: ["My keepers", {}],
  state: ["Prepared, sent out", { names: ["prepared"] }],
  tag: ["Tags", {}],
  words: ["Words", { names: [""] }],
  folder: ["Folder", { below: true }],
  album: ["Album", {}],
  taken: ["Taken", { last: 30 }],
  anniversary: ["This day in other years", {}],
  added: ["Added", { last: 30 }],
  colour: ["Colour", { names: ["#17695f"], from: 10 }],
  kind: ["Kind", { names: ["picture"] }],
  format: ["Kind of file", { names: ["raw"] }],
  longer: ["Dimensions", { from: 2000 }],
  bytes: ["File size", { from: 5_000_000 }],
  camera: ["Camera", {}],
  place: ["Place", {}],
  source: ["Where from", { names: ["upload"] }],
  by: ["Brought in by", {}],
  consent: ["Who is shown", { names: ["refused"] }],
  lacks: ["What it lacks", { names: ["alt"] }],
  rights: ["End of rights", { missing: true }],
  aside: ["Set aside", {}],
  width: null,
  height: null,
  outlet: null,
  intake: null,
  item: null,
  monthday: null,
  like: null,
  described: null,
  binned: null,
  behind: null,
};

export const kinds: Kind[] = (Object.entries(begins) as [Field, (typeof begins)[Field]][]).flatMap(([field, offered]) =>
  offered ? [{ label: offered[0], field, begin: { field, ...offered[1] } }] : [],
);

/** The sides of a picture that one kind is about. */
export const sides: Field[] = ["longer", "width", "height"];

/** kindOf is what a condition is offered as; undefined for one that cannot be built here. */
export const kindOf = (rule: Rule) => kinds.find((k) => k.field === rule.field || (k.field === "longer" && sides.includes(rule.field!)));
