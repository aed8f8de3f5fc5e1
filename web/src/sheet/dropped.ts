import type { Schema } from "~/api/client";

/** A file from outside, with the folder path that it lay in. */
interface DroppedFile {
  file: File;
  path: string;
}

/** What was dropped or picked: the files that are meant, how many were left out because nobody means them, and what the
 * browser could not read, by name. */
export interface Dropped {
  files: DroppedFile[];
  leftOut: number;
  unread: string[];
}

/** Where files go that are brought in, and what is done with those that are here already. */
export interface Target {
  folder?: number;
  album?: number;
  policy?: Schema["Policy"];
}

/** Taking is who brings files in, and who sees to it that nothing is left of an intake that was for something which is not done. */
interface Taking {
  take: (dropped: Dropped, target: Target) => Promise<number | undefined>;
  leave: (intake: number) => Promise<void>;
}

let taking: Taking | undefined;

/** takeFiles says who brings files in that are dropped anywhere. */
export function takeFiles(handler: Taking | undefined) {
  taking = handler;
}

/** leaveNothing takes an intake back, also one that is under way. */
export const leaveNothing = (intake: number) => taking?.leave(intake);

/** bringInto hands files to whoever brings them in, and gives the id of the intake that came of it. */
export async function bringInto(dropped: Dropped, target: Target) {
  if (dropped.files.length + dropped.leftOut + dropped.unread.length > 0) return taking?.take(dropped, target);
}

let taken = 0;

/** takeDropped brings in what was dropped on a target. It must be called within the drop event. */
export function takeDropped(items: DataTransferItem[], target: Target) {
  void takenFiles(items).then((dropped) => bringInto(dropped, target));
}

/** takenFiles are the files of a drop that somebody has another use for. It must be called within the drop event. */
export function takenFiles(items: DataTransferItem[]) {
  taken = performance.now();
  return collectDropped(items);
}

/** unlessTaken calls when no target takes the files that are being dropped. */
export function unlessTaken(event: DragEvent, call: () => void) {
  if (!event.dataTransfer?.types.includes("Files")) return;
  const dropped = performance.now();
  setTimeout(() => taken < dropped - takenWithin && call(), takenWithin);
}

const takenWithin = 500; // milliseconds around the event in which targets are told of it

const strays = ["thumbs.db", "desktop.ini", "ehthumbs.db", "__macosx"];

/** Files that systems leave in folders, and hidden ones. The server leaves them out too; here they do not even travel. */
const stray = (name: string) => name.startsWith(".") || strays.includes(name.toLowerCase());

/** collectDropped walks what was dropped, folders with everything in them. It must be called within the drop event. */
export async function collectDropped(items: DataTransferItem[]): Promise<Dropped> {
  const roots = items.map((item) => item.webkitGetAsEntry?.() ?? item.getAsFile());
  const out: Dropped = { files: [], leftOut: 0, unread: [] };
  for (const root of roots) {
    if (!root) out.unread.push("something without a name");
    else if (root instanceof File) out.files.push({ file: root, path: "" });
    else await walk(root, "", out).catch(() => out.unread.push(root.name));
  }
  return out;
}

async function walk(entry: FileSystemEntry, path: string, out: Dropped) {
  if (stray(entry.name)) {
    out.leftOut++;
    return;
  }
  if (entry.isFile) {
    const file = await new Promise<File | undefined>((resolve) => (entry as FileSystemFileEntry).file(resolve, () => resolve(undefined)));
    if (file) out.files.push({ file, path });
    else out.unread.push(path ? `${path}/${entry.name}` : entry.name); // gone, or not ours to read
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const below = path ? `${path}/${entry.name}` : entry.name;
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return;
    for (const child of some) await walk(child, below, out).catch(() => out.unread.push(`${below}/${child.name}`));
  }
}

/** pickedFiles reads what was picked in a file dialog or pasted; a picked folder keeps its tree. */
export function pickedFiles(list: Iterable<File>): Dropped {
  const out: Dropped = { files: [], leftOut: 0, unread: [] };
  for (const file of list) {
    const path = file.webkitRelativePath.split("/").slice(0, -1);
    if ([...path, file.name].some(stray)) out.leftOut++;
    else out.files.push({ file, path: path.join("/") });
  }
  return out;
}
