import { later } from "~/kit/later";
import {
  CalendarDays,
  CircleUser,
  FolderPlus,
  Inbox,
  Layers,
  MapPin,
  MoreHorizontal,
  PackageOpen,
  ParkingSquare,
  Plug,
  Search,
  Send,
  Tag,
  Trash2,
} from "lucide-react";
import { Fragment, useMemo, useState, type ReactNode } from "react";
import { type Me } from "~/api/client";
import { prefer, usePreferences } from "~/api/preferences";
import { useFolders, useIntakes, useOverview, type Folder } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { foundBy } from "~/kit/completion";
import { when } from "~/kit/words";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { MySearches } from "./MySearches";
import { CabinetRow } from "./CabinetRow";
import { FolderCard } from "./FolderCard";
import type { Ask } from "./FolderDialogs";
import { FolderRow } from "./FolderRow";
import type { Way } from "./Narrow";
import { moveTo } from "./moving";
import { treeOf } from "./tree";
import { orderFoldersByName } from "./acts";

const ByDate = later(async () => (await import("./Browse")).ByDate);
const BySource = later(async () => (await import("./Browse")).BySource);
const ByUse = later(async () => (await import("./Browse")).ByUse);
const Narrow = later(async () => (await import("./Narrow")).Narrow);

const DuplicateDialog = later(async () => (await import("./FolderDialogs")).DuplicateDialog);
const NewFoldersDialog = later(async () => (await import("./FolderDialogs")).NewFoldersDialog);
const RemoveFolderDialog = later(async () => (await import("./FolderDialogs")).RemoveFolderDialog);
const MoveDialog = later(async () => (await import("./MoveDialog")).MoveDialog);

/** With up to so many folders all are unfolded until somebody folds one. */
const allUnfolded = 60;
const intakesShown = 8;
const mostFound = 60;

/** What one can narrow by, going from one value to those that occur with it. */
const ways: { way: Way; icon: ReactNode }[] = [
  { way: "tag", icon: <Tag size={18} /> },
  { way: "person", icon: <CircleUser size={18} /> },
  { way: "place", icon: <MapPin size={18} /> },
];

