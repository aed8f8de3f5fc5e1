import { expect, it } from "vitest";
import { questionOf, rightsSaid, shown } from "./fields";

it("an alt text is questioned when it is the file's name or long to listen to", () => {
  expect(questionOf("IMG_0042", "img_0042.JPG")).toContain("name of the file");
  expect(questionOf("a".repeat(250), "b.jpg")).toBeUndefined();
  expect(questionOf("a".repeat(251), "b.jpg")).toContain("251 characters");
  expect(questionOf("", ".jpg")).toBeUndefined();
});

it("a moment is read without its T and its fraction", () => {
  expect(shown("taken", "2026-05-17T14:30:00.5")).toBe("2026-05-17 14:30:00");
  expect(shown("title", "T")).toBe("T");
});

it("says how long rights last, once that matters", () => {
  expect(rightsSaid({ rights: "open", rightsDays: 0 })).toBeUndefined();
  expect(rightsSaid({ rights: "lasting", rightsDays: 31 })).toBeUndefined();
  expect(rightsSaid({ rights: "ending", rightsDays: 30 })).toBe("The rights end in 30 days.");
  expect(rightsSaid({ rights: "ending", rightsDays: 1 })).toBe("The rights end tomorrow.");
  expect(rightsSaid({ rights: "ending", rightsDays: 0 })).toBe("The rights end today.");
  expect(rightsSaid({ rights: "ended", rightsDays: -1 })).toBe("The rights ended yesterday.");
  expect(rightsSaid({ rights: "ended", rightsDays: -24 })).toBe("The rights ended 24 days ago.");
});
