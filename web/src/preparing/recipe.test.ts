import { describe, expect, it } from "vitest";
import type { Control } from "./acts";
import { changedIn, levelled, neutral, same, say, valueOf, without, withValue } from "./recipe";

const exposure: Control = {
  name: "exposure",
  words: "Exposure",
  group: "brightness",
  unit: "EV",
  from: -4,
  to: 4,
  step: 0.05,
  neutral: 0,
  with: "",
  film: true,
};
const radius: Control = { ...exposure, name: "radius", words: "Radius", group: "texture", from: 0.5, to: 3, neutral: 1, with: "sharpen" };

describe("recipes", () => {
  it("leave out what does nothing", () => {
    expect(withValue({ warmth: 3 }, exposure, 0.5)).toEqual({ warmth: 3, exposure: 0.5 });
    expect(withValue({ warmth: 3, exposure: 0.5 }, exposure, 0)).toEqual({ warmth: 3 });
    expect(valueOf(radius, {})).toBe(1);
    expect(neutral({})).toBe(true);
    expect(neutral({ turn: 90 })).toBe(false);
  });
  it("are the same in whatever order they are written", () => {
    expect(same({ turn: 90, crop: { x: 0, y: 1, width: 2, height: 3 } }, { crop: { height: 3, y: 1, x: 0, width: 2 }, turn: 90 })).toBe(
      true,
    );
    expect(same({ turn: 90, flip: undefined }, { turn: 90 })).toBe(true);
    expect(same({ turn: 90 }, { turn: 180 })).toBe(false);
  });
  it("are put back part by part", () => {
    const r = { exposure: 1, curve: [[0, 0.1]], crop: { x: 0, y: 0, width: 1, height: 0.5 }, turn: 90 };
    expect(without(r, "brightness", [exposure])).toEqual({ crop: r.crop, turn: 90 });
    expect(without(r, "framing", [exposure])).toEqual({ exposure: 1, curve: [[0, 0.1]] });
    expect(changedIn("framing", r, [exposure])).toBe(2);
    expect(changedIn("brightness", r, [exposure])).toBe(2);
  });
  it("say what they are at", () => {
    expect(say(exposure, 0.7)).toBe("Exposure +0.7 EV");
    expect(say(exposure, -0.35)).toBe("Exposure −0.35 EV");
  });
});

describe("a line along the horizon", () => {
  it("makes it level, from whichever end it is drawn", () => {
    expect(levelled(0, { x: 0, y: 0 }, { x: 100, y: 10 })).toBeCloseTo(-5.71, 1);
    expect(levelled(0, { x: 100, y: 10 }, { x: 0, y: 0 })).toBeCloseTo(-5.71, 1);
    expect(levelled(-2, { x: 0, y: 10 }, { x: 100, y: 0 })).toBeCloseTo(3.71, 1);
  });
  it("makes a tower upright", () => {
    expect(levelled(0, { x: 0, y: 100 }, { x: 5, y: 0 })).toBeCloseTo(-2.86, 1);
  });
});
