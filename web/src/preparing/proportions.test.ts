import { describe, expect, it } from "vitest";
import { listed } from "~/kit/words";
import { boundsOf, proportionOf } from "./proportions";

describe("proportions", () => {
  it("are named by the smallest whole numbers", () => {
    expect(proportionOf({ width: 1080, height: 1080 })).toBe("1:1");
    expect(proportionOf({ width: 1920, height: 1080 })).toBe("16:9");
    expect(proportionOf({ width: 191, height: 100 })).toBe("191:100");
  });

  it("of pages are offered once each, and not again where everybody has them", () => {
    const [tall, wide] = [
      { width: 4, height: 5 },
      { width: 191, height: 100 },
    ];
    const pages = [
      { name: "Short", narrowest: tall, widest: wide },
      { name: "Again", widest: wide },
      { name: "Anything" },
      { name: "Slim", narrowest: { width: 9, height: 20 } },
    ];
    expect(boundsOf(pages)).toEqual([
      { ...wide, label: "191 : 100, the widest on Short" },
      { width: 9, height: 20, label: "9 : 20, the narrowest on Slim" },
    ]);
    expect(boundsOf([])).toEqual([]);
  });
});

describe("names in a sentence", () => {
  it("are all there up to five, and counted beyond", () => {
    expect(listed(["Ada"])).toBe("Ada");
    expect(listed(["Ada", "Bo"])).toBe("Ada and Bo");
    expect(listed(["A", "B", "C", "D", "E"])).toBe("A, B, C, D and E");
    expect(listed(["A", "B", "C", "D", "E", "F", "G"])).toBe("A, B, C, D and 3 more");
    expect(listed([])).toBe("");
  });
});
