import { Folder as FolderIcon, FolderPlus, Inbox } from "lucide-react";
import { useState } from "react";
import { act, client, type Selection } from "~/api/client";
import { useFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { items } from "~/kit/words";
import { pathOf } from "~/sheet/Heading";

/** moveTo files a selection in a folder; undefined is Unfiled. */
export const moveTo = (brand: string, selection: Selection, folder: number | undefined) =>
  act(brand, client.POST("/api/brands/{brand}/move", { params: { path: { brand } }, body: { selection, folder } }));

/** MoveDialog is the twin of dragging: it finds a folder by its name, or makes one on the way. */
export function MoveDialog({ brand, selection, count, onClose }: { brand: string; selection: Selection; count: number; onClose: () => void }) {
  const folders = useFolders(brand).data ?? [];
  const [words, setWords] = useState("");
  const named = folders
    .filter((f) => f.may.includes("file"))
    .map((f) => ({ id: f.id, path: pathOf(folders, f.id).map((p) => p.name).join(" / ") }))
    .sort((a, b) => a.path.localeCompare(b.path, "en-GB", { numeric: true }));
  const hits = named.filter((f) => words.toLowerCase().split(/\s+/).every((w) => f.path.toLowerCase().includes(w)));
  const move = async (folder: number | undefined) => {
    onClose();
    await moveTo(brand, selection, folder);
  };
  const makeAndMove = async () => {
    const made = await act(brand, client.POST("/api/brands/{brand}/folders", { params: { path: { brand } }, body: { name: words.trim() } }));
    if (made?.id) await move(made.id);
  };
  const everywhere = named.length === folders.length;
  return (
    <Dialog title={`Move ${items(count)} to…`} onClose={onClose}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (hits[0]) void move(hits[0].id);
        }}
      >
        <TextField label="Folder" autoFocus value={words} onChange={(e) => setWords(e.target.value)} placeholder="Part of its name" autoComplete="off" />
      </form>
      <ul className="mt-3 max-h-72 overflow-y-auto" aria-label="Folders">
        {everywhere && !words && (
          <li>
            <button type="button" className="flex w-full items-center gap-2 rounded-patch px-2 py-1.5 text-left hover:bg-sunk" onClick={() => void move(undefined)}>
              <Inbox size={18} /> Unfiled
            </button>
          </li>
        )}
        {hits.map((f) => (
          <li key={f.id}>
            <button type="button" className="flex w-full items-center gap-2 rounded-patch px-2 py-1.5 text-left hover:bg-sunk" onClick={() => void move(f.id)}>
              <FolderIcon size={18} className="shrink-0" /> {f.path}
            </button>
          </li>
        ))}
      </ul>
      {everywhere && words.trim() && (
        <Button className="mt-2" icon={<FolderPlus size={18} />} onClick={() => void makeAndMove()}>
          Make “{words.trim()}” and move {count} there
        </Button>
      )}
    </Dialog>
  );
}
