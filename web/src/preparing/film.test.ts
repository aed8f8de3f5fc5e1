import { describe, expect, it } from "vitest";
import { moment, momentIn, posterOf, spanOf, trimmed, withFilm } from "./film";

describe("a clip", () => {
  it("is trimmed as far as the other end allows", () => {
    const r = trimmed({}, 10, "from", 3);
    expect(r).toEqual({ film: { from: 3 } });
    expect(trimmed(r, 10, "to", 1)).toEqual({ film: { from: 3, to: 3.2 } });
    expect(trimmed(r, 10, "to", 99)).toEqual({ film: { from: 3 } });
    expect(trimmed(r, 10, "from", -5)).toEqual({});
    expect(spanOf({ film: { from: 30 } }, 10)).toEqual({ from: 9.8, to: 10 });
  });
  it("leaves out what does nothing", () => {
    expect(withFilm({ turn: 90, film: { mute: true } }, { mute: false })).toEqual({ turn: 90 });
  });
  it("has a poster that remains", () => {
    expect(posterOf({ film: { from: 4, poster: 2 } }, 10)).toBe(6);
    expect(posterOf({ film: { poster: 2 } }, 10)).toBe(2);
  });
  it("says and reads moments", () => {
    expect(moment(67.5)).toBe("1:07.50");
    expect(momentIn("1:07,5")).toBe(67.5);
    expect(momentIn(" 7.25 ")).toBe(7.25);
    for (const wrong of ["", "-1", "1:2:3", "seven"]) expect(momentIn(wrong)).toBeUndefined();
  });
});