/** Cabinet is the board of filing: where things live, as rows that one opens and drops onto. */
export function Cabinet({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const folders = useFolders(brand).data;
  const counts = useOverview(brand).data;
  const intakes = useIntakes(brand).data ?? [];
  const preferences = usePreferences(brand);
  const [asked, setAsked] = useState<{ what: Parameters<Ask>[0]; folder?: Folder }>();
  const [words, setWords] = useState("");
  const [open, setOpen] = useState<Record<string, boolean>>({});
  const tree = useMemo(() => treeOf(folders ?? []), [folders]);
  const unfolded = useMemo(
    () => new Set(preferences.unfolded ?? (tree.all.length <= allUnfolded ? tree.all.map((f) => f.id) : [])),
    [preferences.unfolded, tree],
  );
  const everywhere = me.everywhere.includes("file");
  const fold = (id: number, on: boolean) => prefer(brand, { unfolded: on ? [...unfolded, id] : [...unfolded].filter((x) => x !== id) });
  const found = words.trim() ? foundBy(words, tree.all, (f) => tree.path(f.id)) : undefined;
  const toggle = (part: string) => ({ open: !!open[part], toggle: () => setOpen((now) => ({ ...now, [part]: !now[part] })) });
  const ask: Ask = (what, folder) => setAsked({ what, folder });
  const rowOf = (folder: Folder, level: number) => (
    <FolderRow key={folder.id} folder={folder} tree={tree} level={level} ask={ask} unfolded={unfolded} fold={fold} />
  );
  return (
    <section aria-label="Places">
      <div className="mb-1 space-y-0.5">
        <CabinetRow icon={<Layers size={18} />} name="Everything" count={counts?.everything} to={{ place: "everything" }} />
        <CabinetRow
          icon={<Inbox size={18} />}
          name="Unfiled"
          count={counts?.unfiled}
          to={{ place: "unfiled" }}
          onItems={everywhere ? (ids) => moveTo(brand, { ids }, undefined) : undefined}
          files={everywhere ? {} : undefined}
        />
        {intakes.length > 0 && <CabinetRow icon={<PackageOpen size={18} />} name="Just in" fold={toggle("intakes")} />}
        {open.intakes &&
          intakes
            .slice(0, intakesShown)
            .map((i) => (
              <CabinetRow key={i.id} name={when(i.started)} indent={1} count={i.added + i.versions} to={{ place: "intake", id: i.id }} />
            ))}
        <CabinetRow icon={<CalendarDays size={18} />} name="By date" fold={toggle("dates")} />
        {open.dates && <ByDate />}
        {ways.map(({ way, icon }) => (
          <Fragment key={way}>
            <CabinetRow icon={icon} name={`By ${way}`} fold={toggle(way)} />
            {open[way] && <Narrow way={way} />}
          </Fragment>
        ))}
        <CabinetRow icon={<Plug size={18} />} name="By source" fold={toggle("sources")} />
        {open.sources && <BySource />}
        {me.can.includes("galleries") && <CabinetRow icon={<Send size={18} />} name="By use" fold={toggle("uses")} />}
        {open.uses && <ByUse />}
        {!!preferences.searches?.length && <CabinetRow icon={<Search size={18} />} name="My searches" fold={toggle("searches")} />}
        {open.searches && <MySearches />}
      </div>
      <header className="mt-3 flex items-center gap-1">
        <h2 className="flex-1 text-lg">Folders</h2>
        {everywhere && <IconButton label="New folder" icon={<FolderPlus size={18} />} onClick={() => ask("new")} />}
        <Menu
          trigger={<IconButton label="More about folders" icon={<MoreHorizontal size={18} />} />}
          items={[
            { label: "Unfold all", onSelect: () => prefer(brand, { unfolded: tree.all.map((f) => f.id) }) },
            { label: "Fold all", onSelect: () => prefer(brand, { unfolded: [] }) },
            ...(everywhere ? [{ label: "Order by name at the top level", onSelect: () => void orderFoldersByName(brand) }] : []),
            null,
            { label: "Begin here each time", onSelect: () => prefer(brand, { start: { place: place.place, id: place.id } }) },
            { label: "Begin at the last place", checked: !preferences.start, onSelect: () => prefer(brand, { start: undefined }) },
          ]}
        />
      </header>
      {tree.all.length > 8 && (
        <input
          type="search"
          aria-label="Find a folder"
          placeholder="Find a folder"
          className="mb-1 w-full rounded-patch border border-line bg-card px-2.5 py-1 placeholder:text-ink-soft"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {folders?.length === 0 && everywhere && (
        <div className="rounded-lg border border-dashed border-line-strong p-4 text-center text-ink-soft">
          <p className="mb-2">Folders are where items live. Make the first one, then drag pictures onto it.</p>
          <Button onClick={() => ask("new")}>Make a folder</Button>
        </div>
      )}
      {found ? (
        <div role="list" aria-label="Folders found">
          {found.slice(0, mostFound).map((f) => (
            <div role="listitem" key={f.id}>
              <CabinetRow
                name={f.name}
                about={tree.path(f.parent)}
                count={f.own}
                to={{ place: "folder", id: f.id }}
                onOpen={() => goTo({ place: "folder", id: f.id })}
                onItems={f.may.includes("file") ? (ids) => moveTo(brand, { ids }, f.id) : undefined}
              />
            </div>
          ))}
          {found.length === 0 && <p className="text-ink-soft">No folder has that in its name.</p>}
          {found.length > mostFound && (
            <p className="text-dense text-ink-soft">and {found.length - mostFound} more; type on to find them</p>
          )}
        </div>
      ) : (
        <div role="tree" aria-label="Folders">
          {tree
            .inside(undefined)
            .filter((f) => !f.parked)
            .map((f) => rowOf(f, 1))}
        </div>
      )}
      <div className="mt-3">
        {tree.parked.length > 0 && (
          <CabinetRow icon={<ParkingSquare size={18} />} name="Parked" count={tree.parked.length} fold={toggle("parked")} />
        )}
        {open.parked && (
          <div role="tree" aria-label="Parked folders">
            {tree.parked.map((f) => rowOf(f, 2))}
          </div>
        )}
        <CabinetRow icon={<Trash2 size={18} />} name="Bin" count={counts?.bin} to={{ place: "bin" }} />
      </div>
      {asked?.what === "new" && <NewFoldersDialog brand={brand} folder={asked.folder} onClose={() => setAsked(undefined)} />}
      {asked?.what === "about" && (
        <FolderCard
          brand={brand}
          folder={tree.all.find((f) => f.id === asked.folder!.id) ?? asked.folder!}
          outside={me.can.includes("galleries")}
          onClose={() => setAsked(undefined)}
        />
      )}
      {asked?.what === "move" && (
        <MoveDialog brand={brand} selection={{}} count={1} folder={asked.folder} onClose={() => setAsked(undefined)} />
      )}
      {asked?.what === "duplicate" && <DuplicateDialog brand={brand} folder={asked.folder!} onClose={() => setAsked(undefined)} />}
      {asked?.what === "remove" && (
        <RemoveFolderDialog
          brand={brand}
          folder={asked.folder!}
          inside={tree.inside(asked.folder!.id).length}
          parent={asked.folder!.parent === undefined ? undefined : tree.byId.get(asked.folder!.parent)?.name}
          onClose={() => setAsked(undefined)}
        />
      )}
    </section>
  );
}
