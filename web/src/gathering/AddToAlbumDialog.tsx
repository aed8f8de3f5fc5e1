import { BookImage } from "lucide-react";
import { useMemo, useState } from "react";
import { messageOf, type Selection } from "~/api/client";
import { prefer, preferences, usePreferences } from "~/api/preferences";
import { useAlbums } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { tell } from "~/kit/notes";
import { items, plural } from "~/kit/words";
import { useGo } from "~/sheet/place";
import { addToAlbums, moveBetween, newAlbum } from "./acts";
import { useChoice } from "./choice";
import { albumTree } from "./tree";

const mostRecent = 8;

/** noteRecent remembers which albums something was put into, the last one first. */
function noteRecent(brand: string, albums: number[]) {
  prefer(brand, { albums: [...albums, ...(preferences().albums ?? []).filter((id) => !albums.includes(id))].slice(0, mostRecent) });
}

/** AddToAlbumDialog chooses albums by their names, those first that something was put into lately, or makes one with the items in it on
 * the way. Out of an album it moves them into one other. */
export function AddToAlbumDialog({
  brand,
  selection,
  count,
  outOf,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  outOf?: number;
  onClose: () => void;
}) {
  const { goTo } = useGo();
  const all = useAlbums(brand).data;
  const tree = useMemo(() => albumTree((all ?? []).filter((a) => !a.rule && a.id !== outOf)), [all, outOf]);
  const recent = usePreferences(brand).albums ?? [];
  const choice = useChoice();
  const [words, setWords] = useState("");
  const [problem, setProblem] = useState<string>();
  const [marked, setMarked] = useState<Set<number>>(new Set());
  const wanted = words.trim().toLowerCase();
  const lately = (id: number) => (recent.includes(id) ? recent.indexOf(id) : recent.length);
  const hits = tree.all
    .filter((a) => tree.path(a.id).toLowerCase().includes(wanted) && (!a.parked || wanted !== ""))
    .sort((a, b) => lately(a.id) - lately(b.id));
  const exact = tree.all.find((a) => a.name.toLowerCase() === wanted);
  const put = (albums: number[]) => {
    onClose();
    noteRecent(brand, albums);
    void (outOf === undefined ? addToAlbums(brand, albums, selection) : moveBetween(brand, outOf, albums[0]!, selection));
  };
  const make = async () => {
    try {
      const done = await newAlbum(brand, words.trim(), outOf === undefined ? { selection, choice: choice() } : {});
      if (outOf !== undefined) return put([done.id!]);
      noteRecent(brand, [done.id!]);
      tell(done.said, { label: "Open it", run: () => goTo({ place: "album", id: done.id! }) });
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const mark = (id: number, on: boolean) => {
    const next = new Set(marked);
    if (on) next.add(id);
    else next.delete(id);
    setMarked(next);
  };
  return (
    <Dialog
      title={outOf === undefined ? `Add ${items(count)} to an album` : `Move ${items(count)} to another album`}
      about={outOf === undefined ? undefined : "They stay in the library, where they live."}
      onClose={onClose}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (exact) put([exact.id]);
          else if (wanted) void make();
        }}
      >
        <TextField
          label="Album"
          autoFocus
          value={words}
          problem={problem}
          onChange={(e) => {
            setWords(e.target.value);
            setProblem(undefined);
          }}
          placeholder="Its name, or a new one"
          autoComplete="off"
        />
        {wanted && !exact && (
          <Button type="submit" tone="main" className="mt-2">
            Make “{words.trim()}” with {items(count)}
          </Button>
        )}
      </form>
      <ul className="mt-3 h-64 overflow-y-auto" aria-label="Albums">
        {hits.map((a) => (
          <li key={a.id} className="flex items-center gap-1 rounded-patch hover:bg-sunk">
            {outOf === undefined && (
              <input
                type="checkbox"
                className="ml-1.5 size-4 accent-sea"
                aria-label={`Also ${a.name}`}
                checked={marked.has(a.id)}
                onChange={(e) => mark(a.id, e.target.checked)}
              />
            )}
            <button
              type="button"
              className="flex min-w-0 flex-1 items-center gap-2 px-2 py-1.5 text-left"
              onClick={() => put(marked.size > 0 ? [...new Set([...marked, a.id])] : [a.id])}
            >
              <BookImage size={18} className="shrink-0" />
              <span className="min-w-0 flex-1">
                <span className="block truncate">{a.name}</span>
                {a.parent !== undefined && tree.byId.has(a.parent) && (
                  <span className="block truncate text-small text-ink-soft">in {tree.path(a.parent)}</span>
                )}
              </span>
              <span className="text-dense text-ink-soft">{a.items.toLocaleString("en-GB")}</span>
            </button>
          </li>
        ))}
      </ul>
      {marked.size > 0 && (
        <Button tone="main" className="mt-3" onClick={() => put([...marked])}>
          Add {items(count)} to {plural(marked.size, "album")}
        </Button>
      )}
    </Dialog>
  );
}
