import { FolderTree } from "lucide-react";
import { useMemo } from "react";
import type { Me } from "~/api/client";
import { useAlbums, useFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { useBrand, usePlace } from "~/sheet/place";
import { albumsFromFolder } from "./acts";
import { AlbumCard } from "./AlbumCard";
import { Albums } from "./Albums";
import { albumTree } from "./tree";

/** GatherBoard is the board of gathering: the album that is open, and all albums as places to open and to drop onto. */
export function GatherBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const albums = useAlbums(brand).data;
  const folders = useFolders(brand).data;
  const tree = useMemo(() => albumTree(albums ?? []), [albums]);
  const open = place.place === "album" && place.id !== undefined ? tree.byId.get(place.id) : undefined;
  const folder = place.place === "folder" ? folders?.find((f) => f.id === place.id) : undefined;
  const below = folders?.some((f) => f.parent === folder?.id) ?? false;
  return (
    <div className="space-y-6">
      {open && <AlbumCard key={open.id} me={me} album={open} tree={tree} />}
      {folder && me.can.includes("gather") && (
        <section aria-label="From the folder" className="space-y-2">
          <h2 className="text-lg">From “{folder.name}”</h2>
          <span className="flex flex-wrap gap-2">
            <Button icon={<FolderTree size={16} />} onClick={() => void albumsFromFolder(brand, folder.id, false)}>
              An album of this folder
            </Button>
            {below && (
              <Button icon={<FolderTree size={16} />} onClick={() => void albumsFromFolder(brand, folder.id, true)}>
                One for each folder below, too
              </Button>
            )}
          </span>
          <p className="text-dense text-ink-soft">The items stay in their folders. What comes into them later is not added by itself.</p>
        </section>
      )}
      <Albums me={me} />
    </div>
  );
}
