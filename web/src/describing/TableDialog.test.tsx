// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, expect, test, vi } from "vitest";
import type { Schema } from "~/api/client";
import { click, shown, until } from "~/kit/onPage";
import * as acts from "./acts";
import { TableDialog } from "./TableDialog";

afterEach(() => {
  document.body.replaceChildren();
  vi.restoreAllMocks();
});

const table = (of: Partial<Schema["WordsTable"]>): Schema["WordsTable"] => ({
  id: 7,
  name: "words.csv",
  made: "2026-05-17T10:00:00Z",
  state: "ready",
  read: 3,
  of: 3,
  why: "",
  warnings: [],
  newTags: [],
  changes: 2,
  same: 1,
  wrong: 0,
  unknown: 0,
  forbidden: 0,
  ...of,
});

const dialog = () => document.querySelector<HTMLElement>("[role=dialog]")!;

async function opened(before: Schema["WordsTable"][]) {
  vi.spyOn(acts, "tables").mockResolvedValue(before);
  vi.spyOn(acts, "tableRows").mockResolvedValue([]);
  await shown(<TableDialog brand="b" count={0} onClose={() => undefined} />);
  if (before.some((t) => t.state !== "refused")) await until(() => expect(dialog().textContent).toContain("was brought back"));
}

test("a table that is compared shows how far it is, and then what it changes", async () => {
  const now = vi.spyOn(acts, "table").mockResolvedValue(table({ state: "reading", read: 2000, of: 100_000 }));
  await opened([table({ state: "reading", read: 0, of: 0 })]);
  expect(dialog().textContent).toContain("and is being compared");
  await click(dialog(), "See how far it is");
  await until(() => expect(dialog().textContent).toContain("Compared 2,000 of 100,000 rows with the library."));
  expect(dialog().querySelector("progress")!.value).toBe(2000);
  expect(dialog().textContent).not.toContain("Change");
  now.mockResolvedValue(table({}));
  await until(() => expect(dialog().textContent).toContain("Change 2 items"));
});

test("one that was compared before waits for whoever closed the dialog", async () => {
  await opened([table({})]);
  await click(dialog(), "Go on with it");
  expect(dialog().textContent).toContain("2 to change");
});

test("what was refused is not gone on with, and says why when it is chosen", async () => {
  await opened([table({ state: "refused", why: "The file is not a table." })]);
  expect(dialog().textContent).not.toContain("Go on with it");
  vi.spyOn(acts, "bringBack").mockResolvedValue(table({ state: "refused", why: "The file is not a table." }));
  const field = dialog().querySelector<HTMLInputElement>("input[type=file]")!;
  Object.defineProperty(field, "files", { value: [new File(["x"], "notes.csv")] });
  await act(async () => field.dispatchEvent(new Event("change", { bubbles: true })));
  await until(() => expect(dialog().querySelector("[role=alert]")?.textContent).toBe("The file is not a table."));
});
