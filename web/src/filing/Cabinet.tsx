import { ChevronDown, ChevronRight, Folder as FolderIcon, FolderPlus, Inbox, Layers, MoreHorizontal, Trash2 } from "lucide-react";
import { useState, type ReactNode } from "react";
import { act, client, type Me, type Schema } from "~/api/client";
import { useFolders, useOverview } from "~/api/queries";
import { Button, IconButton } from "~/kit/Button";
import { Menu } from "~/kit/Menu";
import { tell } from "~/kit/notes";
import { useDropTarget } from "~/sheet/drag";
import { usePlace, type Place } from "~/sheet/place";
import { FolderDialog, RemoveFolderDialog } from "./FolderDialog";
import { moveTo } from "./MoveDialog";

type Folder = Schema["Folder"];
type Asked = { what: "new" | "rename" | "remove"; folder?: Folder };

/** Cabinet is the board of filing: where things live, as rows that one opens and drops onto. */
export function Cabinet({ me }: { me: Me }) {
  const { brand, place, goTo } = usePlace();
  const folders = useFolders(brand).data;
  const counts = useOverview(brand).data;
  const [asked, setAsked] = useState<Asked>();
  const [words, setWords] = useState("");
  const everywhere = me.role === "steward" || me.role === "coordinator";
  const found = words.trim() ? folders?.filter((f) => f.name.toLowerCase().includes(words.trim().toLowerCase())) : undefined;
  return (
    <section aria-label="Folders">
      <div className="mb-1 space-y-0.5">
        <CabinetRow icon={<Layers size={18} />} name="Everything" count={counts?.everything} to={{ place: "everything" }} place={place} goTo={goTo} />
        <CabinetRow
          icon={<Inbox size={18} />}
          name="Unfiled"
          count={counts?.unfiled}
          to={{ place: "unfiled" }}
          place={place}
          goTo={goTo}
          onItems={everywhere ? (ids) => void moveTo(brand, { ids }, undefined) : undefined}
          files={everywhere ? {} : undefined}
        />
      </div>
      <header className="mt-3 flex items-center gap-1">
        <h2 className="flex-1 text-lg">Folders</h2>
        {me.can.includes("file") && everywhere && <IconButton label="New folder" icon={<FolderPlus size={18} />} onClick={() => setAsked({ what: "new" })} />}
      </header>
      {(folders?.length ?? 0) > 8 && (
        <input
          type="search"
          aria-label="Find a folder"
          placeholder="Find a folder"
          className="mb-1 w-full rounded-patch border border-line bg-card px-2.5 py-1 placeholder:text-ink-soft"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {folders?.length === 0 && (
        <div className="rounded-lg border border-dashed border-line-strong p-4 text-center text-ink-soft">
          <p className="mb-2">Folders are where items live. Make the first one, then drag pictures onto it.</p>
          <Button onClick={() => setAsked({ what: "new" })}>Make a folder</Button>
        </div>
      )}
      <div role="tree" aria-label="Folders">
        {found
          ? found.map((f) => <FolderRow key={f.id} folder={f} below={[]} all={folders!} level={1} ask={setAsked} />)
          : folders?.filter((f) => f.parent === undefined).map((f) => <FolderRow key={f.id} folder={f} below={childrenOf(folders, f.id)} all={folders} level={1} ask={setAsked} />)}
      </div>
      <div className="mt-3">
        <CabinetRow icon={<Trash2 size={18} />} name="Bin" count={counts?.bin} to={{ place: "bin" }} place={place} goTo={goTo} />
      </div>
      {asked && asked.what !== "remove" && <FolderDialog brand={brand} folder={asked.folder} rename={asked.what === "rename"} onClose={() => setAsked(undefined)} />}
      {asked?.what === "remove" && <RemoveFolderDialog brand={brand} folder={asked.folder!} inside={childrenOf(folders!, asked.folder!.id).length} onClose={() => setAsked(undefined)} />}
    </section>
  );
}

const childrenOf = (all: Folder[], id: number) => all.filter((f) => f.parent === id);

function FolderRow({ folder, below, all, level, ask }: { folder: Folder; below: Folder[]; all: Folder[]; level: number; ask: (asked: Asked) => void }) {
  const { brand, place, goTo } = usePlace();
  const [open, setOpen] = useState(level < 3);
  const may = (action: Schema["Action"]) => folder.may.includes(action);
  const menu = [
    ...(may("file") ? [{ label: "New folder inside", onSelect: () => ask({ what: "new", folder }) }] : []),
    ...(may("file") ? [{ label: "Rename", onSelect: () => ask({ what: "rename", folder }) }] : []),
    ...(may("file") ? [{ label: "Move to the top", onSelect: () => void act(brand, client.PATCH("/api/brands/{brand}/folders/{id}", { params: { path: { brand, id: folder.id } }, body: { move: true } })) }] : []),
    { label: "Open with everything below", onSelect: () => goTo({ place: "folder", id: folder.id, below: true }) },
    {
      label: "Copy its id",
      onSelect: () => {
        void navigator.clipboard?.writeText(folder.code);
        tell(`Copied ${folder.code}`);
      },
    },
    ...(may("remove") ? [null, { label: "Remove", danger: true, onSelect: () => ask({ what: "remove", folder }) }] : []),
  ];
  return (
    <div role="treeitem" aria-expanded={below.length > 0 ? open : undefined} aria-level={level} aria-selected={place.place === "folder" && place.id === folder.id}>
      <CabinetRow
        icon={<FolderIcon size={18} />}
        name={folder.name}
        count={folder.own}
        below={folder.below}
        to={{ place: "folder", id: folder.id }}
        place={place}
        goTo={goTo}
        indent={level - 1}
        fold={below.length > 0 ? { open, toggle: () => setOpen(!open) } : undefined}
        onItems={may("file") ? (ids) => void moveTo(brand, { ids }, folder.id) : undefined}
        files={may("bring_in") ? { folder: folder.id } : undefined}
        menu={<Menu trigger={<IconButton label={`More about ${folder.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />} items={menu} />}
      />
      {open && below.length > 0 && (
        <div role="group">
          {below.map((f) => (
            <FolderRow key={f.id} folder={f} below={childrenOf(all, f.id)} all={all} level={level + 1} ask={ask} />
          ))}
        </div>
      )}
    </div>
  );
}

interface CabinetRowProps {
  icon: ReactNode;
  name: string;
  count?: number;
  below?: number;
  to: Place;
  place: Place;
  goTo: (to: Place) => void;
  indent?: number;
  fold?: { open: boolean; toggle: () => void };
  onItems?: (ids: number[]) => void;
  files?: { folder?: number };
  menu?: ReactNode;
}

/** CabinetRow is one place: it opens on a click and takes what is dropped on it. */
function CabinetRow({ icon, name, count, below, to, place, goTo, indent = 0, fold, onItems, files, menu }: CabinetRowProps) {
  const here = place.place === to.place && place.id === to.id;
  const { ref, over, carrying } = useDropTarget<HTMLDivElement>(onItems, files);
  return (
    <div ref={ref} data-place={name} className={`group flex min-h-9 items-center rounded-patch ${here ? "bg-saffron-wash" : "hover:bg-sunk"} ${over ? "drop-here" : ""}`} style={{ paddingLeft: indent * 16 }}>
      {fold ? (
        <button type="button" aria-label={fold.open ? `Fold ${name}` : `Unfold ${name}`} className="grid size-6 place-items-center text-ink-soft" onClick={fold.toggle}>
          {fold.open ? <ChevronDown size={16} /> : <ChevronRight size={16} />}
        </button>
      ) : (
        <span className="w-6" />
      )}
      <button type="button" className="flex min-w-0 flex-1 items-center gap-2 py-1.5 pr-1 text-left" aria-current={here ? "page" : undefined} onClick={() => goTo(to)} title={name}>
        <span className="shrink-0 text-ink-soft">{icon}</span>
        <span className="truncate">{name}</span>
        {over && carrying > 0 && <span className="shrink-0 rounded-full bg-saffron px-2 text-small font-semibold text-on-saffron">Move {carrying}</span>}
      </button>
      <span className="shrink-0 pr-1.5 text-dense text-ink-soft" data-own={count} title={below !== undefined && below !== count ? `${count} in it, ${below} with everything below` : undefined}>
        {count}
        {below !== undefined && below !== count && <span> / {below}</span>}
      </span>
      {menu}
    </div>
  );
}
