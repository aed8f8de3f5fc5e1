// @ts-expect-error: the lint's own configuration has no types
import config from "../eslint.config.js";
import { ESLint } from "eslint";
import { expect, test } from "vitest";
// @ts-expect-error: it is read by the lint, which knows no types
import { foldersThere, walls } from "./walls.js";

const cwd = new URL("..", import.meta.url).pathname;

/** refused says which rules a line breaks in a file. */
async function refused(file: string, line: string) {
  const lint = new ESLint({ cwd, overrideConfigFile: true, overrideConfig: config });
  const [found] = await lint.lintText(`${line}\n`, { filePath: `${cwd}src/${file}` });
  return found!.messages.map((m) => m.ruleId);
}

test("a wall can fail", { timeout: 60_000 }, async () => {
  const wall = "no-restricted-imports";
  for (const [file, line] of [
    ["preparing/Stage.tsx", `import "~/filing/tree";`],
    ["preparing/Stage.tsx", `import "../filing/tree";`],
    ["choosing/grid.ts", `import "~/sendout/goals";`],
    ["kit/Button.tsx", `import "~/sheet/place";`],
    ["screen/main.ts", `import "~/sheet/place";`],
    ["embed/big.ts", `import "~/kit/focal";`],
    ["gallery/Take.tsx", `import "~/sheet/place";`],
    ["filing/Cabinet.tsx", `import { client } from "~/api/client";`],
  ] as const)
    expect(await refused(file, line), `${line} in ${file}`).toContain(wall);
  for (const [file, line] of [
    ["preparing/Stage.tsx", `import "~/kit/Button";`],
    ["workspace/App.tsx", `import "~/filing/Cabinet";`],
    ["filing/acts.ts", `import { client } from "~/api/client"; void client;`],
  ] as const)
    expect(await refused(file, line), `${line} in ${file}`).not.toContain(wall);
});

test("a folder that nobody listed is an error, and so is one that is gone", () => {
  expect(() => walls([...foldersThere(), "attic"])).toThrow("attic");
  expect(() => walls(foldersThere().slice(1))).toThrow("may import");
});
