import { describe, expect, it } from "vitest";
import { collectDropped } from "./dropped";

type Entry = Partial<FileSystemFileEntry> & Partial<FileSystemDirectoryEntry>;

const readable = (name: string): Entry => ({ name, isFile: true, file: (ok) => ok(new File(["x"], name)) });
const gone = (name: string): Entry => ({ name, isFile: true, file: (_, failed) => failed?.(new DOMException("gone", "NotFoundError")) });
const folder = (name: string, ...inside: Entry[]): Entry => ({
  name,
  createReader: () => ({ readEntries: (ok) => ok(inside.splice(0) as FileSystemEntry[]) }),
});
const locked = (name: string): Entry => ({
  name,
  createReader: () => ({ readEntries: (_, failed) => failed?.(new DOMException("no", "NotReadableError")) }),
});
const dropped = (...entries: (Entry | null)[]) =>
  collectDropped(entries.map((e) => ({ webkitGetAsEntry: () => e, getAsFile: () => null }) as unknown as DataTransferItem));

describe("what is dropped", () => {
  it("is read with everything in its folders", async () => {
    const { files, leftOut, unread } = await dropped(readable("a.jpg"), folder("2026", readable("b.jpg"), readable("thumbs.db")));
    expect(files.map((f) => [f.path, f.file.name])).toEqual([
      ["", "a.jpg"],
      ["2026", "b.jpg"],
    ]);
    expect([leftOut, unread]).toEqual([1, []]);
  });
  it("is named when it cannot be read, and the rest comes in", async () => {
    const { files, unread } = await dropped(
      gone("a.jpg"),
      folder("2026", gone("b.jpg"), locked("May"), readable("c.jpg")),
      locked("June"),
      null,
    );
    expect(files.map((f) => f.file.name)).toEqual(["c.jpg"]);
    expect(unread).toEqual(["a.jpg", "2026/b.jpg", "2026/May", "June", "something without a name"]);
  });
});
