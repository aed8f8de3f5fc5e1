import { expect, test } from "vitest";
import { stepBy, stepped } from "./stepping";

test("steps go by one place and end at the ends", () => {
  expect(stepped([1, 2, 3, 4], [2], 1)).toEqual({ order: [1, 3, 2, 4], next: 4 });
  expect(stepped([1, 2, 3, 4], [4], 1)).toEqual({ order: [1, 2, 3, 4], next: undefined });
  expect(stepped([1, 2, 3, 4], [1], -1)).toEqual({ order: [1, 2, 3, 4], next: 2 });
  expect(stepped([1, 2, 3, 4], [1, 3], 1)).toEqual({ order: [2, 1, 3, 4], next: 4 });
});

test("five presses move by five, before the first is answered", async () => {
  const placed: (number | undefined)[] = [];
  const place = (before: number | undefined) => {
    placed.push(before);
    return Promise.resolve({});
  };
  for (let n = 0; n < 5; n++) stepBy(1, 7, [1], [1, 2, 3, 4, 5, 6, 7, 8], place);
  await new Promise((done) => setTimeout(done, 20));
  expect(placed).toEqual([3, 4, 5, 6, 7]);
});
