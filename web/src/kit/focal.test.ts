import { expect, it } from "vitest";
import { focalPosition } from "./focal";

it("the focal point comes to the middle, or as near as the edges allow", () => {
  const wide = { width: 1200, height: 400 };
  expect(focalPosition(wide, { width: 600, height: 900 }, { x: 0.5, y: 0.5 })).toBe("50% 50%");
  expect(focalPosition(wide, { width: 600, height: 900 }, { x: 0.5, y: 0.2 })).toBe("50% 11%");
  expect(focalPosition(wide, { width: 600, height: 900 }, { x: 0.5, y: 0.05 })).toBe("50% 0%");
  expect(focalPosition(wide, { width: 600, height: 900 }, { x: 0.1, y: 1 })).toBe("50% 100%");
  expect(focalPosition({ width: 300, height: 600 }, { width: 900, height: 600 }, { x: 0.8, y: 0.1 })).toBe("95% 50%");
  expect(focalPosition(wide, wide, { x: 0, y: 0 })).toBe("50% 50%");
});
