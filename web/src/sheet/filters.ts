import type { Schema, SheetQuery } from "~/api/client";

export type Rule = Schema["Rule"];

/** What can be compared, as the contract has it. */
export type Field = Schema["RuleField"];
/** The facets that one filters by; each is a group of comparisons in the filter of the place. */
const facetNames = [
  "kind",
  "format",
  "stars",
  "tag",
  "stage",
  "camera",
  "place",
  "source",
  "by",
  "taken",
  "lacks",
  "rights",
  "consent",
  "state",
] as const satisfies readonly Field[];
export type Facet = (typeof facetNames)[number];
/** How the values of a facet go together: any of them, all of them, or none. */
export type How = "any" | "all" | "none";

interface Chosen {
  how: How;
  values: (string | number)[];
}
export type Filters = Partial<Record<Facet, Chosen>>;

const one = (facet: Facet, value: string | number): Rule => {
  if (facet === "tag" || facet === "stage" || facet === "by")
    return value === 0 ? { field: facet, missing: true } : { field: facet, ids: [Number(value)] };
  if (facet === "stars") return { field: "stars", from: Number(value), to: Number(value) };
  if (facet === "taken") return value === "" ? { field: "taken", missing: true } : { field: "taken", ...period(String(value)) };
  if (facet === "rights") return { field: "rights", ...rightsDays(String(value)) };
  return { field: facet, names: [String(value)] };
};

/** How many days before their end rights are said to end soon. */
export const soon = 30;

/** As many days as a span that moves has at most. */
export const everDays = 36_600;

/** rightsDays are the days on which rights end that have ended, that end soon, or that never do. */
function rightsDays(value: string): Pick<Rule, "last" | "next" | "missing"> {
  if (value === "ended") return { last: everDays };
  return value === "soon" ? { next: soon } : { missing: true };
}

/** period is the days of a year, a month (2026-05) or a day. */
export function period(value: string) {
  if (/^\d{4}$/.test(value)) return { since: `${value}-01-01`, until: `${value}-12-31` };
  const month = /^(\d{4})-(\d{2})$/.exec(value);
  if (!month) return { since: value, until: value };
  const last = new Date(Date.UTC(Number(month[1]), Number(month[2]), 0)).getUTCDate();
  return { since: `${value}-01`, until: `${value}-${String(last).padStart(2, "0")}` };
}

/** conditionsOf are the conditions of a filter that must all hold. */
const conditionsOf = (filter: Rule | undefined): Rule[] =>
  filter === undefined ? [] : filter.match === "all" ? (filter.rules ?? []) : [filter];

const joined = (rules: Rule[]): Rule | undefined => (rules.length > 0 ? { match: "all", rules } : undefined);

/** withFacets puts what was chosen of the facets into a filter, beside its other conditions. */
export function withFacets(filter: Rule | undefined, filters: Filters): Rule | undefined {
  const groups = (Object.entries(filters) as [Facet, Chosen][])
    .filter(([, c]) => c.values.length > 0)
    .map(([facet, c]): Rule => ({ match: c.how, rules: c.values.map((v) => one(facet, v)) }));
  return joined([...conditionsOf(filter).filter((r) => !facetOf(r)), ...groups]);
}

/** facetOf is the facet of which a group of conditions holds values; undefined for any other group, as one can build it. */
const facetOf = (rule: Rule) => {
  const facet = rule.match ? facetNames.find((f) => f === rule.rules?.[0]?.field) : undefined;
  return facet && rule.rules!.every((r) => r.field === facet && same(r, one(facet, valueOf(facet, r)))) ? facet : undefined;
};

/** same says whether two conditions ask for the same, in whichever order their parts are written. */
const same = (a: Rule, b: Rule) => {
  const parts = (r: Rule) => JSON.stringify(Object.entries(r).sort(([x], [y]) => x.localeCompare(y)));
  return parts(a) === parts(b);
};

/** facetsOf reads back what withFacets put into a filter. */
export function facetsOf(filter: SheetQuery["filter"]): Filters {
  const out: Filters = {};
  for (const group of conditionsOf(filter)) {
    const facet = facetOf(group);
    if (facet && group.match) out[facet] = { how: group.match, values: (group.rules ?? []).map((r) => valueOf(facet, r)) };
  }
  return out;
}

/** What a filter holds once at most, each a chip of its own. */
export const singles: Field[] = ["words", "stars", "tag", "outlet", "keeper", "aside"];

/** sameAsFacet is the facet of which a condition is one value. */
function sameAsFacet(rule: Rule): Facet | undefined {
  const facet = facetNames.find((f) => f === rule.field);
  return facet && same(rule, one(facet, valueOf(facet, rule))) ? facet : undefined;
}

/** apart keeps a condition from being read as a value of its facet, which is chosen otherwise already. */
const apart = (rule: Rule): Rule => ({ match: "all", rules: [rule.match ? rule : { match: "any", rules: [rule] }] });

