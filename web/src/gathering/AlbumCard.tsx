import { ArrowDownUp } from "lucide-react";
import { type Me, type Schema } from "~/api/client";
import { useAlbumChoice, useRuleCounts } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Switch } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { items, plural } from "~/kit/words";
import { firstIn, useOrder } from "~/sheet/order";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { selectThese } from "~/sheet/selection";
import { ShownIn } from "~/sheet/ShownIn";
import { describeAlbum, followChoice, forgetChoice, keepOrder, renameAlbum } from "./acts";
import type { AlbumTree } from "./tree";

type Album = Schema["Album"];

/** AlbumCard is about the album that is open: its name and words, what is in it and below it, its order, what it was chosen by, and who
 * sees it. */
export function AlbumCard({ me, album, tree }: { me: Me; album: Album; tree: AlbumTree }) {
  const brand = useBrand();
  const may = me.can.includes("gather");
  return (
    <section aria-label="The album" className="space-y-3" data-album-card={album.id}>
      <h2 className="text-lg break-words">{album.name}</h2>
      <Within album={album} tree={tree} />
      {may && (
        <>
          <SavedField
            label="Name"
            keepAs={`album ${album.id} name`}
            maxLength={200}
            value={album.name}
            onSave={(name) => renameAlbum(brand, album.id, name)}
          />
          <SavedField
            label="Description"
            kind="text"
            maxLength={5000}
            value={album.description}
            onSave={(text) => describeAlbum(brand, album.id, text)}
          />
        </>
      )}
      {!may && album.description && <p>{album.description}</p>}
      {may && !album.rule && <Order album={album} />}
      {may && album.chosen && <Chosen album={album} />}
      {me.can.includes("galleries") && <ShownIn brand={brand} album={album.id} />}
    </section>
  );
}

/** Within says how many items are in the album, and with the albums in it, each once; one can look at either. */
function Within({ album, tree }: { album: Album; tree: AlbumTree }) {
  const brand = useBrand();
  const place = usePlace();
  const { change, goTo } = useGo();
  const nested = tree.in(album.id).length > 0;
  const rules = nested ? [{ field: "album" as const, ids: [album.id], below: true }] : [];
  const below = useRuleCounts(brand, { place: "album", id: album.id, below: true }, rules).data?.items[0];
  return (
    <div>
      <p>
        {items(album.items)}
        {nested && below !== undefined && `, ${below.toLocaleString("en-GB")} with the albums in it, each once`}
      </p>
      {album.parent !== undefined && tree.byId.has(album.parent) && (
        <p className="text-dense text-ink-soft">
          in{" "}
          <button type="button" className="text-sea underline" onClick={() => goTo({ place: "album", id: album.parent })}>
            {tree.path(album.parent)}
          </button>
        </p>
      )}
      {nested && (
        <Switch
          label="Show the albums in it, too"
          checked={!!place.below}
          onChange={(on) => change({ below: on || undefined, sort: undefined, descending: undefined })}
        />
      )}
    </div>
  );
}

/** Order offers to make the order one looks at the one made by hand. */
function Order({ album }: { album: Album }) {
  const brand = useBrand();
  const place = usePlace();
  const { query } = useOrder();
  const { change } = useGo();
  const sort = query.sort ?? "hand";
  if (place.below) return null;
  if (sort === "hand" || sort === "fit")
    return (
      <p className="text-dense text-ink-soft">In the order made by hand: drag, press Ctrl with an arrow, or “Move to a place…” below.</p>
    );
  const keep = async () => {
    if (await keepOrder(brand, album.id, sort, !!query.descending)) change({ sort: "hand", descending: false });
  };
  return (
    <div className="space-y-1.5">
      <p className="text-dense">
        You look at it in another order, {firstIn(sort, !!query.descending).toLowerCase()} first. The one made by hand is kept.
      </p>
      <Button icon={<ArrowDownUp size={16} />} onClick={() => void keep()}>
        Keep this order instead
      </Button>
    </div>
  );
}

/** Chosen says how far the album is from the choice that it was made of, and offers to follow. */
function Chosen({ album }: { album: Album }) {
  const brand = useBrand();
  const standing = useAlbumChoice(brand, album.id).data;
  if (!standing?.said) return null;
  const { gone, more } = standing;
  return (
    <div className="space-y-1.5 rounded-patch bg-sunk p-2.5" data-choice={`${gone} ${more}`}>
      <p className="text-dense">
        Made of a choice: <strong className="font-medium">{standing.said}</strong>. {gone + more === 0 && "It still matches."}
        {gone > 0 && `${items(gone)} no longer ${gone === 1 ? "matches" : "match"} since. `}
        {more > 0 && `${plural(more, "more item")} ${more === 1 ? "matches" : "match"} by now.`}
      </p>
      <span className="flex flex-wrap gap-2">
        {gone > 0 && <Button onClick={() => selectThese(standing.goneIds ?? [])}>Select {gone === 1 ? "it" : `the ${gone}`}</Button>}
        {gone + more > 0 && (
          <Button tone="main" onClick={() => void followChoice(brand, album.id)}>
            Follow the choice
          </Button>
        )}
        <Button tone="quiet" onClick={() => void forgetChoice(brand, album.id)}>
          Stop comparing
        </Button>
      </span>
    </div>
  );
}
