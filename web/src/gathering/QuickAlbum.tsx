import { Zap } from "lucide-react";
import { usePreferences } from "~/api/preferences";
import { useAlbums } from "~/api/queries";
import { useKeys } from "~/kit/keys";
import { warn } from "~/kit/notes";
import { asSelection, useCount } from "~/sheet/selection";
import { addTo } from "./acts";

/** QuickAlbum is, in the strap, the album that one key adds to. */
export function QuickAlbum({ brand }: { brand: string }) {
  const id = usePreferences(brand).quickAlbum;
  const album = useAlbums(brand).data?.find((a) => a.id === id && !a.rule);
  const count = useCount();
  const add = () => {
    if (!album) return warn("There is no quick-add album yet. The menu of an album makes it that.");
    if (count > 0) void addTo(brand, album.id, asSelection());
  };
  useKeys("Albums", [{ press: "w", does: album ? `add the selection to “${album.name}”` : "add to the quick-add album", run: add }]);
  if (!album) return null;
  return (
    <button
      type="button"
      className="flex shrink-0 items-center gap-1.5 rounded-patch px-1.5 py-1 text-dense hover:bg-sunk disabled:text-ink-soft"
      disabled={count === 0}
      title={`W adds the selection to “${album.name}”`}
      onClick={add}
      data-quick-album={album.name}
    >
      <Zap size={15} className="shrink-0" aria-hidden="true" />
      <span className="max-w-28 truncate max-lg:hidden">W: {album.name}</span>
    </button>
  );
}
