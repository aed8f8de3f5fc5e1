import { expect, test } from "vitest";
import { outsideIn, shownIn } from "./replacing";

const album = { what: "album", name: "Kit", open: false } as const;
const gallery = { what: "gallery", name: "Press", open: true } as const;
const embed = { what: "embed", name: "Ours", open: true } as const;
const address = { what: "address", name: "", open: true } as const;
type Planned = Parameters<typeof outsideIn>[0][number];
const pair = (id: number, showing: Planned["showing"]) => ({ of: { id }, showing }) as Planned;

test("it is said where people outside see what replaces something", () => {
  expect(outsideIn([pair(1, [album])])).toBe("");
  expect(outsideIn([pair(1, [album, gallery]), pair(2, [gallery])])).toBe("1 open gallery");
  expect(outsideIn([pair(1, [gallery, embed, address]), pair(2, [embed, address])])).toBe("1 open gallery, 1 embed and 2 public addresses");
  expect(shownIn([album, { ...embed, open: false }, embed, address]).map((s) => [s.text, s.outside])).toEqual([
    ["1 embed on websites: “Ours”", true],
    ["1 embed that is off: “Ours”", false],
    ["pages that use its public address", true],
    ["1 album: “Kit”", false],
  ]);
});
