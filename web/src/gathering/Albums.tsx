import { clsx } from "clsx";
import { BookImage, BookPlus, ListFilter, MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { mediaAddress, type Me, type Schema } from "~/api/client";
import { useAlbums } from "~/api/queries";
import { Button, IconButton } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Menu } from "~/kit/Menu";
import { useDropTarget } from "~/sheet/drag";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { addTo, removeAlbum } from "./acts";
import { Builder } from "~/sheet/builder/Builder";
import { AddToAlbumDialog, AlbumNameDialog } from "./AlbumDialogs";

type Album = Schema["Album"];
type Asked = { what: "new" } | { what: "rename" | "remove" | "rule" | "freeze"; album: Album };

/** Albums is the part of the cabinet with the albums: rows that one opens and drops onto. */
export function Albums({ me }: { me: Me }) {
  const brand = useBrand();
  const albums = useAlbums(brand).data;
  const [asked, setAsked] = useState<Asked>();
  const may = me.can.includes("gather");
  if (!may && albums?.length === 0) return null;
  return (
    <section aria-label="Albums" className="mt-5">
      <header className="mb-1 flex items-center gap-1">
        <h2 className="flex-1 text-lg">Albums</h2>
        {may && <IconButton label="New album" icon={<BookPlus size={18} />} onClick={() => setAsked({ what: "new" })} />}
      </header>
      {albums?.length === 0 && (
        <p className="text-ink-soft">An album is an ordered pick that copies nothing. Select some items and gather them.</p>
      )}
      <ul>
        {albums?.map((a) => (
          <AlbumRow key={a.id} album={a} may={may} filesToo={may && me.everywhere.includes("bring_in")} ask={setAsked} />
        ))}
      </ul>
      {asked?.what === "new" && <AlbumNameDialog brand={brand} onClose={() => setAsked(undefined)} />}
      {asked?.what === "rename" && <AlbumNameDialog brand={brand} album={asked.album} onClose={() => setAsked(undefined)} />}
      {asked?.what === "rule" && <Builder from={asked.album.rule} album={asked.album} mayKeep onClose={() => setAsked(undefined)} />}
      {asked?.what === "freeze" && (
        <AddToAlbumDialog
          brand={brand}
          selection={{ everything: { place: "album", id: asked.album.id } }}
          count={asked.album.items}
          onClose={() => setAsked(undefined)}
        />
      )}
      {asked?.what === "remove" && (
        <Dialog
          title={`Remove the album “${asked.album.name}”?`}
          about="Its items stay in the library."
          onClose={() => setAsked(undefined)}
        >
          <Button
            tone="danger"
            onClick={() => {
              void removeAlbum(brand, asked.album.id);
              setAsked(undefined);
            }}
          >
            Remove the album
          </Button>
        </Dialog>
      )}
    </section>
  );
}

function AlbumRow({ album, may, filesToo, ask }: { album: Album; may: boolean; filesToo: boolean; ask: (asked: Asked) => void }) {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const here = place.place === "album" && place.id === album.id;
  const { ref, over, carrying } = useDropTarget<HTMLLIElement>(
    may && !album.rule ? (ids) => void addTo(brand, album.id, { ids }) : undefined,
    filesToo && !album.rule ? { album: album.id } : undefined,
  );
  return (
    <li
      ref={ref}
      data-album={album.name}
      className={clsx(
        "flex min-h-11 items-center gap-1 rounded-patch pr-1",
        here ? "bg-saffron-wash" : "hover:bg-sunk",
        over && "drop-here",
      )}
    >
      <button
        type="button"
        data-row
        className="flex min-w-0 flex-1 items-center gap-2.5 py-1 pl-1.5 text-left"
        aria-current={here ? "page" : undefined}
        onClick={() => goTo({ place: "album", id: album.id })}
        title={album.name}
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
        {over && carrying > 0 && (
          <span className="shrink-0 rounded-full bg-saffron px-2 text-small font-semibold text-on-saffron">Add {carrying}</span>
        )}
      </button>
      <span className="text-dense text-ink-soft">{album.items}</span>
      {may && (
        <Menu
          trigger={<IconButton label={`More about ${album.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
          items={[
            { label: "Rename", onSelect: () => ask({ what: "rename", album }) },
            ...(album.rule
              ? [
                  { label: "Change the rule…", onSelect: () => ask({ what: "rule", album }) },
                  { label: "Gather what it shows…", onSelect: () => ask({ what: "freeze", album }) },
                ]
              : []),
            null,
            { label: "Remove", danger: true, onSelect: () => ask({ what: "remove", album }) },
          ]}
        />
      )}
    </li>
  );
}
