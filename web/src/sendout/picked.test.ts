import { expect, test } from "vitest";
import type { Schema } from "~/api/client";
import { pickedOf } from "./picked";

const address = (item: number, width: number, height: number, widths: number[]) =>
  ({
    item,
    picture: {
      picture: `https://h/p/${item}/{width}.{format}`,
      width,
      height,
      widths,
      formats: ["avif", "webp", "jpg"],
      title: "A",
      caption: "B",
    },
  }) as Schema["PublicAddress"];

test("what was picked keeps its order and its own alt text, and is never said to be wider than it is", () => {
  const got = pickedOf(
    [
      { id: 2, alt: "two" },
      { id: 1, alt: "" },
      { id: 3, alt: "gone" },
    ],
    [address(1, 200, 100, [320]), address(2, 3000, 2000, [320, 640, 960, 1280, 1920, 2560])],
    "medium",
  );
  expect(got.map((p) => [p.src, p.width, p.height, p.alt])).toEqual([
    ["https://h/p/2/medium.jpg", 1280, 853, "two"],
    ["https://h/p/1/medium.jpg", 200, 100, ""],
  ]);
  expect(got[0]!.srcset).toBe(
    "https://h/p/2/320.jpg 320w, https://h/p/2/640.jpg 640w, https://h/p/2/960.jpg 960w, https://h/p/2/1280.jpg 1280w",
  );
  expect(got[1]!.srcset).toBe("https://h/p/1/320.jpg 200w");
});
