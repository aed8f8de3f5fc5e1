import { describe, expect, it } from "vitest";
import { resized, shifted } from "./cropping";
import { count, markLost, path } from "./histogram";

const box = { x: 0.2, y: 0.2, width: 0.4, height: 0.4 };

describe("a crop", () => {
  it("stays on the picture when it is moved", () => {
    expect(shifted(box, { x: 5, y: -5 })).toEqual({ x: 0.6, y: 0, width: 0.4, height: 0.4 });
  });
  it("follows the corner that is held, and not further than the edges", () => {
    const b = resized(box, { x: 1, y: 1 }, { x: 0.1, y: 9 }, undefined);
    expect([b.x, b.y]).toEqual([0.2, 0.2]);
    expect(b.width).toBeCloseTo(0.5);
    expect(b.y + b.height).toBeCloseTo(1);
    expect(resized(box, { x: 0, y: 0.5 }, { x: 9, y: 9 }, undefined).width).toBeGreaterThan(0);
  });
  it("keeps its proportion from whichever handle", () => {
    for (const x of [0, 0.5, 1])
      for (const y of [0, 0.5, 1]) {
        if (x === 0.5 && y === 0.5) continue;
        for (const by of [-0.3, -0.05, 0.07, 0.5]) {
          const b = resized(box, { x, y }, { x: by, y: by }, 1.5);
          expect(b.width / b.height).toBeCloseTo(1.5);
          expect(Math.min(b.x, b.y)).toBeGreaterThanOrEqual(-1e-9);
          expect(Math.max(b.x + b.width, b.y + b.height)).toBeLessThanOrEqual(1 + 1e-9);
        }
      }
  });
});

describe("a histogram", () => {
  const pixels = new Uint8ClampedArray([0, 0, 0, 255, 255, 255, 255, 255, 10, 200, 255, 255, 128, 128, 128, 255]);
  it("counts what is lost at either end", () => {
    const h = count(pixels);
    expect(h.dark).toBe(0.25);
    expect(h.bright).toBe(0.5); // one of its colours is full
    expect(h.red.reduce((a, b) => a + b)).toBe(4);
    expect(path(h.red, 40)).toMatch(/^M0 40 L0 .* Z$/);
  });
  it("marks it on a copy", () => {
    const copy = pixels.slice();
    markLost(copy, [1, 2, 3], [4, 5, 6]);
    expect([...copy.slice(0, 8)]).toEqual([1, 2, 3, 255, 4, 5, 6, 255]);
    expect([...copy.slice(12)]).toEqual([128, 128, 128, 255]);
  });
});
