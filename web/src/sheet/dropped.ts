/** A file from outside, with the folder path that it lay in. */
export interface DroppedFile {
  file: File;
  path: string;
}

/** Where files go that are brought in. */
export interface Target {
  folder?: number;
  album?: number;
}

let take: ((files: DroppedFile[], target: Target) => void) | undefined;

/** takeFiles says who brings files in that are dropped anywhere. */
export function takeFiles(handler: typeof take) {
  take = handler;
}

/** bringInto hands files to whoever brings them in. */
export function bringInto(files: DroppedFile[], target: Target) {
  if (files.length > 0) take?.(files, target);
}

/** collectDropped walks what was dropped, folders with everything in them. It must be called within the drop event. */
export async function collectDropped(items: DataTransferItem[]): Promise<DroppedFile[]> {
  const roots = items.map((item) => item.webkitGetAsEntry?.() ?? item.getAsFile());
  const out: DroppedFile[] = [];
  for (const root of roots) {
    if (root instanceof File) out.push({ file: root, path: "" });
    else if (root) await walk(root, "", out);
  }
  return out;
}

async function walk(entry: FileSystemEntry, path: string, out: DroppedFile[]) {
  if (entry.name.startsWith(".") || entry.name === "Thumbs.db" || entry.name === "desktop.ini") return;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    out.push({ file, path });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const below = path ? `${path}/${entry.name}` : entry.name;
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return;
    for (const child of some) await walk(child, below, out);
  }
}

/** pickedFiles reads what was picked in a file dialog; a picked folder keeps its tree. */
export function pickedFiles(list: FileList): DroppedFile[] {
  return [...list].filter((file) => !file.name.startsWith(".")).map((file) => ({ file, path: file.webkitRelativePath.split("/").slice(0, -1).join("/") }));
}
