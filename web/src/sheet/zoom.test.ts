import { describe, expect, it } from "vitest";
import { bounded, fitted, panned, transformOf, zoomedAbout } from "./zoom";

describe("zoom", () => {
  it("keeps the point under the pointer where it is", () => {
    const before = { scale: 2, x: 0.5, y: 0.4 };
    const [dx, dy] = [0.3, -0.2];
    const after = zoomedAbout(before, 1.5, dx, dy);
    expect(after.scale).toBe(3);
    expect(after.x + dx / after.scale).toBeCloseTo(before.x + dx / before.scale);
    expect(after.y + dy / after.scale).toBeCloseTo(before.y + dy / before.scale);
  });
  it("never leaves the picture, and fits when it is zoomed out", () => {
    expect(bounded({ scale: 2, x: 0, y: 3 })).toEqual({ scale: 2, x: 0.25, y: 0.75 });
    expect(zoomedAbout({ scale: 1.2, x: 0.58, y: 0.5 }, 0.1)).toEqual(fitted);
    expect(zoomedAbout(fitted, 1000).scale).toBe(16);
    expect(panned(fitted, 0.4, 0)).toEqual(fitted);
  });
  it("moves with the hand", () => {
    expect(panned({ scale: 4, x: 0.5, y: 0.5 }, 0.4, -0.4)).toEqual({ scale: 4, x: 0.4, y: 0.6 });
    expect(transformOf(fitted)).toBe("");
    expect(transformOf({ scale: 2, x: 0.25, y: 0.5 })).toBe("translate(50%, 0%) scale(2)");
  });
});
