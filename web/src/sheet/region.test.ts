import { describe, expect, test } from "vitest";
import { between, byKey, moved, onPicture, pulled, smallest, type Region } from "./region";

const face: Region = { x: 0.4, y: 0.4, width: 0.2, height: 0.2 };
const inside = (r: Region) => r.x >= 0 && r.y >= 0 && r.x + r.width <= 1 + 1e-9 && r.y + r.height <= 1 + 1e-9;

describe("outlines", () => {
  test("stay on the picture and never vanish", () => {
    for (const r of [
      onPicture({ x: -3, y: 4, width: 9, height: 0 }),
      moved(face, 7, -7),
      between(0.9, 0.9, 2, 3),
      between(0.5, 0.5, 0.5, 0.5),
      pulled(face, [1, 1], -5, 5),
    ]) {
      expect(inside(r)).toBe(true);
      expect(r.width).toBeGreaterThanOrEqual(smallest);
      expect(r.height).toBeGreaterThanOrEqual(smallest);
    }
  });
  test("are the same whichever way they are drawn", () => {
    const there = between(0.1, 0.2, 0.5, 0.7);
    expect(between(0.5, 0.7, 0.1, 0.2)).toEqual(there);
    expect(between(0.5, 0.2, 0.1, 0.7)).toEqual(there);
  });
  test("keep the corner opposite to the one that is pulled", () => {
    const r = pulled(face, [-1, -1], -0.1, 0.05);
    expect(r.x).toBeCloseTo(0.3);
    expect(r.y).toBeCloseTo(0.45);
    expect(r.x + r.width).toBeCloseTo(0.6);
    expect(r.y + r.height).toBeCloseTo(0.6);
  });
  test("move and grow by keys", () => {
    expect(byKey(face, "ArrowLeft", false)!.x).toBeCloseTo(0.39);
    expect(byKey(face, "ArrowDown", true)!.height).toBeCloseTo(0.21);
    expect(byKey(face, "a", false)).toBeUndefined();
  });
});
