import { describe, expect, it } from "vitest";
import { facetsOf, only, starsSaid, unread, singles, withFacets, withRule, withWords, wordsOf, wordsSaid } from "./filters";

const tag = (id: number) => ({ field: "tag" as const, ids: [id] });

describe("a condition that was offered", () => {
  it("is a value of its facet, and tags go on narrowing", () => {
    const kites = withRule(undefined, tag(4));
    expect(facetsOf(kites)).toEqual({ tag: { how: "any", values: [4] } });
    expect(facetsOf(withRule(kites, tag(5)))).toEqual({ tag: { how: "all", values: [4, 5] } });
    expect(facetsOf(withRule(withRule(kites, tag(5)), tag(6)))).toEqual({ tag: { how: "all", values: [4, 5, 6] } });
    expect(withRule(kites, tag(4))).toEqual(withFacets(undefined, { tag: { how: "all", values: [4] } }));
    const picture = withRule(withRule(kites, { field: "kind", names: ["picture"] }), { field: "kind", names: ["clip"] });
    expect(facetsOf(picture)).toEqual({ tag: { how: "any", values: [4] }, kind: { how: "any", values: ["picture", "clip"] } });
    expect(facetsOf(withRule(undefined, { field: "taken", since: "2026-05-01", until: "2026-05-31" }))).toEqual({
      taken: { how: "any", values: ["2026-05"] },
    });
    expect(facetsOf(withRule(undefined, { match: "none", rules: [tag(4)] }))).toEqual({ tag: { how: "none", values: [4] } });
  });
  it("never changes what was chosen otherwise", () => {
    const either = withFacets(undefined, { tag: { how: "any", values: [4, 5] } });
    const both = withRule(either, tag(6));
    expect(facetsOf(both)).toEqual(facetsOf(either));
    expect(unread(withRule(both, tag(7)), singles)).toHaveLength(2);
    const without = withFacets(undefined, { tag: { how: "none", values: [4] } });
    expect(facetsOf(withRule(without, tag(6)))).toEqual(facetsOf(without));
    expect(unread(withRule(either, { match: "none", rules: [tag(6)] }), singles)).toHaveLength(1);
    expect(unread(withRule(undefined, { field: "width", from: 2000 }), singles)).toEqual([{ field: "width", from: 2000 }]);
    expect(unread(withRule(undefined, { field: "taken", last: 30 }), singles)).toEqual([{ field: "taken", last: 30 }]);
  });
  it("takes the place of another one where a filter holds one only", () => {
    const four = withRule(withWords(undefined, "harbour "), { field: "stars", from: 4, to: 5 });
    expect(withRule(four, { field: "stars", from: 0, to: 2 })?.rules).toEqual([
      { field: "words", names: ["harbour"] },
      { field: "stars", from: 0, to: 2 },
    ]);
    expect(withRule(only("keeper"), { field: "keeper" })).toEqual(only("keeper"));
    expect(wordsOf(withWords(four, "  "))).toBeUndefined();
  });
  it("says its stars", () => {
    const said = [{ from: 4 }, { from: 4, to: 5 }, { from: 3, to: 3 }, { from: 0, to: 2 }, { from: 2, to: 4 }, { from: -1, to: -1 }, {}];
    expect(said.map(starsSaid)).toEqual(["4 ★ or more", "4 ★ or more", "3 ★", "2 ★ or fewer", "2 to 4 ★", "set aside", "0 ★ or more"]);
  });
});

describe("what is searched for", () => {
  it("is said as words, or as a phrase", () => {
    expect(wordsSaid("red kite")).toBe("“red kite”");
    expect(wordsSaid('"red kite"')).toBe("“red kite” word for word");
    expect(wordsSaid("“red ki")).toBe("“red ki” word for word");
    expect(wordsSaid('"red" "kite"')).toBe('“"red" "kite"”');
  });
});
