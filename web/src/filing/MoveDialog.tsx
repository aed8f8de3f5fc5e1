import { clsx } from "clsx";
import { ChevronRight, CornerLeftUp, Folder as FolderIcon, FolderPlus, Inbox } from "lucide-react";
import { useMemo, useState } from "react";
import { type Selection } from "~/api/client";
import { usePreferences } from "~/api/preferences";
import { useFolders, type Folder } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { foundBy } from "~/kit/completion";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { items } from "~/kit/words";
import { newFolder } from "~/api/acts";
import { moveTo } from "./moving";
import { treeOf } from "./tree";
import { copyTo, moveFolder } from "./acts";

interface MoveDialogProps {
  brand: string;
  selection: Selection;
  count: number;
  /** Moves this folder instead of items: into another, or to the top level. */
  folder?: Folder;
  /** Makes second items there instead of moving. */
  copy?: boolean;
  onClose: () => void;
}

const mostFound = 50;

/** MoveDialog is the twin of dragging: one walks the tree up and down, finds a folder by its name, takes a recent one, or
 * makes one on the way; one button moves. */
export function MoveDialog({ brand, selection, count, folder: moved, copy, onClose }: MoveDialogProps) {
  const folders = useFolders(brand).data;
  const whole = useMemo(() => treeOf(folders ?? []), [folders]);
  const tree = useMemo(() => (moved ? treeOf(whole.all.filter((f) => !whole.within(f.id, moved.id))) : whole), [whole, moved]);
  const recent = (usePreferences(brand).targets ?? []).flatMap((id) => tree.byId.get(id) ?? []);
  const [words, setWords] = useState("");
  const [at, setAt] = useState<number>(); // the folder one looks into; undefined is the top level
  const [chosen, setChosen] = useState<number | "unfiled">();
  const mayEverywhere = tree.all.every((f) => f.may.includes("file"));
  const open = tree.all.filter((f) => f.may.includes("file"));
  const found = foundBy(words, open, (f) => tree.path(f.id)).slice(0, mostFound);
  const searching = words.trim() !== "";
  const target = chosen === "unfiled" ? undefined : (chosen ?? (searching ? found[0]?.id : at));
  const none = moved ? "the top level" : "Unfiled";
  const named = chosen === "unfiled" ? none : target === undefined ? undefined : tree.byId.get(target)?.name;
  const verb = copy ? "Copy" : "Move";
  const what = moved ? `“${moved.name}”` : count.toLocaleString("en-GB");
  const go = async (folder: number | undefined) => {
    onClose();
    if (moved) await moveFolder(brand, moved.id, folder);
    else if (copy) await copyTo(brand, selection, folder);
    else await moveTo(brand, selection, folder);
  };
  const make = async () => {
    const made = await newFolder(brand, words.trim(), at);
    if (made?.id) {
      setWords("");
      setChosen(made.id);
    }
  };
  const row = (f: Folder, path: boolean) => (
    <li
      key={f.id}
      className={clsx(
        "flex items-center rounded-patch",
        chosen === f.id || (chosen === undefined && target === f.id && searching) ? "bg-saffron-wash" : "hover:bg-sunk",
      )}
    >
      <button
        type="button"
        disabled={!f.may.includes("file")}
        className="flex min-w-0 flex-1 items-center gap-2 px-2 py-1.5 text-left disabled:text-ink-soft"
        onClick={() => setChosen(f.id)}
        onDoubleClick={() => void go(f.id)}
      >
        <FolderIcon size={18} className="shrink-0 text-ink-soft" />
        <span className="min-w-0">
          <span className="block truncate">{f.name}</span>
          {path && f.parent !== undefined && <span className="block truncate text-small text-ink-soft">{tree.path(f.parent)}</span>}
        </span>
      </button>
      {!path && tree.inside(f.id).length > 0 && (
        <IconButton
          label={`Look into ${f.name}`}
          icon={<ChevronRight size={18} />}
          onClick={() => {
            setAt(f.id);
            setChosen(undefined);
          }}
        />
      )}
    </li>
  );
  return (
    <Dialog
      title={`${verb} ${moved ? what : items(count)} to…`}
      about={copy ? "A second item on the same file: words and tags are copied, the file is not." : undefined}
      onClose={onClose}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (named) void go(target);
        }}
      >
        <TextField
          label="Folder"
          autoFocus
          value={words}
          onChange={(e) => {
            setWords(e.target.value);
            setChosen(undefined);
          }}
          placeholder="Part of its name, or a new one"
          autoComplete="off"
        />
        {/* Its height stays, so that no button moves away under the pointer when a folder comes. */}
        <div className="mt-2 h-80 overflow-y-auto" tabIndex={-1}>
          {searching && (at !== undefined || mayEverywhere) && (
            <Button className="mb-1" icon={<FolderPlus size={18} />} onClick={() => void make()}>
              Make “{words.trim()}” {at === undefined ? "at the top level" : `in ${tree.byId.get(at)?.name}`}
            </Button>
          )}
          {!searching && at === undefined && recent.length > 0 && (
            <>
              <h3 className="mt-3 text-small text-ink-soft">Recent</h3>
              <ul aria-label="Recent folders">{recent.slice(0, 4).map((f) => row(f, true))}</ul>
              <h3 className="mt-2 text-small text-ink-soft">All folders</h3>
            </>
          )}
          {at !== undefined && !searching && (
            <div className="mt-3 flex items-center gap-1 text-dense text-ink-soft">
              <IconButton
                label="One up"
                icon={<CornerLeftUp size={16} />}
                onClick={() => {
                  setAt(tree.byId.get(at)?.parent);
                  setChosen(undefined);
                }}
              />
              <span className="truncate">{tree.path(at)}</span>
            </div>
          )}
          <ul className="mt-1" aria-label="Folders">
            {mayEverywhere && !searching && at === undefined && (
              <li className={`rounded-patch ${chosen === "unfiled" ? "bg-saffron-wash" : "hover:bg-sunk"}`}>
                <button type="button" className="flex w-full items-center gap-2 px-2 py-1.5 text-left" onClick={() => setChosen("unfiled")}>
                  <Inbox size={18} className="text-ink-soft" /> {moved ? "Top level" : "Unfiled"}
                </button>
              </li>
            )}
            {(searching ? found : tree.inside(at)).map((f) => row(f, searching))}
          </ul>
        </div>
        <div className="mt-4">
          <Button type="submit" tone="main" disabled={!named}>
            {named ? `${verb} ${what} to ${named}` : "Choose a folder"}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
