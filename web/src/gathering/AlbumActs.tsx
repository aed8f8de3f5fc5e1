import { BookImage, BookMinus, Image } from "lucide-react";
import { useState } from "react";
import { type Me, type Selection } from "~/api/client";
import { useAlbums } from "~/api/queries";
import { useKeys } from "~/kit/keys";
import { useCarrying } from "~/satchel/carrying";
import { useOffer } from "~/sheet/offers";
import { useBrand, usePlace } from "~/sheet/place";
import { asSelection, inOrder, useCount } from "~/sheet/selection";
import { coverAlbum, takeOut } from "./acts";
import { AddToAlbumDialog } from "./AlbumDialogs";

/** AlbumActs offers, on every step, what albums are for: adding a selection, and in an album taking it out and the cover. */
export function AlbumActs({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const albums = useAlbums(brand).data;
  const count = useCount();
  const carried = useCarrying((s) => s.toAlbum);
  const [adding, setAdding] = useState<{ selection: Selection; count: number }>();
  const may = me.can.includes("gather");
  const inAlbum = may && place.place === "album" ? albums?.find((a) => a.id === place.id && !a.rule) : undefined;
  const n = count.toLocaleString("en-GB");
  const add = () => count > 0 && setAdding({ selection: asSelection(), count });
  const takeThemOut = () => count > 0 && void takeOut(brand, inAlbum!.id, asSelection());
  useOffer(
    "Albums",
    may
      ? [
          ...(inAlbum
            ? [
                { label: `Take ${n} out of this album`, icon: <BookMinus size={16} />, first: ["file" as const], run: takeThemOut },
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
          { label: `Add ${n} to an album…`, icon: <BookImage size={16} />, run: add },
        ]
      : [],
  );
  useKeys("Albums", [
    ...(may ? [{ press: "g", does: "gather the selection in an album…", run: add }] : []),
    ...(inAlbum ? [{ press: "Delete", does: "take the selection out of this album", run: takeThemOut }] : []),
  ]);
  return (
    <>
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
