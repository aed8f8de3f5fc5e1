import { useDrag } from "@use-gesture/react";
import { ChevronLeft, ChevronRight, FileQuestion, ScanFace, SquareDashedMousePointer, ZoomIn } from "lucide-react";
import { useCallback, useEffect, useState } from "react";
import { mediaAddress, type AssetRow } from "~/api/client";
import { useAsset } from "~/api/queries";
import { useRow } from "~/api/rows";
import { IconButton } from "~/kit/IconButton";
import { useSettings } from "~/kit/settings";
import { useKeys } from "~/kit/keys";
import { plural, titleOf } from "~/kit/words";
import { BigBar } from "./BigBar";
import { Outlined } from "./Outlines";
import { drawFace } from "./acts";
import { Zoomed, look } from "./Zoomed";
import { bounded, newZoom, zoomedAbout, type ZoomStore } from "./zoom";

export const grounds = { paper: "bg-sunk", grey: "bg-grey", night: "bg-night" };

/** BigView shows one item large in the place of the sheet; the board beside it stays. */
export function BigView({ brand, id, onView }: { brand: string; id: number; onView: (seen: number[]) => void }) {
  const row = useRow(id);
  const backdrop = useSettings((s) => s.backdrop);
  const [outlines, setOutlines] = useState(false);
  const [drawing, setDrawing] = useState(false);
  const [fresh, setFresh] = useState<number>();
  const still = row?.kind === "picture" || row?.kind === "vector" || (row?.kind === "document" && (row.pages ?? 1) < 2);
  const asset = useAsset(brand, still ? id : undefined).data;
  const faces = asset?.faces.length ?? 0;
  const draws = still && row?.kind === "picture" && (asset?.may.includes("describe") ?? false);
  const [zoom] = useState(newZoom);
  const focal = useFocal(brand, still ? id : undefined, zoom);
  const toggle = () => row && look(zoom, row, document.querySelector<HTMLElement>("[data-zoomed] img"), focal ?? { x: 0.5, y: 0.5 });
  const by = (factor: number) => zoom.setState(zoomedAbout(zoom.getState(), factor));
  /** drawInTheMiddle is for whoever has no pointer: the outline is put in its place by keys. */
  const drawInTheMiddle = async () => {
    setOutlines(true);
    const done = await drawFace(brand, id, { x: 0.4, y: 0.35, width: 0.2, height: 0.3 });
    setFresh(done?.id);
  };
  const drawn = useCallback((face: number | undefined) => {
    setDrawing(false);
    if (face) setOutlines(true);
    setFresh(face);
  }, []);
  useKeys(
    "The big view",
    still
      ? [
          { press: "d", does: "see the detail pixel for pixel, or the whole again", run: toggle },
          { press: "+", does: "closer", run: () => by(1.5) },
          { press: "-", does: "further away", run: () => by(1 / 1.5) },
          ...(faces > 0 ? [{ press: "f", does: "outline the faces, or not", run: () => setOutlines(!outlines) }] : []),
        ]
      : [],
  );
  return (
    <div className={`relative flex min-h-0 flex-1 flex-col ${grounds[backdrop]}`} data-big-view={id}>
      <div className="grid min-h-0 flex-1 place-items-center p-4">
        {row?.kind === "clip" ? (
          <video
            key={id}
            src={mediaAddress(brand, row, "film")}
            poster={mediaAddress(brand, row, "large")}
            controls
            className="max-h-full max-w-full"
            aria-label={titleOf(row)}
          />
        ) : row?.kind === "file" ? (
          <p className="max-w-sm rounded-lg bg-card p-6 text-center">
            <FileQuestion size={32} className="mx-auto mb-2" aria-hidden="true" />
            {row.fileName} is kept as it is. It cannot be shown here.
          </p>
        ) : row?.kind === "animation" ? (
          <img
            key={id}
            src={mediaAddress(brand, row, "film")}
            alt={row.alt || titleOf(row)}
            className="max-h-full max-w-full min-h-0 object-contain"
          />
        ) : row?.kind === "document" && (row.pages ?? 1) > 1 ? (
          <Pages key={id} brand={brand} row={row} pages={row.pages!} />
        ) : (
          row && (
            <Outlined brand={brand} id={id} shown={outlines || drawing} drawing={drawing} onDrawn={drawn} fresh={fresh} zoom={zoom}>
              <Zoomed key={id} brand={brand} row={row} zoom={zoom} />
            </Outlined>
          )
        )}
      </div>
      <BigBar id={id} onView={onView}>
        {still && <IconButton label="Detail, pixel for pixel" icon={<ZoomIn size={18} />} onClick={toggle} />}
        {faces > 0 && (
          <IconButton
            label={outlines ? "Hide the outlines of faces" : `Outline ${plural(faces, "face")}`}
            aria-pressed={outlines}
            icon={<ScanFace size={18} />}
            onClick={() => setOutlines(!outlines)}
          />
        )}
        {draws && (
          <IconButton
            label={drawing ? "Draw no outline" : "Draw an outline around a face"}
            aria-pressed={drawing}
            icon={<SquareDashedMousePointer size={18} />}
            onClick={(e) => (e.detail === 0 ? void drawInTheMiddle() : setDrawing(!drawing))}
          />
        )}
      </BigBar>
    </div>
  );
}

/** useFocal is the point of an item that is looked at closely: the largest face or what catches the eye. Whoever looks closely and
 * goes on sees that of the next one. */
function useFocal(brand: string, id: number | undefined, zoom: ZoomStore) {
  const asset = useAsset(brand, id).data;
  const focal = asset && { x: asset.focalX ?? 0.5, y: asset.focalY ?? 0.5 };
  const there = focal !== undefined;
  useEffect(() => {
    const z = zoom.getState();
    if (z.scale > 1 && focal) zoom.setState(bounded({ ...z, ...focal }));
    // when another one is seen, and not whenever what is known of it changes
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, there, zoom]);
  return focal;
}

/** Pages looks through a document. */
function Pages({ brand, row, pages }: { brand: string; row: AssetRow; pages: number }) {
  const [page, setPage] = useState(1);
  const name = titleOf(row);
  const leaf = (by: 1 | -1) => setPage((at) => Math.min(pages, Math.max(1, at + by)));
  useKeys("The document", [
    { press: "PageDown", does: "next page", run: () => leaf(1) },
    { press: "PageUp", does: "page before", run: () => leaf(-1) },
  ]);
  const swipe = useDrag(
    ({ swipe: [x] }) => {
      if (x !== 0) leaf(x < 0 ? 1 : -1);
    },
    { axis: "x", filterTaps: true },
  );
  return (
    <div {...swipe()} className="flex h-full min-h-0 touch-pan-y flex-col items-center gap-2" data-pages={pages}>
      <img
        key={page}
        src={mediaAddress(brand, row, `page-${page}`)}
        alt={`${name}, page ${page}`}
        draggable={false}
        className="min-h-0 max-w-full flex-1 object-contain shadow"
      />
      <div className="flex items-center gap-2 rounded-full bg-card px-2">
        <IconButton label="Page before" icon={<ChevronLeft size={18} />} disabled={page <= 1} onClick={() => leaf(-1)} />
        <span>
          page {page} of {pages}
        </span>
        <IconButton label="Next page" icon={<ChevronRight size={18} />} disabled={page >= pages} onClick={() => leaf(1)} />
      </div>
    </div>
  );
}
