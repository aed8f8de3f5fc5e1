import { expect, it } from "vitest";
import { gridFor } from "./grid";

it("shows pictures as large as they can be", () => {
  expect(gridFor(2, 900, 600, 1.5)).toBe(2); // beside each other where that is as large
  expect(gridFor(2, 1200, 600, 1.5)).toBe(2);
  expect(gridFor(2, 900, 600, 0.7)).toBe(2);
  expect(gridFor(3, 900, 600, 1.5)).toBe(2);
  expect(gridFor(3, 900, 600, 0.5)).toBe(3);
  expect(gridFor(6, 1200, 600, 1.5)).toBe(3);
  expect(gridFor(4, 390, 700, 1.5)).toBe(1);
  expect(gridFor(1, 10, 10, 1)).toBe(1);
});
