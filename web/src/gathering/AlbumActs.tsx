import { BookImage, BookMinus, BookOpen, Image, ListOrdered } from "lucide-react";
import { later } from "~/kit/later";
import { useState } from "react";
import { type Me, type Selection } from "~/api/client";
import { useAlbums } from "~/api/queries";
import { useKeys } from "~/kit/keys";
import { useCarrying } from "~/satchel/carrying";
import { useOffer } from "~/sheet/offers";
import { useBrand, usePlace } from "~/sheet/place";
import { asSelection, inOrder, useChosen, useCount } from "~/sheet/selection";
import { coverAlbum, takeOut } from "./acts";
import { placeByHand } from "~/api/acts";
import { useOrder } from "~/sheet/order";
import { PlaceDialog } from "./PlaceDialog";
import { stepBy } from "./stepping";

const AddToAlbumDialog = later(async () => (await import("./AddToAlbumDialog")).AddToAlbumDialog);

/** AlbumActs offers, on every step, what albums are for: adding a selection, and in an album taking it out and the cover. */
export function AlbumActs({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const albums = useAlbums(brand).data;
  const count = useCount();
  const carried = useCarrying((s) => s.toAlbum);
  const { query } = useOrder();
  const [adding, setAdding] = useState<{ selection: Selection; count: number; outOf?: number }>();
  const [placing, setPlacing] = useState<number[]>();
  const may = me.can.includes("gather");
  const inAlbum = may && place.place === "album" ? albums?.find((a) => a.id === place.id && !a.rule) : undefined;
  const n = count.toLocaleString("en-GB");
  const add = () => count > 0 && setAdding({ selection: asSelection(), count });
  const move = () => count > 0 && setAdding({ selection: asSelection(), count, outOf: inAlbum!.id });
  const byHand = inAlbum && query.sort === "hand" && !query.filter ? inAlbum : undefined;
  const toPlace = () => count > 0 && setPlacing(inOrder());
  const step = (by: -1 | 1) => {
    const those = inOrder();
    if (those.length > 0)
      stepBy(by, byHand!.id, those, useChosen.getState().ids, (before) => placeByHand(brand, "album", byHand!.id, those, before));
  };
  const takeThemOut = () => count > 0 && void takeOut(brand, inAlbum!.id, asSelection());
  useOffer(
    "Albums",
    may
      ? [
          ...(inAlbum
            ? [
                {
                  label: `Take ${n} out of this album`,
                  icon: <BookMinus size={16} />,
                  first: ["file" as const, "gather" as const],
                  run: takeThemOut,
                },
                { label: `Move ${n} to another album…`, icon: <BookOpen size={16} />, first: ["gather" as const], run: move },
                ...(byHand ? [{ label: `Move ${n} to a place…`, icon: <ListOrdered size={16} />, run: toPlace }] : []),
                ...(count === 1
                  ? [
                      {
                        label: "Make it the cover",
                        icon: <Image size={16} />,
                        run: () => void coverAlbum(brand, inAlbum.id, inOrder()[0]),
                      },
                    ]
                  : []),
              ]
            : []),
          { label: `Add ${n} to an album…`, icon: <BookImage size={16} />, first: ["gather" as const], run: add },
        ]
      : [],
  );
  useKeys("Albums", [
    ...(may ? [{ press: "g", does: "gather the selection in an album…", run: add }] : []),
    ...(byHand
      ? [
          { press: "Ctrl+ArrowLeft", does: "move the selection one place earlier in the album", run: () => step(-1) },
          { press: "Ctrl+ArrowRight", does: "move the selection one place later in the album", run: () => step(1) },
        ]
      : []),
    ...(inAlbum ? [{ press: "Delete", does: "take the selection out of this album", run: takeThemOut }] : []),
  ]);
  return (
    <>
      {placing && byHand && <PlaceDialog brand={brand} album={byHand} ids={placing} onClose={() => setPlacing(undefined)} />}
      {adding && <AddToAlbumDialog brand={brand} {...adding} onClose={() => setAdding(undefined)} />}
      {carried && (
        <AddToAlbumDialog
          brand={brand}
          selection={{ ids: carried }}
          count={carried.length}
          onClose={() => useCarrying.setState({ toAlbum: undefined })}
        />
      )}
    </>
  );
}