/**
 * withRule puts one more condition into a filter, as the chips can read it: of a facet beside what is chosen of it already (tags as all
 * of them, since who adds one goes on narrowing; of kinds, cameras and the like an item has only one), anything else by itself.
 */
export function withRule(filter: Rule | undefined, rule: Rule): Rule | undefined {
  if (rule.field && rule.field !== "tag" && singles.includes(rule.field) && !sameAsFacet(rule)) {
    const { field, ...condition } = rule;
    return withCondition(filter, field, condition);
  }
  const how = rule.match === "none" && rule.rules?.length === 1 ? "none" : "any";
  const single = how === "none" ? rule.rules![0]! : rule;
  const facet = sameAsFacet(single);
  if (!facet) return joined([...conditionsOf(filter), rule]);
  const value = valueOf(facet, single);
  const filters = facetsOf(filter);
  const chosen = filters[facet];
  if (!chosen) return withFacets(filter, { ...filters, [facet]: { how, values: [value] } });
  const narrowing = facet === "tag" && how === "any" && (chosen.how === "all" || (chosen.how === "any" && chosen.values.length === 1));
  if (!narrowing && (facet === "tag" || chosen.how !== how)) return joined([...conditionsOf(filter), apart(rule)]);
  return withFacets(filter, {
    ...filters,
    [facet]: { how: narrowing ? "all" : how, values: [...chosen.values.filter((v) => v !== value), value] },
  });
}

/** conditionOf is the single comparison of a field in a filter. */
export const conditionOf = (filter: Rule | undefined, field: Field) => conditionsOf(filter).find((r) => !r.match && r.field === field);

/** withCondition puts a single comparison of a field into a filter in place of the one there, or takes that out. */
export function withCondition(
  filter: Rule | undefined,
  field: Field,
  condition?: Omit<Rule, "field" | "match" | "rules">,
): Rule | undefined {
  const others = conditionsOf(filter).filter((r) => r.match !== undefined || r.field !== field);
  return joined(condition ? [...others, { field, ...condition }] : others);
}

/** only is a filter of one condition. */
export const only = (field: Field, condition: Omit<Rule, "field" | "match" | "rules"> = {}) => withCondition(undefined, field, condition);

/** wordsOf are the words that a filter searches for, as they were typed. */
export const wordsOf = (filter: Rule | undefined) => conditionOf(filter, "words")?.names?.join(" ");

/** withWords is a filter that searches for other words, or for none. */
export const withWords = (filter: Rule | undefined, words: string) =>
  withCondition(filter, "words", words.trim() ? { names: [words.trim()] } : undefined);

