import { FolderUp, ImagePlus } from "lucide-react";
import { useRef, useState } from "react";
import type { Me } from "~/api/client";
import { useAlbums, useFolders, useIntakes } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice } from "~/kit/Field";
import { when } from "~/kit/words";
import { useDropTarget } from "~/sheet/drag";
import { bringInto, pickedFiles, type Target } from "~/sheet/dropped";
import { pathOf } from "~/sheet/Heading";
import { usePlace } from "~/sheet/place";
import { sumOf } from "./Progress";

/** BringInBoard says where files will go, before they go, and lists what came in last. */
export function BringInBoard({ me }: { me: Me }) {
  const { brand, place, goTo } = usePlace();
  const folders = useFolders(brand).data ?? [];
  const albums = useAlbums(brand).data ?? [];
  const intakes = useIntakes(brand).data;
  const open = place.place === "folder" ? place.id : undefined;
  const [chosen, setChosen] = useState<number>();
  const folder = chosen ?? open ?? 0;
  const album = place.place === "album" ? albums.find((a) => a.id === place.id) : undefined;
  const target: Target = { folder: folder || undefined, album: album?.id };
  const possible = folders.filter((f) => f.may.includes("bring_in"));
  const options = [...(me.role === "steward" || me.role === "coordinator" ? [{ value: 0, label: "Unfiled" }] : []), ...possible.map((f) => ({ value: f.id, label: pathOf(folders, f.id).map((p) => p.name).join(" / ") }))];
  const { ref, over } = useDropTarget<HTMLDivElement>(undefined, target);
  const files = useRef<HTMLInputElement>(null);
  const tree = useRef<HTMLInputElement>(null);
  const pick = (input: HTMLInputElement) => {
    bringInto(pickedFiles(input.files!), target);
    input.value = "";
  };
  return (
    <div className="space-y-5">
      <section>
        <h2 className="mb-2 text-lg">Bring in</h2>
        <Choice label="They will go to" value={folder} options={options} onChange={setChosen} />
        {album && <p className="mt-1 text-dense text-ink-soft">and into the album “{album.name}”, which is open</p>}
        <div ref={ref} className={`mt-3 rounded-lg border border-dashed border-line-strong p-4 text-center ${over ? "drop-here" : ""}`}>
          <p className="mb-3 text-ink-soft">Drop files or whole folders here, or anywhere on the sheet.</p>
          <div className="flex flex-wrap justify-center gap-2">
            <Button tone="main" icon={<ImagePlus size={18} />} onClick={() => files.current!.click()}>
              Choose files
            </Button>
            <Button icon={<FolderUp size={18} />} onClick={() => tree.current!.click()}>
              Choose a folder
            </Button>
          </div>
          <input ref={files} type="file" multiple hidden aria-label="Files to bring in" onChange={(e) => pick(e.target)} />
          <input ref={tree} type="file" hidden aria-label="Folder to bring in" {...{ webkitdirectory: "" }} onChange={(e) => pick(e.target)} />
        </div>
        <p className="mt-2 text-small text-ink-soft">JPEG, PNG, GIF, WebP, AVIF, HEIC, TIFF, SVG, PDF, MP4, MOV, WebM. What is here already is skipped.</p>
      </section>
      <section>
        <h2 className="mb-2 text-lg">Just in</h2>
        {intakes?.length === 0 && <p className="text-ink-soft">Nothing yet. The first batch will be listed here with what came of every file.</p>}
        <ul>
          {intakes?.map((i) => (
            <li key={i.id}>
              <button
                type="button"
                aria-current={place.place === "intake" && place.id === i.id ? "true" : undefined}
                onClick={() => goTo({ place: "intake", id: i.id })}
                className="block w-full rounded-patch px-2 py-1.5 text-left hover:bg-sunk aria-[current]:bg-saffron-wash"
              >
                <span className="block">{sumOf(i)}</span>
                <span className="block text-small text-ink-soft">
                  {i.by}, {when(i.started)}
                  {i.folderName ? `, to ${i.folderName}` : ""}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
