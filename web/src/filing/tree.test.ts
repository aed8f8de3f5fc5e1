import { expect, it } from "vitest";
import type { Folder } from "~/api/queries";
import { keeperOfYears, treeOf } from "./tree";

const folder = (id: number, name: string, parent?: number, parked = false) => ({ id, name, parent, parked }) as Folder;

it("a tree knows what lies in which, also when two claim to lie in each other", () => {
  const tree = treeOf([
    folder(1, "Shoots"),
    folder(2, "2026", 1),
    folder(3, "May", 2),
    folder(4, "Old", undefined, true),
    folder(8, "A", 9),
    folder(9, "B", 8),
  ]);
  expect(tree.path(3)).toBe("Shoots / 2026 / May");
  expect(tree.inside(undefined).map((f) => f.id)).toEqual([1, 4]);
  expect(tree.within(3, 1)).toBe(true);
  expect(tree.within(1, 3)).toBe(false);
  expect(tree.parked.map((f) => f.id)).toEqual([4]);
  expect(tree.path(8).length).toBeGreaterThan(0);
  expect(tree.path(undefined)).toBe("");
});

it("years go where the place keeps its years, else where most of them are", () => {
  const tree = treeOf([
    folder(1, "Shoots"),
    folder(2, "2025", 1),
    folder(3, "2026", 1),
    folder(4, "Spring meet", 3),
    folder(5, "Press"),
    folder(6, "2026", 5),
    folder(7, "Launch", 6),
    folder(8, "Brand"),
  ]);
  expect(keeperOfYears(tree, 4)).toBe(1);
  expect(keeperOfYears(tree, 3)).toBe(1);
  expect(keeperOfYears(tree, 7)).toBe(5);
  expect(keeperOfYears(tree, 8)).toBe(1);
  expect(keeperOfYears(tree, undefined)).toBe(1);
  expect(keeperOfYears(treeOf([folder(8, "Brand")]), undefined)).toBeUndefined();
});