/** wordsSaid says what is searched for: words, or one phrase that was typed in quotation marks. */
export function wordsSaid(words: string) {
  const phrase = /^["“„«](.+?)["”“»]?$/.exec(words)?.[1];
  return phrase && !/["“”„«»]/.test(phrase) ? `“${phrase}” word for word` : `“${words}”`;
}

/** starsSaid says how many stars a condition asks for. */
export function starsSaid({ from = 0, to = 5 }: Rule) {
  if (from < 0) return "set aside";
  if (to >= 5) return `${from} ★ or more`;
  return from === to ? `${from} ★` : from === 0 ? `${to} ★ or fewer` : `${from} to ${to} ★`;
}

/** Unread are the conditions of a filter that are neither facets nor known by themselves. */
export const unread = (filter: Rule | undefined, known: Field[]) =>
  conditionsOf(filter).filter((r) => !facetOf(r) && (r.match !== undefined || !known.includes(r.field!)));

function valueOf(facet: Facet, rule: Rule): string | number {
  if (facet === "tag" || facet === "stage" || facet === "by") return rule.ids?.[0] ?? 0;
  if (facet === "stars") return rule.from ?? 0;
  if (facet === "rights") return rule.missing ? "open" : rule.next ? "soon" : "ended";
  if (facet !== "taken") return rule.names?.[0] ?? "";
  const { since = "", until = "" } = rule;
  if (since.endsWith("-01-01") && until === `${since.slice(0, 4)}-12-31`) return since.slice(0, 4);
  const month = since.slice(0, 7);
  if (since !== until && month && period(month).until === until) return month;
  return since;
}

/** without takes one value out of a filter. */
export function without(filters: Filters, facet: Facet, value: string | number): Filters {
  const chosen = filters[facet];
  return chosen ? { ...filters, [facet]: { ...chosen, values: chosen.values.filter((v) => v !== value) } } : filters;
}

/** toggled puts a value into a filter, or takes it out. */
export function toggled(filters: Filters, facet: Facet, value: string | number): Filters {
  const chosen = filters[facet] ?? { how: "any" as How, values: [] };
  if (chosen.values.includes(value)) return without(filters, facet, value);
  return { ...filters, [facet]: { ...chosen, values: [...chosen.values, value] } };
}

export const rightsNames: Record<string, string> = {
  ended: "ended",
  soon: `end within ${soon} days`,
  open: "no end",
};

/** Where items came from, as one reads it. */
export const sourceNames: Record<string, string> = {
  upload: "people’s own devices",
  server: "the server",
  watched: "a watched folder",
  outlet: "an outlet",
  guest: "guests of galleries",
  drive: "the drive",
};

/** Kinds of files, as one reads them. */
export const formatNames: Record<string, string> = {
  jpeg: "JPEG",
  png: "PNG",
  webp: "WebP",
  heic: "HEIC or AVIF",
  tiff: "TIFF",
  gif: "GIF",
  raw: "raw",
  svg: "SVG",
  pdf: "PDF",
  mp4: "MP4",
  mov: "MOV",
  webm: "WebM",
  other: "others",
};

/** whoBrought lists those who brought something in: oneself first. */
export const whoBrought = (by: Schema["FacetId"][], me: number | undefined) =>
  by
    .map((p) => ({ value: p.id, name: p.id === me ? "me" : p.name || "somebody who has left", items: p.items }))
    .sort((a, b) => Number(b.value === me) - Number(a.value === me));

/** Who is shown, by whether they agree to be. */
export const shownNames: Record<Schema["Consent"], string> = {
  refused: "somebody who does not agree",
  ended: "somebody who agreed once",
  open: "somebody nobody has asked",
  given: "somebody who agrees",
};

/** What an item can lack, as one reads it. */
export const needNames: Record<Schema["Need"], string> = {
  title: "title",
  alt: "alt text",
  description: "description",
  tags: "tags",
  credit: "credit",
  copyright: "copyright",
  usageTerms: "usage terms",
  place: "place",
  taken: "date taken",
};

/** What items can be by what was done with them. */
export const stateNames: Record<Schema["ItemState"], string> = {
  prepared: "prepared",
  sent: "sent out",
  older: "changed since it was sent out",
};

/** What a condition is about, as one reads it. */
const about: Record<Field, string> = {
  folder: "the folder",
  album: "the album",
  intake: "the intake",
  item: "some items",
  words: "words",
  bytes: "the size of the file",
  width: "the width",
  height: "the height",
  longer: "dimensions",
  added: "when it was added",
  monthday: "the day of the year",
  anniversary: "this day of other years",
  described: "what is described",
  binned: "the bin",
  behind: "what is behind the front of a stack",
  stars: "stars",
  tag: "tags",
  kind: "kind",
  stage: "stage",
  camera: "camera",
  place: "place",
  source: "where it came from",
  taken: "when it was taken",
  lacks: "what it lacks",
  rights: "rights",
  consent: "who is shown",
  keeper: "keepers",
  state: "what was prepared or sent out",
  aside: "what was set aside",
  outlet: "outlet",
  colour: "the colour",
  like: "what looks alike",
  by: "who brought it in",
  format: "kind of file",
};

/** fits says whether a filter asks for something that items fit better or worse: words, a colour, or what looks alike. */
export const fits = (rule: Rule | undefined): boolean =>
  !!rule && (["words", "colour", "like"].includes(rule.field ?? "") || (rule.match === "all" && !!rule.rules?.some(fits)));

/** nameOfRule says what a condition of a filter is about. */
export const nameOfRule = (rule: Rule | undefined): string =>
  (rule?.field && about[rule.field]) ?? (rule?.rules?.length ? nameOfRule(rule.rules[0]) : "this condition");

/** withoutRules takes some conditions out of a filter. */
export const withoutRules = (filter: Rule | undefined, some: Rule[]) => joined(conditionsOf(filter).filter((r) => !some.includes(r)));

/** withoutRule takes the condition at a place out of a filter. */
export const withoutRule = (filter: Rule | undefined, at: number) => joined(conditionsOf(filter).filter((_, i) => i !== at));

/** periodName says a year, month or day in words. */
export function periodName(value: string) {
  if (value === "") return "undated";
  if (value.length === 4) return value;
  const day = value.length > 7;
  return new Date(`${day ? value : `${value}-01`}T00:00:00Z`).toLocaleDateString("en-GB", {
    timeZone: "UTC",
    day: day ? "numeric" : undefined,
    month: "long",
    year: "numeric",
  });
}

/** asksForAside says whether a filter shows what was set aside, which is not shown otherwise: it speaks of it, or looks for words. */
export const asksForAside = (rule: Rule | undefined): boolean =>
  rule !== undefined &&
  (rule.field === "aside" ||
    rule.field === "words" ||
    (rule.field === "stars" && (rule.from ?? 0) < 0) ||
    (rule.rules ?? []).some((r) => asksForAside(r)));
