import { clsx } from "clsx";
import { BookImage, ChevronDown, ChevronRight, ListFilter, MoreHorizontal, Zap } from "lucide-react";
import { mediaAddress, type Schema } from "~/api/client";
import { prefer, usePreferences } from "~/api/preferences";
import { useMe } from "~/api/queries";
import { IconButton } from "~/kit/IconButton";
import { Menu, type MenuItem } from "~/kit/Menu";
import { useCarrying } from "~/satchel/carrying";
import { useDropTarget } from "~/sheet/drag";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { addTo, duplicateAlbum, parkAlbum } from "./acts";
import type { AlbumTree } from "./tree";

type Album = Schema["Album"];

/** What is asked about an album in a dialog. */
export type Asked = { what: "new"; parent?: number } | { what: "rename" | "cover" | "remove" | "rule" | "freeze" | "put"; album: Album };

interface Row {
  album: Album;
  tree: AlbumTree;
  level: number;
  may: boolean;
  filesToo: boolean;
  ask: (asked: Asked) => void;
}

/** AlbumBranch is an album in the list, with those in it below when it is unfolded. */
export function AlbumBranch(p: Row) {
  const brand = useBrand();
  const unfolded = usePreferences(brand).unfoldedAlbums ?? [];
  const inside = p.tree.in(p.album.id).filter((a) => !a.parked);
  const open = unfolded.includes(p.album.id);
  const fold = () =>
    prefer(brand, { unfoldedAlbums: open ? unfolded.filter((id) => id !== p.album.id) : [...unfolded.slice(-500), p.album.id] });
  return (
    <>
      <AlbumRow {...p} fold={inside.length > 0 ? { open, toggle: fold } : undefined} />
      {open && inside.map((a) => <AlbumBranch key={a.id} {...p} album={a} level={p.level + 1} />)}
    </>
  );
}

/** AlbumRow is one album: it opens, takes what is dropped on it, and has a menu. */
export function AlbumRow({ album, tree, level, may, filesToo, ask, fold }: Row & { fold?: { open: boolean; toggle: () => void } }) {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const quick = usePreferences(brand).quickAlbum === album.id;
  const sends = useMe().data?.can.includes("galleries") ?? false;
  const here = place.place === "album" && place.id === album.id;
  const { ref, over, carrying } = useDropTarget<HTMLLIElement>(
    may && !album.rule ? (ids) => void addTo(brand, album.id, { ids }) : undefined,
    filesToo && !album.rule ? { album: album.id } : undefined,
  );
  return (
    <li
      ref={ref}
      data-album={album.name}
      data-level={level}
      className={clsx(
        "flex min-h-11 items-center gap-1 rounded-patch pr-1",
        here ? "bg-saffron-wash" : "hover:bg-sunk",
        over && "drop-here",
      )}
      style={{ paddingLeft: `${Math.min(level, 6) * 16}px` }}
    >
      {fold ? (
        <IconButton
          label={fold.open ? `Fold ${album.name}` : `Unfold ${album.name}`}
          aria-expanded={fold.open}
          className="size-6"
          icon={fold.open ? <ChevronDown size={16} /> : <ChevronRight size={16} />}
          onClick={fold.toggle}
        />
      ) : (
        <span className={tree.nested ? "w-6" : "w-1.5"} />
      )}
      <button
        type="button"
        data-row
        className="flex min-w-0 flex-1 items-center gap-2.5 py-1 text-left"
        aria-current={here ? "page" : undefined}
        onClick={() => goTo({ place: "album", id: album.id })}
        title={tree.path(album.id)}
      >
        <span className="grid size-9 shrink-0 place-items-center overflow-hidden rounded bg-sunk text-ink-soft">
          {album.cover ? (
            <img alt="" src={mediaAddress(brand, album.cover, "small")} className="size-full object-cover" />
          ) : (
            <BookImage size={18} />
          )}
        </span>
        <span className="truncate">{album.name}</span>
        {album.rule && <ListFilter size={14} className="shrink-0 text-ink-soft" aria-label="kept filled by a rule" />}
        {quick && <Zap size={14} className="shrink-0 text-ink-soft" aria-label="the quick-add album" />}
        {over && carrying > 0 && (
          <span className="shrink-0 rounded-full bg-saffron px-2 text-small font-semibold text-on-saffron">Add {carrying}</span>
        )}
      </button>
      <span className="text-dense text-ink-soft">{album.items.toLocaleString("en-GB")}</span>
      {may && (
        <Menu
          trigger={<IconButton label={`More about ${album.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
          items={menuOf(brand, album, tree, quick, sends, ask)}
        />
      )}
    </li>
  );
}

function menuOf(
  brand: string,
  album: Album,
  tree: AlbumTree,
  quick: boolean,
  sends: boolean,
  ask: (asked: Asked) => void,
): (MenuItem | null)[] {
  const nested = tree.in(album.id).length > 0;
  return [
    { label: "Rename", onSelect: () => ask({ what: "rename", album }) },
    ...(album.rule
      ? [
          { label: "Change the rule…", onSelect: () => ask({ what: "rule", album }) },
          { label: "Gather what it shows…", onSelect: () => ask({ what: "freeze", album }) },
        ]
      : [
          {
            label: quick ? "No quick-add album any more" : "Make it the quick-add album",
            onSelect: () => prefer(brand, { quickAlbum: quick ? undefined : album.id }),
          },
        ]),
    null,
    { label: "New album in it", onSelect: () => ask({ what: "new", parent: album.id }) },
    { label: "Its cover…", onSelect: () => ask({ what: "cover", album }) },
    { label: "Put into another album…", onSelect: () => ask({ what: "put", album }) },
    { label: "Duplicate", onSelect: () => void duplicateAlbum(brand, album.id, false) },
    ...(nested ? [{ label: "Duplicate with the albums in it", onSelect: () => void duplicateAlbum(brand, album.id, true) }] : []),
    ...(sends && album.items > 0
      ? [
          {
            label: "Send it to pages…",
            onSelect: () =>
              useCarrying.setState({
                toPages: { selection: { everything: { place: "album", id: album.id } }, count: album.items },
              }),
          },
        ]
      : []),
    { label: album.parked ? "Take out of parking" : "Park", onSelect: () => void parkAlbum(brand, album.id, !album.parked) },
    null,
    { label: "Remove", danger: true, onSelect: () => ask({ what: "remove", album }) },
  ];
}
