import { expect, it } from "vitest";
import { amountOf, apart, wallTime } from "./clock";

it("says by how much a clock was wrong", () => {
  expect(apart("2026-05-17T14:30:20", "2026-05-17 16:30")).toBe(7200);
  expect(apart("2026-05-17T14:30:20.5", "2026-05-17 16:30:00")).toBe(7180);
  expect(apart("2026-05-17T14:30:00", "2025-05-17 14:30")).toBe(-365 * 86400);
  expect(apart(undefined, "2026-05-17 16:30")).toBeUndefined();
  expect(apart("2026-05-17T14:30:20", "16:30")).toBeUndefined();
  expect(apart("2026-05-17T14:30:20", "2026-13-17 16:30")).toBeUndefined();
  expect(amountOf({ days: "1", hours: "", minutes: "5" })).toBe(86700);
  expect(wallTime("2026-12-31T23:59:59", 1)).toBe("2027-01-01T00:00:00");
});
