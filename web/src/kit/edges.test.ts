import { expect, test } from "vitest";
import { speedAt } from "./edges";

test("only the last 32 pixels scroll", () => {
  for (const y of [33, 200, 450, 567]) expect(speedAt(y, 600)).toBe(0);
  expect(speedAt(16, 600)).toBe(-450);
  expect(speedAt(600, 600)).toBe(900);
  expect(speedAt(590, 600)).toBeGreaterThan(0);
  for (const y of [-1, 601]) expect(speedAt(y, 600)).toBe(0);
  expect(speedAt(5, 100)).toBe(0);
});
