import { BookImage } from "lucide-react";
import { useState, type FormEvent } from "react";
import { messageOf, told, type Schema, type Selection } from "~/api/client";
import { useAlbums } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { tell } from "~/kit/notes";
import { items } from "~/kit/words";
import { useGo } from "~/sheet/place";
import { addTo, newAlbum, renameAlbum } from "./acts";

/** AlbumNameDialog makes an album, or renames one. */
export function AlbumNameDialog({ brand, album, onClose }: { brand: string; album?: Schema["Album"]; onClose: () => void }) {
  const [name, setName] = useState(album?.name ?? "");
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      told(brand, album ? await renameAlbum(brand, album.id, name) : await newAlbum(brand, name));
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={album ? `Rename “${album.name}”` : "New album"} onClose={onClose}>
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField label="Name" autoFocus value={name} problem={problem} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          {album ? "Rename" : "Make the album"}
        </Button>
      </form>
    </Dialog>
  );
}

/** AddToAlbumDialog chooses an album by its name, or makes a new one with the items in it. */
export function AddToAlbumDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  onClose: () => void;
}) {
  const { goTo } = useGo();
  const albums = (useAlbums(brand).data ?? []).filter((a) => !a.rule);
  const [words, setWords] = useState("");
  const [problem, setProblem] = useState<string>();
  const hits = albums.filter((a) => a.name.toLowerCase().includes(words.trim().toLowerCase()));
  const add = (id: number) => {
    onClose();
    void addTo(brand, id, selection);
  };
  const make = async () => {
    try {
      const done = await newAlbum(brand, words.trim(), selection);
      tell(done.said, { label: "Open it", run: () => goTo({ place: "album", id: done.id! }) });
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={`Add ${items(count)} to an album`} onClose={onClose}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const exact = albums.find((a) => a.name.toLowerCase() === words.trim().toLowerCase());
          if (exact) add(exact.id);
          else if (words.trim()) void make();
        }}
      >
        <TextField
          label="Album"
          autoFocus
          value={words}
          problem={problem}
          onChange={(e) => setWords(e.target.value)}
          placeholder="Its name, or a new one"
          autoComplete="off"
        />
        {words.trim() && !albums.some((a) => a.name.toLowerCase() === words.trim().toLowerCase()) && (
          <Button type="submit" tone="main" className="mt-2">
            Make “{words.trim()}” with {items(count)}
          </Button>
        )}
      </form>
      <ul className="mt-3 h-64 overflow-y-auto" aria-label="Albums">
        {hits.map((a) => (
          <li key={a.id}>
            <button
              type="button"
              className="flex w-full items-center gap-2 rounded-patch px-2 py-1.5 text-left hover:bg-sunk"
              onClick={() => add(a.id)}
            >
              <BookImage size={18} className="shrink-0" />
              <span className="flex-1 truncate">{a.name}</span>
              <span className="text-dense text-ink-soft">{a.items}</span>
            </button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
