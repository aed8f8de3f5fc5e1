import type { Schema, SheetQuery } from "~/api/client";

export type Rule = Schema["Rule"];

/** The facets that one filters by; each is one comparison in the filter of the place. */
export type Facet = "kind" | "stars" | "tag" | "stage" | "camera" | "source" | "taken";
/** How the values of a facet go together: any of them, all of them, or none. */
export type How = "any" | "all" | "none";

export interface Chosen {
  how: How;
  values: (string | number)[];
}
export type Filters = Partial<Record<Facet, Chosen>>;

const one = (facet: Facet, value: string | number): Rule => {
  if (facet === "tag" || facet === "stage") return value === 0 ? { field: facet, missing: true } : { field: facet, ids: [Number(value)] };
  if (facet === "stars") return { field: "stars", from: Number(value), to: Number(value) };
  if (facet === "taken") return value === "" ? { field: "taken", missing: true } : { field: "taken", ...period(String(value)) };
  return { field: facet, names: [String(value)] };
};

/** period is the days of a year, a month (2026-05) or a day. */
export function period(value: string) {
  if (/^\d{4}$/.test(value)) return { since: `${value}-01-01`, until: `${value}-12-31` };
  const month = /^(\d{4})-(\d{2})$/.exec(value);
  if (!month) return { since: value, until: value };
  const last = new Date(Date.UTC(Number(month[1]), Number(month[2]), 0)).getUTCDate();
  return { since: `${value}-01`, until: `${value}-${String(last).padStart(2, "0")}` };
}

/** toRule words what was chosen as the filter of a place: every facet must hold. */
export function toRule(filters: Filters): Rule | undefined {
  const rules = (Object.entries(filters) as [Facet, Chosen][]).filter(([, c]) => c.values.length > 0).map(([facet, c]): Rule => ({ match: c.how, rules: c.values.map((v) => one(facet, v)) }));
  return rules.length > 0 ? { match: "all", rules } : undefined;
}

/** fromRule reads back what toRule worded. */
export function fromRule(rule: SheetQuery["filter"]): Filters {
  const out: Filters = {};
  if (rule?.match !== "all") return out;
  for (const group of rule.rules ?? []) {
    const field = group.rules?.[0]?.field as Facet | undefined;
    if (field && group.match) out[field] = { how: group.match, values: (group.rules ?? []).map((r) => valueOf(field, r)) };
  }
  return out;
}

function valueOf(facet: Facet, rule: Rule): string | number {
  if (facet === "tag" || facet === "stage") return rule.ids?.[0] ?? 0;
  if (facet === "stars") return rule.from ?? 0;
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

/** periodName says a year, month or day in words. */
export function periodName(value: string) {
  if (value === "") return "undated";
  if (value.length === 4) return value;
  const day = value.length > 7;
  return new Date(`${day ? value : `${value}-01`}T00:00:00Z`).toLocaleDateString("en-GB", { timeZone: "UTC", day: day ? "numeric" : undefined, month: "long", year: "numeric" });
}
