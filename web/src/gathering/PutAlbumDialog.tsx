import { BookImage, CornerLeftUp } from "lucide-react";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { putAlbum } from "./acts";
import type { AlbumTree } from "./tree";

/** PutAlbumDialog puts an album into another one, or to the top. Itself and what is in it are not offered. */
export function PutAlbumDialog({
  brand,
  album,
  tree,
  onClose,
}: {
  brand: string;
  album: Schema["Album"];
  tree: AlbumTree;
  onClose: () => void;
}) {
  const [words, setWords] = useState("");
  const wanted = words.trim().toLowerCase();
  const hits = tree.all.filter(
    (a) => !tree.within(a.id, album.id) && a.id !== album.parent && tree.path(a.id).toLowerCase().includes(wanted),
  );
  const put = (parent: number | undefined) => {
    onClose();
    void putAlbum(brand, album.id, parent);
  };
  return (
    <Dialog title={`Put “${album.name}” into an album`} about="The albums in it go with it." onClose={onClose}>
      <TextField label="Find" autoFocus value={words} onChange={(e) => setWords(e.target.value)} autoComplete="off" />
      <ul className="mt-3 h-64 overflow-y-auto" aria-label="Albums">
        {album.parent !== undefined && wanted === "" && (
          <li>
            <button
              type="button"
              className="flex w-full gap-2 rounded-patch px-2 py-1.5 text-left hover:bg-sunk"
              onClick={() => put(undefined)}
            >
              <CornerLeftUp size={18} className="shrink-0" /> to the top
            </button>
          </li>
        )}
        {hits.map((a) => (
          <li key={a.id}>
            <button type="button" className="flex w-full gap-2 rounded-patch px-2 py-1.5 text-left hover:bg-sunk" onClick={() => put(a.id)}>
              <BookImage size={18} className="shrink-0" />
              <span className="truncate">{tree.path(a.id)}</span>
            </button>
          </li>
        ))}
        {hits.length === 0 && <li className="px-2 text-ink-soft">There is no other album with that in its name.</li>}
      </ul>
    </Dialog>
  );
}
