import type { Rule } from "../filters";

/** The way to a rule in a tree of them: which of the rules of each group. */
export type Way = number[];

export const isGroup = (rule: Rule) => rule.match !== undefined;

/** asGroup is a rule as a group that one can add to. */
export const asGroup = (rule: Rule | undefined): Rule =>
  rule && isGroup(rule) ? { ...rule, rules: rule.rules ?? [] } : { match: "all", rules: rule ? [rule] : [] };

/** changed is a tree in which the rule at the end of a way is another one, or gone. */
export function changed(tree: Rule, way: Way, to: Rule | undefined): Rule {
  const [at, ...rest] = way;
  if (at === undefined) return to ?? { match: "all", rules: [] };
  const rules = [...(tree.rules ?? [])];
  if (rest.length === 0 && to === undefined) rules.splice(at, 1);
  else rules[at] = rest.length === 0 ? to! : changed(rules[at]!, rest, to);
  return { ...tree, rules };
}

/** added is a tree with one rule more at the end of the group that a way leads to. */
export function added(tree: Rule, way: Way, rule: Rule): Rule {
  const [at, ...rest] = way;
  if (at === undefined) return { ...tree, rules: [...(tree.rules ?? []), rule] };
  const rules = [...(tree.rules ?? [])];
  rules[at] = added(rules[at]!, rest, rule);
  return { ...tree, rules };
}

/** flat lists a tree and everything in it, each before what is in it, with the way to it as a text. */
export const flat = (tree: Rule, way: Way = []): { key: string; rule: Rule }[] => [
  { key: way.join(), rule: tree },
  ...(tree.rules ?? []).flatMap((r, i) => flat(r, [...way, i])),
];

/** tidy is a tree without groups that hold nothing, and without conditions of which nothing was chosen yet. */
export function tidy(rule: Rule): Rule | undefined {
  if (!isGroup(rule)) return says(rule) ? rule : undefined;
  const rules = (rule.rules ?? []).map(tidy).filter((r) => r !== undefined);
  return rules.length > 0 ? { ...rule, rules } : undefined;
}

/** Conditions that say something with no more than their name. */
const alone = new Set(["keeper", "aside", "described", "anniversary"]);

const says = (r: Rule) =>
  alone.has(r.field ?? "") ||
  !!r.missing ||
  !!r.ids?.length ||
  !!r.names?.some((n) => n.trim()) ||
  r.from !== undefined ||
  r.to !== undefined ||
  !!r.since ||
  !!r.until ||
  !!r.last ||
  !!r.next;

/** isPersonal says whether a rule asks for what is each person's own, so that two people see different items by it. */
export const isPersonal = (rule: Rule | undefined): boolean => rule?.field === "keeper" || (rule?.rules ?? []).some(isPersonal);
