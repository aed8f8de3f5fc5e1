import { beforeEach, describe, expect, it } from "vitest";
import { conditionOf, facetsOf, only, period, toggled, unread, withCondition, withFacets, without, wordsOf } from "./filters";
import { gap, inside, layOut, layOutNames, rowOf, strip, topOf, upOrDown, visible } from "~/kit/layout";
import { readPlace } from "./place";
import { anchored } from "./anchor";
import {
  actingOn,
  asSelection,
  compare,
  compareNoMore,
  comparedHere,
  extendTo,
  inOrder,
  invert,
  moveCursor,
  openBig,
  selectEverything,
  selectNothing,
  selectOnly,
  showSheet,
  toggle,
  useChosen,
} from "./selection";

describe("a filter", () => {
  const red = withFacets(undefined, { tag: { how: "all", values: [4, 5] }, taken: { how: "any", values: ["2026-02"] } });

  it("keeps facets and other conditions apart, and together", () => {
    const both = withCondition(withCondition(red, "words", { names: ["harbour walk"] }), "aside", { missing: true });
    expect(facetsOf(both)).toEqual({ tag: { how: "all", values: [4, 5] }, taken: { how: "any", values: ["2026-02"] } });
    expect(wordsOf(both)).toBe("harbour walk");
    expect(conditionOf(both, "aside")).toEqual({ field: "aside", missing: true });
    expect(wordsOf(withFacets(both, {}))).toBe("harbour walk");
    expect(facetsOf(withCondition(both, "words"))).toEqual(facetsOf(both));
    expect(withCondition(only("keeper"), "keeper")).toBeUndefined();
  });

  it("reads only what it wrote, and says what else there is", () => {
    const foreign = { match: "any" as const, rules: [{ field: "bytes" as const, from: 5 }] };
    expect(facetsOf(foreign)).toEqual({});
    expect(unread(foreign, ["words"])).toHaveLength(1);
    expect(unread(red, [])).toHaveLength(0);
  });

  it("takes values in and out", () => {
    const one = toggled({}, "stars", 4);
    expect(facetsOf(withFacets(undefined, toggled(one, "stars", 5))).stars?.values).toEqual([4, 5]);
    expect(withFacets(undefined, toggled(one, "stars", 4))).toBeUndefined();
    expect(without({}, "kind", "clip")).toEqual({});
  });

  it("knows how long months are", () => {
    expect(period("2024-02").until).toBe("2024-02-29");
    expect(period("2025")).toEqual({ since: "2025-01-01", until: "2025-12-31" });
  });
});

describe("a filter that was built", () => {
  it("is not taken for values of a facet, and loses nothing beside them", () => {
    const built = { match: "none" as const, rules: [{ field: "stars" as const, from: 3, to: 5 }, { field: "keeper" as const }] };
    const filter = withFacets({ match: "all", rules: [built] }, { stars: { how: "any", values: [4] } });
    expect(facetsOf(filter)).toEqual({ stars: { how: "any", values: [4] } });
    expect(unread(filter, [])).toEqual([built]);
    for (const facets of [
      { taken: { how: "any" as const, values: ["2026", "2026-05", ""] } },
      { rights: { how: "none" as const, values: ["ended", "soon", "open"] } },
      { tag: { how: "all" as const, values: [0, 7] } },
      { consent: { how: "any" as const, values: ["refused"] } },
    ])
      expect(facetsOf(withFacets(undefined, facets))).toEqual(facets);
  });
});

describe("the address of a place", () => {
  it("takes only what can stand there", () => {
    expect(readPlace({ place: "folder" })).toEqual({ place: "everything" });
    expect(readPlace({ place: "attic", item: "7", below: "yes" })).toEqual({ place: "everything" });
    expect(readPlace({ place: "folder", id: 3, below: true, sort: "hand" })).toEqual({ place: "folder", id: 3, below: true });
    expect(readPlace({ place: "album", id: 3, sort: "hand", filter: only("keeper") })).toEqual({
      place: "album",
      id: 3,
      sort: "hand",
      descending: false,
      filter: only("keeper"),
    });
  });
});

