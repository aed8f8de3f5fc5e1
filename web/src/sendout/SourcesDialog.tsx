import { BookImage, Folder as FolderIcon } from "lucide-react";
import { useState, type ReactNode } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useAlbums, useFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { plural } from "~/kit/words";

type Source = Schema["EmbedSource"];

const mostFound = 200;
const same = (a: Source, b: Source) => a.folder === b.folder && a.album === b.album;

/** SourcesDialog chooses folders and albums, by their names, in the order in which they are pressed. */
export function SourcesDialog({
  brand,
  title,
  chosen: before,
  verb,
  about = "What comes into them later is shown as well.",
  children,
  onChoose,
  onClose,
}: {
  brand: string;
  title: string;
  chosen: Source[];
  verb: string;
  about?: string;
  /** What else is asked, above the list. */
  children?: ReactNode;
  /** Throws what is against it. */
  onChoose: (sources: Source[]) => Promise<unknown>;
  onClose: () => void;
}) {
  const albums = useAlbums(brand).data ?? [];
  const folders = useFolders(brand).data ?? [];
  const [words, setWords] = useState("");
  const [chosen, setChosen] = useState(before);
  const [problem, setProblem] = useState<string>();
  const wanted = words.trim().toLowerCase();
  const all = [
    ...albums.map((a) => ({
      source: { album: a.id, below: false } as Source,
      name: a.name,
      items: a.items,
      rule: !!a.rule,
      parked: a.parked,
    })),
    ...folders.map((f) => ({
      source: { folder: f.id, below: true } as Source,
      name: f.name,
      items: f.below,
      rule: false,
      parked: f.parked,
    })),
  ].filter((one) => one.name.toLowerCase().includes(wanted) && (!one.parked || wanted !== ""));
  const mark = (source: Source, on: boolean) => {
    setProblem(undefined);
    setChosen((c) => (on ? [...c, source] : c.filter((x) => !same(x, source))));
  };
  return (
    <Dialog title={title} about={about} onClose={onClose}>
      {children}
      <TextField
        label="Album or folder"
        autoFocus
        value={words}
        onChange={(e) => setWords(e.target.value)}
        placeholder="Part of its name"
        autoComplete="off"
      />
      <ul className="mt-3 h-72 overflow-y-auto" aria-label="Albums and folders">
        {all.slice(0, mostFound).map(({ source, name, items, rule }) => {
          const at = chosen.findIndex((c) => same(c, source));
          return (
            <li key={`${source.album ?? ""}/${source.folder ?? ""}`}>
              <label className={`flex items-center gap-2 rounded-patch px-2 py-1.5 ${at >= 0 ? "bg-saffron-wash" : "hover:bg-sunk"}`}>
                <input type="checkbox" className="size-4 accent-sea" checked={at >= 0} onChange={(e) => mark(source, e.target.checked)} />
                {source.album ? <BookImage size={18} className="shrink-0" /> : <FolderIcon size={18} className="shrink-0" />}
                <span className="min-w-0 flex-1">
                  <span className="block truncate">{name}</span>
                  <span className="block text-small text-ink-soft">
                    {source.album ? (rule ? "album kept filled by a rule" : "album") : "folder, with everything below it"}
                  </span>
                </span>
                <span className="text-dense text-ink-soft">{items.toLocaleString("en-GB")}</span>
              </label>
            </li>
          );
        })}
        {all.length === 0 && <li className="px-2 py-1.5 text-ink-soft">None is called that.</li>}
      </ul>
      {problem && (
        <p role="alert" className="mt-2 text-tomato">
          {problem}
        </p>
      )}
      <Button
        tone="main"
        className="mt-3"
        disabled={chosen.length === 0}
        onClick={() => void onChoose(chosen).then(onClose, (error: unknown) => setProblem(messageOf(error)))}
      >
        {chosen.length === 0 ? "Choose an album or a folder" : `${verb} ${plural(chosen.length, "place")}`}
      </Button>
    </Dialog>
  );
}
