import { ChevronDown, ChevronRight, Folder as FolderIcon } from "lucide-react";
import type { Me } from "~/api/client";
import { useFolders, type Folder } from "~/api/queries";
import { useSettings } from "~/kit/settings";
import { plural } from "~/kit/words";
import { useDropTarget } from "~/sheet/drag";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { moveTo } from "./moving";

/** FoldersInside is, before the items of a folder, the folders in it: they open on a click and take what is dropped. */
export function FoldersInside({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const { foldersFirst, set } = useSettings();
  const folders = useFolders(brand).data;
  if (place.place !== "folder" || place.below) return null;
  const inside = folders?.filter((f) => f.parent === place.id && !f.parked) ?? [];
  if (inside.length === 0) return null;
  return (
    <section aria-label="Folders inside" className="flex items-start gap-2 border-b border-line px-4 py-1.5 max-md:flex-col max-md:gap-0">
      <button
        type="button"
        aria-expanded={foldersFirst}
        className="flex min-h-8 shrink-0 items-center gap-1 text-dense text-ink-soft"
        onClick={() => set({ foldersFirst: !foldersFirst })}
      >
        {foldersFirst ? <ChevronDown size={16} aria-hidden="true" /> : <ChevronRight size={16} aria-hidden="true" />}
        {plural(inside.length, "folder")} inside
      </button>
      {foldersFirst && (
        <ul className="flex max-h-20 min-w-0 flex-1 flex-wrap gap-1.5 overflow-y-auto" tabIndex={-1}>
          {inside.map((f) => (
            <Inside key={f.id} brand={brand} folder={f} may={me.can.includes("file") && f.may.includes("file")} />
          ))}
        </ul>
      )}
    </section>
  );
}

function Inside({ brand, folder, may }: { brand: string; folder: Folder; may: boolean }) {
  const { goTo } = useGo();
  const { ref, over } = useDropTarget<HTMLLIElement>(
    may ? (ids) => void moveTo(brand, { ids }, folder.id) : undefined,
    folder.may.includes("bring_in") ? { folder: folder.id } : undefined,
  );
  return (
    <li ref={ref} className={`rounded-patch ${over ? "drop-here" : ""}`}>
      <button
        type="button"
        data-inside={folder.name}
        className="flex min-h-8 max-w-64 items-center gap-1.5 rounded-patch bg-card px-2.5 hover:bg-sunk"
        title={folder.name}
        onClick={() => goTo({ place: "folder", id: folder.id })}
      >
        <FolderIcon size={16} className="shrink-0 text-ink-soft" aria-hidden="true" />
        <span className="truncate">{folder.name}</span>
        <span className="text-dense text-ink-soft">{folder.below.toLocaleString("en-GB")}</span>
      </button>
    </li>
  );
}