describe("the layout", () => {
  const ratios = Array.from({ length: 500 }, (_, i) => 500 + ((i * 137) % 1500));
  const laid = layOut(ratios, 900, 180);

  it("places every item once, in its row, inside of the width", () => {
    expect(laid.first[laid.rows]).toBe(ratios.length);
    for (let i = 0; i < ratios.length; i++) {
      expect(laid.left[i]! + laid.width[i]!).toBeLessThanOrEqual(900);
      const row = rowOf(laid, i);
      expect(laid.first[row]! <= i && i < laid.first[row + 1]!).toBe(true);
      if (i > laid.first[row]!) expect(laid.left[i]).toBe(laid.left[i - 1]! + laid.width[i - 1]! + gap);
    }
  });

  it("fills each row to its right edge, at nearly the chosen height, and leaves the last one as it is", () => {
    for (const [widths, height] of [
      [900, 180],
      [1240, 150],
      [360, 105],
    ] as const) {
      const rows = layOut(ratios, widths, height);
      for (let row = 0; row < rows.rows; row++) {
        expect(rows.heights[row]! / height).toBeGreaterThan(0.84);
        expect(rows.heights[row]! / height).toBeLessThan(1.16);
        const end = rows.first[row + 1]! - 1;
        const right = rows.left[end]! + rows.width[end]!;
        if (row < rows.rows - 1 && Math.abs(rows.heights[row]! / height - 1) < 0.145) expect(right).toBe(widths);
        expect(rows.tops[row + 1]! - rows.tops[row]!).toBe(rows.heights[row]! + strip + gap);
        for (let i = rows.first[row]!; i <= end; i++) {
          const natural = Math.max(0.45, ratios[i]! / 1000) * rows.heights[row]!;
          expect(Math.abs(rows.width[i]! - natural) / natural).toBeLessThan(0.03);
        }
      }
      expect(rows.heights[rows.rows - 1]!).toBeLessThanOrEqual(height);
    }
    expect(layOut([1500, 1500], 900, 150)).toMatchObject({
      rows: 1,
      left: new Float32Array([0, 237]),
      width: new Float32Array([225, 225]),
    });
    expect(layOut([], 900, 150).rows).toBe(0);
    expect(layOut([9000], 900, 150).width[0]).toBe(900);
  });

  it("fills the width of a phone in every row but the last", () => {
    for (const width of [328, 343, 358]) {
      const rows = layOut(ratios, width, 150);
      for (let row = 0; row < rows.rows - 1; row++) {
        const end = rows.first[row + 1]! - 1;
        if (rows.first[row] === end && ratios[end]! < 900) continue; // one alone that is upright would be taller than the screen
        expect(rows.left[end]! + rows.width[end]!).toBe(width);
      }
    }
  });

  it("finds what a window and a rectangle touch", () => {
    const [from, to] = visible(laid, 2000, 600, 0);
    const row = rowOf(laid, from);
    expect(laid.tops[row]! <= 2000 && 2000 < laid.tops[row + 1]!).toBe(true);
    expect(inside(laid, { left: 0, top: 0, right: 900, bottom: laid.height })).toHaveLength(ratios.length);
    expect(inside(laid, { left: 0, top: laid.heights[0]! + 1, right: 900, bottom: laid.tops[1]! - 1 })).toEqual([]);
    expect(to).toBeGreaterThan(from);
  });

  it("goes up and down to the nearest, and stays at the edges", () => {
    expect(upOrDown(laid, 0, -1)).toBe(0);
    const below = upOrDown(laid, 0, 1);
    expect(rowOf(laid, below)).toBe(1);
    expect(layOutNames(7, 800).rows).toBe(3);
  });
});

describe("the selection", () => {
  beforeEach(() => {
    selectNothing();
    openBig(undefined);
    showSheet([1, 2, 3, 4, 5], { place: "everything" });
  });

  it("is words for the server in the order of the sheet", () => {
    toggle(4);
    toggle(2);
    expect(asSelection()).toEqual({ ids: [2, 4] });
    toggle(4);
    expect(inOrder()).toEqual([2]);
  });

  it("extends from where it began, and turns round", () => {
    selectOnly(2);
    extendTo(4);
    expect(inOrder()).toEqual([2, 3, 4]);
    invert();
    expect(inOrder()).toEqual([1, 5]);
  });

  it("goes with the keyboard, and in the big view turns pages", () => {
    selectOnly(5);
    moveCursor(1);
    expect(inOrder()).toEqual([5]);
    openBig(2);
    moveCursor(1);
    expect(useChosen.getState().open).toBe(3);
  });

  it("forgets what the sheet shows no more", () => {
    selectEverything();
    showSheet([2, 3], { place: "unfiled" });
    expect(inOrder()).toEqual([2, 3]);
  });

  it("of a large sheet is its query, with exceptions", () => {
    const ids = Array.from({ length: 5000 }, (_, i) => (i < 3000 ? i + 1 : -i - 1));
    showSheet(ids, { place: "unfiled" });
    selectEverything();
    toggle(7);
    expect(asSelection()).toEqual({ everything: { place: "unfiled" }, except: [7] });
  });
});

