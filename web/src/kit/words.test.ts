import { expect, it } from "vitest";
import { bytes, duration, items, plural } from "./words";

it("counts in words", () => {
  expect([items(1), items(0), items(40_000)]).toEqual(["1 item", "0 items", "40,000 items"]);
  expect([plural(1, "folder"), plural(2, "folder")]).toEqual(["1 folder", "2 folders"]);
});

it("says sizes in units that people read", () => {
  expect([bytes(999), bytes(1000), bytes(20_449), bytes(999_600), bytes(4_100_000_000)]).toEqual([
    "999 bytes",
    "1.0 kB",
    "20 kB",
    "1.0 MB",
    "4.1 GB",
  ]);
  expect(duration(65.4)).toBe("1:05");
});
