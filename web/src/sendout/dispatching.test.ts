import { expect, test } from "vitest";
import { audience, emptyDraft, mended, moved, stepped, wanted, type Page } from "./dispatching";

const page = (reach: Page["reach"], people: number, name = "Page") => ({ reach, people, name }) as Page;

test("who sees it is said in one sentence", () => {
  expect(audience([])).toBe("");
  expect(audience([page("everyone", 5)])).toBe("It is public.");
  expect(audience([page("members", 410)])).toBe("It has 410 members.");
  expect(audience([page("nobody", 0)])).toBe("Nobody sees it but those who work with it.");
  expect(audience([page("everyone", 5), page("everyone", 6)])).toBe("All are public.");
  expect(audience([page("everyone", 5), page("everyone", 6), page("members", 410)])).toBe("2 are public, one has 410 members.");
  expect(audience([page("members", 1, "Club"), page("members", 2, "Guild"), page("nobody", 0)])).toBe(
    "Club has 1 member, Guild has 2 members, one is seen by nobody but those who work with it.",
  );
});

test("a mend takes the place of the one before it", () => {
  expect(mended([{ item: 3, mend: "crop" }], [{ item: 3, mend: "pad" }])).toEqual([{ item: 3, mend: "pad" }]);
  expect(mended([{ item: 0, mend: "shorten" }], [{ item: 0, mend: "split" }])).toHaveLength(2);
  expect(mended([{ item: 0, mend: "split" }], [{ item: 0, mend: "split" }])).toHaveLength(1);
});

test("a draft says only what differs", () => {
  const draft = {
    ...emptyDraft,
    caption: "Up",
    at: "2026-12-01T09:00",
    pages: { 7: { album: " ", mends: [] }, 8: { caption: "", album: "Sea", mends: [] } },
  };
  expect(wanted({ ids: [1] }, draft)).toEqual({
    selection: { ids: [1] },
    caption: "Up",
    pages: [
      { page: 7, mends: [] },
      { page: 8, mends: [], caption: "", album: "Sea" },
    ],
  });
  expect(wanted({ ids: [1] }, { ...draft, when: "at" }).at).toBe("2026-12-01T09:00");
  expect(wanted({ ids: [1] }, { ...draft, when: "slot" }).slot).toBe(true);
});

test("the order changes by dragging and by steps, and nothing is lost", () => {
  expect(moved([1, 2, 3, 4], [4], 2)).toEqual([1, 4, 2, 3]);
  expect(moved([1, 2, 3, 4], [1], undefined)).toEqual([2, 3, 4, 1]);
  expect(moved([1, 2, 3], [2], 2)).toEqual([1, 2, 3]);
  expect(moved([1, 2, 3], [9], 1)).toEqual([1, 2, 3]); // dragged from the sheet behind
  expect(stepped([1, 2, 3], 2, 1)).toEqual([1, 3, 2]);
  expect(stepped([1, 2, 3], 1, -1)).toEqual([1, 2, 3]);
  expect(wanted({ ids: [1, 2] }, { ...emptyDraft, order: [2, 1] }).selection).toEqual({ ids: [2, 1] });
});