describe("staying where one was", () => {
  const place = { place: "everything" as const };
  const ten = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];
  const but = (...gone: number[]) => ten.filter((id) => !gone.includes(id));
  beforeEach(() => {
    openBig(undefined);
    actingOn([]);
    showSheet(ten, place);
    selectNothing();
  });

  it("goes on to the next item after one's own verdict, and to the last one at the end", () => {
    selectOnly(4);
    actingOn([4]);
    showSheet(but(4), place);
    expect(inOrder()).toEqual([5]);
    selectOnly(10);
    actingOn([10]);
    showSheet(but(4, 10), place);
    expect(inOrder()).toEqual([9]);
  });

  it("turns the page in the big view", () => {
    openBig(4);
    actingOn([4]);
    showSheet(but(4), place);
    expect(useChosen.getState().open).toBe(5);
    expect(inOrder()).toEqual([5]);
  });

  it("gives the place of a front to the new one", () => {
    openBig(4);
    actingOn([4], 9);
    showSheet(but(4), place);
    expect(useChosen.getState().open).toBe(9);
  });

  it("selects nothing in place of many, but keeps the place", () => {
    selectOnly(4);
    extendTo(6);
    actingOn([4, 5, 6]);
    showSheet(but(4, 5, 6), place);
    expect(inOrder()).toEqual([]);
    moveCursor(1);
    expect(inOrder()).toEqual([8]);
  });

  it("does not follow what somebody else does", () => {
    openBig(4);
    showSheet(but(4), place);
    expect(useChosen.getState().open).toBe(4);
    expect(inOrder()).toEqual([]);
    moveCursor(1);
    expect(useChosen.getState().open).toBe(5);
    openBig(6);
    showSheet(but(4, 6), place);
    moveCursor(-1);
    expect(useChosen.getState().open).toBe(5);
  });

  it("keeps what may still be there, and closes in another place", () => {
    openBig(7);
    showSheet([1, 2, 3, -4, -5, -6, -7, -8, -9], place);
    expect(useChosen.getState().open).toBe(7);
    expect(inOrder()).toEqual([7]);
    showSheet(ten, place);
    expect(useChosen.getState().open).toBe(7);
    showSheet([1, 2], { place: "unfiled" });
    expect(useChosen.getState().open).toBeUndefined();
    expect(inOrder()).toEqual([]);
  });

  it("keeps what one looks at in its place", () => {
    const ids = Array.from({ length: 400 }, (_, i) => i + 1);
    const of = (list: number[]) => ({ ids: list, layout: layOut(new Array(list.length).fill(1500), 1000, 150) });
    const before = { ...of(ids), of: "" };
    const first = before.layout.first[10]!;
    const top = before.layout.tops[10]!;
    expect(anchored(before, of(ids), top + 7)).toBe(top + 7);
    const more = [901, 902, 903, 904, 905, 906, 907, 908, ...ids];
    expect(anchored(before, of(more), top + 7)).toBe(topOf(of(more).layout, first + 8) + 7);
    expect(anchored(before, of(ids.filter((id) => id !== ids[first])), top)).toBe(top);
  });
});

describe("what lies together", () => {
  const place = { place: "everything" as const };
  const burst = { ids: [2, 3, 4], front: 3, unfolded: false };
  beforeEach(() => {
    useChosen.setState({ compared: [], open: undefined, selected: new Set(), wholly: false, except: new Set(), cursor: undefined });
    showSheet([1, 3, 5], place, 5, [burst]);
  });
  it("is selected, counted and acted on as one", () => {
    selectOnly(3);
    expect(inOrder()).toEqual([2, 3, 4]);
    expect(asSelection()).toEqual({ ids: [2, 3, 4] });
    selectEverything();
    expect(inOrder()).toEqual([1, 2, 3, 4, 5]);
    toggle(3);
    expect(inOrder()).toEqual([1, 5]);
  });
  it("is judged one by one where one looks at single pictures", () => {
    openBig(3);
    expect(inOrder()).toEqual([3]);
    openBig(undefined);
    compare([2, 3, 4]);
    expect(inOrder()).toEqual([2]);
    showSheet([1, 3, 5], place, 5, [burst]);
    expect(comparedHere(useChosen.getState())).toEqual([2, 3, 4]);
    expect(useChosen.getState().cursor).toBe(2);
    compareNoMore();
    expect([...useChosen.getState().selected]).toEqual([3]);
  });
  it("is unfolded in place, and what is folded away again is selected with its front", () => {
    showSheet([1, 2, 3, 4, 5], place, 5, [{ ...burst, unfolded: true }]);
    selectOnly(4);
    expect(inOrder()).toEqual([4]);
    showSheet([1, 3, 5], place, 5, [burst]);
    expect([...useChosen.getState().selected]).toEqual([3]);
    expect(useChosen.getState().cursor).toBe(3);
    moveCursor(1);
    expect(useChosen.getState().cursor).toBe(5);
  });
});
