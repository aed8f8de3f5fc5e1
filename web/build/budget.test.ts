import { expect, test } from "vitest";
// @ts-expect-error: a program of the build, which knows no types
import { loadedFor, over } from "./budget.mjs";

const manifest = {
  "index.html": { file: "app.js", imports: ["_shared.js"] },
  "_shared.js": { file: "shared.js" },
  "page.tsx": { file: "page.js", imports: ["_shared.js"] },
};
const size = (file: string) => ({ "app.js": 30, "shared.js": 50, "page.js": 7 })[file] ?? 0;

test("each file is counted once, with all that it needs", () => {
  expect(loadedFor(manifest, ["index.html", "page.tsx"])).toEqual(["app.js", "shared.js", "page.js"]);
  expect(() => loadedFor(manifest, ["gone.tsx"])).toThrow("no part gone.tsx");
});

test("a budget can fail", () => {
  const limit = (most: number) => [{ what: "the page", parts: ["index.html", "page.tsx"], most }];
  expect(over(manifest, size, limit(87))).toEqual([]);
  expect(over(manifest, size, limit(86))).toEqual(["the page loads 87 bytes of scripts, and may load 86"]);
});
