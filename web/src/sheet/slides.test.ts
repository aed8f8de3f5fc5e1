import { expect, it } from "vitest";
import { shuffled } from "./slides";

it("shuffles every slide once, the present one first", () => {
  let seed = 7;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  for (const n of [1, 2, 3, 40]) {
    for (const first of [0, n - 1]) {
      const order = shuffled(n, first, random);
      expect(order[0]).toBe(first);
      expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i));
    }
  }
  expect(shuffled(40, 5, random)).not.toEqual(shuffled(40, 5, random));
});
