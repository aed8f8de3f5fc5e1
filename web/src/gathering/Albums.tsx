import { BookPlus, ChevronDown, ChevronRight } from "lucide-react";
import { later } from "~/kit/later";
import { useMemo, useState } from "react";
import type { Me } from "~/api/client";
import { useAlbums } from "~/api/queries";
import { foundBy } from "~/kit/completion";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Dialog } from "~/kit/Dialog";
import { items, plural } from "~/kit/words";
import { useBrand } from "~/sheet/place";
import { removeAlbum } from "./acts";
import { AlbumNameDialog } from "./AlbumNameDialog";
import { AlbumBranch, AlbumRow, type Asked } from "./AlbumRow";
import { CoverDialog } from "./CoverDialog";
import { PutAlbumDialog } from "./PutAlbumDialog";
import { albumTree } from "./tree";

const Builder = later(async () => (await import("~/sheet/builder/Builder")).Builder);
const AddToAlbumDialog = later(async () => (await import("./AddToAlbumDialog")).AddToAlbumDialog);

/** From so many albums on there is a field to find one. */
const manyAlbums = 9;
const mostFound = 60;

/** Albums are the albums as rows in each other, which one opens and drops onto. Those that are parked are out of sight. */
export function Albums({ me }: { me: Me }) {
  const brand = useBrand();
  const albums = useAlbums(brand).data;
  const [asked, setAsked] = useState<Asked>();
  const [words, setWords] = useState("");
  const [parked, setParked] = useState(false);
  const tree = useMemo(() => albumTree(albums ?? []), [albums]);
  const may = me.can.includes("gather");
  if (!may && albums?.length === 0) return null;
  const row = { tree, may, filesToo: may && me.everywhere.includes("bring_in"), ask: setAsked };
  const wanted = words.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const found = foundBy(words, tree.all, (a) => tree.path(a.id));
  const away = tree.all.filter((a) => a.parked);
  const close = () => setAsked(undefined);
  return (
    <section aria-label="Albums" className="mt-5 first:mt-0">
      <header className="mb-1 flex items-center gap-1">
        <h2 className="flex-1 text-lg">Albums</h2>
        {may && <IconButton label="New album" icon={<BookPlus size={18} />} onClick={() => setAsked({ what: "new" })} />}
      </header>
      {tree.all.length >= manyAlbums && (
        <input
          type="search"
          aria-label="Find an album"
          placeholder="Find an album"
          className="mb-1 w-full rounded-patch border border-line bg-card px-2.5 py-1 placeholder:text-ink-soft"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {albums?.length === 0 && (
        <p className="text-ink-soft">An album is an ordered pick that copies nothing. Select some items and gather them.</p>
      )}
      {wanted.length > 0 ? (
        <ul aria-label="Albums found">
          {found.slice(0, mostFound).map((a) => (
            <AlbumRow key={a.id} {...row} album={a} level={0} />
          ))}
          {found.length === 0 && <li className="text-ink-soft">No album has that in its name.</li>}
        </ul>
      ) : (
        <ul>
          {tree
            .in(undefined)
            .filter((a) => !a.parked)
            .map((a) => (
              <AlbumBranch key={a.id} {...row} album={a} level={0} />
            ))}
        </ul>
      )}
      {wanted.length === 0 && away.length > 0 && (
        <>
          <button
            type="button"
            aria-expanded={parked}
            className="mt-1 flex min-h-8 w-full items-center gap-1.5 rounded-patch px-1 text-left text-ink-soft hover:bg-sunk"
            onClick={() => setParked(!parked)}
          >
            {parked ? <ChevronDown size={16} /> : <ChevronRight size={16} />} Parked
            <span className="ml-auto pr-1 text-dense">{away.length}</span>
          </button>
          {parked && (
            <ul aria-label="Parked albums">
              {away.map((a) => (
                <AlbumRow key={a.id} {...row} album={a} level={0} />
              ))}
            </ul>
          )}
        </>
      )}
      {asked?.what === "new" && <AlbumNameDialog brand={brand} parent={asked.parent} onClose={close} />}
      {asked?.what === "rename" && <AlbumNameDialog brand={brand} album={asked.album} onClose={close} />}
      {asked?.what === "cover" && <CoverDialog brand={brand} album={asked.album} onClose={close} />}
      {asked?.what === "put" && <PutAlbumDialog brand={brand} album={asked.album} tree={tree} onClose={close} />}
      {asked?.what === "rule" && <Builder from={asked.album.rule} album={asked.album} mayKeep onClose={close} />}
      {asked?.what === "freeze" && (
        <AddToAlbumDialog
          brand={brand}
          selection={{ everything: { place: "album", id: asked.album.id } }}
          count={asked.album.items}
          onClose={close}
        />
      )}
      {asked?.what === "remove" && (
        <Dialog
          title={`Remove the album “${asked.album.name}”?`}
          about={stays(asked.album.items, tree.in(asked.album.id).length)}
          onClose={close}
        >
          <span className="flex flex-wrap gap-2">
            <Button
              tone="danger"
              onClick={() => {
                void removeAlbum(brand, asked.album.id, false);
                close();
              }}
            >
              Remove the album
            </Button>
            {tree.in(asked.album.id).length > 0 && (
              <Button
                tone="danger"
                onClick={() => {
                  void removeAlbum(brand, asked.album.id, true);
                  close();
                }}
              >
                Remove it with the albums in it
              </Button>
            )}
          </span>
        </Dialog>
      )}
    </section>
  );
}

const stays = (count: number, inside: number) =>
  (count === 0
    ? "It is empty."
    : count === 1
      ? "Its item stays in the library, where it lives."
      : `Its ${items(count)} stay in the library, where they live.`) +
  (inside > 0 ? ` ${plural(inside, "album")} in it ${inside === 1 ? "moves" : "move"} up, unless you remove them too.` : "");
