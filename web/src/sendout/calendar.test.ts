import { expect, test } from "vitest";
import { addDays, byDay, daysOf, monday, otherMonth, type CalendarPost } from "./calendar";

test("a month is whole weeks from Monday", () => {
  const days = daysOf("month", "2026-11-27");
  expect(days[0]).toBe("2026-10-26");
  expect(days.at(-1)).toBe("2026-12-06");
  expect(days.length % 7).toBe(0);
  expect(daysOf("month", "2027-02-10")).toHaveLength(28); // begins on a Monday and has four weeks
  expect(daysOf("week", "2026-11-29")).toEqual([
    "2026-11-23",
    "2026-11-24",
    "2026-11-25",
    "2026-11-26",
    "2026-11-27",
    "2026-11-28",
    "2026-11-29",
  ]);
});

test("days and months go on over the end of one", () => {
  expect(addDays("2026-12-31", 1)).toBe("2027-01-01");
  expect(addDays("2028-03-01", -1)).toBe("2028-02-29");
  expect(monday("2026-11-23")).toBe("2026-11-23");
  expect(otherMonth("2027-01-31", 1)).toBe("2027-02-28");
  expect(otherMonth("2027-01-31", -1)).toBe("2026-12-31");
});

test("posts lie on the day that their page's clock shows", () => {
  const post = (id: number, wall: string) => ({ id, wall, due: "2026-11-28T23:30:00Z" }) as CalendarPost;
  const days = byDay([post(1, "2026-11-29T00:30"), post(2, "2026-11-28T18:30"), post(3, "2026-11-29T00:10")]);
  expect(days.get("2026-11-29")?.map((p) => p.id)).toEqual([3, 1]);
  expect(days.get("2026-11-28")?.map((p) => p.id)).toEqual([2]);
});
