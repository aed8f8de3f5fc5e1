import { describe, expect, test } from "vitest";
import type { Rule } from "../filters";
import { added, asGroup, changed, flat, isPersonal, tidy } from "./tree";

const keeper: Rule = { field: "keeper" };
const stars: Rule = { field: "stars", from: 4, to: 5 };
const tree: Rule = { match: "any", rules: [keeper, { match: "all", rules: [stars] }] };

describe("a tree of rules", () => {
  test("is changed, added to and taken from at the end of a way, and the one before stays", () => {
    const before = JSON.stringify(tree);
    expect(changed(tree, [1, 0], keeper).rules![1]!.rules).toEqual([keeper]);
    expect(changed(tree, [0], undefined).rules).toEqual([{ match: "all", rules: [stars] }]);
    expect(changed(tree, [], { match: "none", rules: [] })).toEqual({ match: "none", rules: [] });
    expect(added(tree, [1], keeper).rules![1]!.rules).toEqual([stars, keeper]);
    expect(added(tree, [], stars).rules).toHaveLength(3);
    expect(JSON.stringify(tree)).toBe(before);
  });
  test("lists each before what is in it", () => {
    expect(flat(tree).map((f) => f.key)).toEqual(["", "0", "1", "1,0"]);
  });
  test("leaves out what says nothing yet", () => {
    const open: Rule = { match: "all", rules: [{ field: "tag" }, { match: "any", rules: [{ field: "words", names: [" "] }] }, keeper] };
    expect(tidy(open)).toEqual({ match: "all", rules: [keeper] });
    expect(tidy({ match: "all", rules: [{ field: "tag" }] })).toBeUndefined();
    expect(tidy({ field: "stars", from: 0 })).toEqual({ field: "stars", from: 0 });
  });
  test("becomes a group when it is one condition or nothing", () => {
    expect(asGroup(undefined)).toEqual({ match: "all", rules: [] });
    expect(asGroup(keeper)).toEqual({ match: "all", rules: [keeper] });
  });
});

describe("a rule with one's own keepers", () => {
  test("is personal wherever they are in it", () => {
    expect(isPersonal(tree)).toBe(true);
    expect(isPersonal({ match: "all", rules: [stars] })).toBe(false);
    expect(isPersonal(undefined)).toBe(false);
  });
});
