import { expect, test } from "vitest";
import type { Schema } from "~/api/client";
import { albumTree } from "./tree";

const album = (id: number, name: string, parent?: number): Schema["Album"] => ({
  id,
  name,
  parent,
  code: `c${id}`,
  description: "",
  items: 0,
  parked: false,
  chosen: false,
});

test("albums lie in each other, and what is in an unknown one is at the top", () => {
  const tree = albumTree([album(1, "Spring"), album(2, "Walk", 1), album(3, "Details", 2), album(4, "Lost", 99)]);
  expect(tree.in(undefined).map((a) => a.name)).toEqual(["Spring", "Lost"]);
  expect(tree.path(3)).toBe("Spring / Walk / Details");
  expect(tree.within(3, 1)).toBe(true);
  expect(tree.within(1, 3)).toBe(false);
  expect(tree.within(1, 1)).toBe(true);
});

test("a ring does not hang", () => {
  const tree = albumTree([album(1, "A", 2), album(2, "B", 1)]);
  expect(tree.path(1)).toBe("B / A");
});
