import { expect, it } from "vitest";
import { completions, foundBy } from "./completion";

const tags = [
  { name: "Fennimoor", uses: 90 },
  { name: "open moor", uses: 9 },
  { name: "moor", uses: 4 },
  { name: "mooring", uses: 7 },
  { name: "Été", uses: 2 },
];
const offered = (typed: string, most = 6) => completions(typed, tags, most).map((t) => t.name);

it("offers what begins so first, then words that do, then the rest", () => {
  expect(offered("moo")).toEqual(["mooring", "moor", "open moor", "Fennimoor"]);
  expect(offered("moor")).toEqual(["mooring", "open moor", "Fennimoor"]);
  expect(offered("MOO", 1)).toEqual(["mooring"]);
});

it("forgives case and accents, and offers nothing for nothing", () => {
  expect(offered("et")).toEqual(["Été"]);
  expect(offered(" ")).toEqual([]);
});

it("forgives one slip of the hand from four letters on", () => {
  for (const typed of ["morin", "mooorin", "moerin", "moroin"]) expect(offered(typed), typed).toEqual(["mooring"]);
  expect(offered("xoo")).toEqual([]);
  expect(offered("mearing")).toEqual([]);
});

it("what is looked for is found by all its words, and but for a slip where nothing says them", () => {
  const folders = ["Spring meet / Hallow Down", "Spring", "Kíte festival", "Archive / 2025"];
  const found = (typed: string) => foundBy(typed, folders, (f) => f);
  expect(found("down spring")).toEqual(["Spring meet / Hallow Down"]);
  expect(found("kite")).toEqual(["Kíte festival"]);
  expect(found("hallwo")).toEqual(["Spring meet / Hallow Down"]);
  expect(found("sprnig")).toEqual(["Spring meet / Hallow Down", "Spring"]);
  expect(found("zeppelin")).toEqual([]);
  expect(found(" ")).toEqual(folders);
});
