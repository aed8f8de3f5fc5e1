import type { AssetRow, SheetQuery } from "~/api/client";
import { bytes, shortMoment, titleOf } from "~/kit/words";

/** A column of the list: what it is called, how wide it is at first, what it sorts by, and what it says of an item. */
export interface Column {
  key: string;
  label: string;
  width: number;
  sort?: NonNullable<SheetQuery["sort"]>;
  end?: boolean;
  say: (row: AssetRow, folder: (id: number | undefined) => string) => string;
}

const day = (at: string) => new Date(at).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });

export const columns: Column[] = [
  { key: "title", label: "Title", width: 190, sort: "name", say: (r) => titleOf(r) },
  { key: "fileName", label: "File name", width: 170, say: (r) => r.fileName },
  { key: "folder", label: "Folder", width: 130, say: (r, folder) => folder(r.folder) },
  { key: "kind", label: "Kind", width: 80, sort: "kind", say: (r) => r.kind },
  { key: "dimensions", label: "Dimensions", width: 105, end: true, say: (r) => (r.width ? `${r.width} × ${r.height}` : "") },
  { key: "size", label: "Size", width: 75, sort: "size", end: true, say: (r) => bytes(r.bytes) },
  { key: "taken", label: "Taken", width: 150, sort: "taken", say: (r) => (r.taken ? shortMoment(r.taken) : "undated") },
  { key: "added", label: "Added", width: 105, sort: "added", say: (r) => day(r.added) },
  { key: "addedBy", label: "By", width: 120, say: (r) => r.addedBy ?? "" },
  { key: "stars", label: "Stars", width: 65, sort: "stars", say: (r) => (r.stars < 0 ? "aside" : r.stars ? `${r.stars} ★` : "") },
  { key: "stage", label: "Stage", width: 100, say: (r) => r.stage ?? "" },
  { key: "tags", label: "Tags", width: 200, say: (r) => r.tagNames.join(", ") },
];

/** The columns that a list has until somebody chooses others. */
export const atFirst = ["title", "folder", "kind", "size", "taken", "stars"];
export const narrowest = 56;
export const thumbnail = 56;
