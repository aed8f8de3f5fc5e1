import { clsx } from "clsx";
import { UserRoundX } from "lucide-react";
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode, type RefObject } from "react";
import type { Schema } from "~/api/client";
import { useAsset } from "~/api/queries";
import { NameEntry, peopleGroup } from "./NameEntry";
import { drawFace, dropFace, nameFace, placeFace } from "./acts";
import { between, byKey, corners, moved, pulled, type Corner, type Region } from "./region";
import { transformOf, type ZoomStore } from "./zoom";

type Face = Schema["Face"];

const percent = (r: Region) => ({ left: `${100 * r.x}%`, top: `${100 * r.y}%`, width: `${100 * r.width}%`, height: `${100 * r.height}%` });

/** What an outline shows once it is pointed at or has the focus; on a phone always. */
const onTouch = "opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 max-md:opacity-100";

/** How long after the last arrow key, in milliseconds, an outline is saved where it is. */
const atRest = 500;

/** Outlined draws the outlines of faces over a picture, with the names of those who are known. Whoever may describe the item names,
 * moves, resizes, draws and removes them, by mouse, touch or keys. */
export function Outlined({
  brand,
  id,
  shown,
  drawing,
  onDrawn,
  fresh,
  zoom,
  children,
}: {
  brand: string;
  id: number;
  shown: boolean;
  drawing: boolean;
  onDrawn: (face: number | undefined) => void;
  /** The outline that was drawn last; it takes the focus. */
  fresh?: number;
  zoom: ZoomStore;
  children: ReactNode;
}) {
  const asset = useAsset(brand, shown ? id : undefined).data;
  const frame = useRef<HTMLDivElement>(null);
  const layer = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const follow = () => {
      if (layer.current) layer.current.style.transform = transformOf(zoom.getState());
    };
    follow();
    return zoom.subscribe(follow);
  });
  const box = useBoxOf(frame, shown, id);
  const may = asset?.may.includes("describe") ?? false;
  return (
    <div ref={frame} className="relative grid size-full min-h-0 place-items-center">
      {children}
      {shown && asset && box && (
        <div ref={layer} className="pointer-events-none absolute" style={box} data-outlines={asset.faces.length}>
          {drawing && <Drawing brand={brand} asset={id} onDrawn={onDrawn} />}
          {asset.faces.map((f) => (
            <Outline key={f.id} brand={brand} asset={asset} face={f} layer={layer} may={may && !drawing} fresh={f.id === fresh} />
          ))}
        </div>
      )}
    </div>
  );
}

/** useBoxOf measures the picture inside of a frame. */
function useBoxOf(frame: RefObject<HTMLDivElement | null>, shown: boolean, id: number) {
  const [box, setBox] = useState<{ left: number; top: number; width: number; height: number }>();
  useLayoutEffect(() => {
    const picture = frame.current?.querySelector("img");
    if (!shown || !picture) return;
    const measure = () =>
      setBox({ left: picture.offsetLeft, top: picture.offsetTop, width: picture.offsetWidth, height: picture.offsetHeight });
    const sizes = new ResizeObserver(measure);
    sizes.observe(picture);
    return () => sizes.disconnect();
  }, [frame, shown, id]);
  return box;
}

/** useDrag follows a pointer from where it is pressed, in fractions of a layer. */
function useDrag(layer: RefObject<HTMLElement | null>) {
  return (event: React.PointerEvent, during: (dx: number, dy: number, x: number, y: number) => void, after: (dragged: boolean) => void) => {
    event.stopPropagation();
    event.preventDefault();
    const pad = event.currentTarget as HTMLElement;
    pad.setPointerCapture(event.pointerId);
    const rect = layer.current!.getBoundingClientRect(); // with its zoom
    const [fromX, fromY] = [event.clientX, event.clientY];
    let dragged = false;
    const move = (e: PointerEvent) => {
      dragged ||= Math.hypot(e.clientX - fromX, e.clientY - fromY) > 3;
      if (dragged)
        during(
          (e.clientX - fromX) / rect.width,
          (e.clientY - fromY) / rect.height,
          (e.clientX - rect.x) / rect.width,
          (e.clientY - rect.y) / rect.height,
        );
    };
    const end = () => {
      pad.removeEventListener("pointermove", move);
      pad.removeEventListener("pointerup", end);
      pad.removeEventListener("pointercancel", end);
      after(dragged);
    };
    pad.addEventListener("pointermove", move);
    pad.addEventListener("pointerup", end);
    pad.addEventListener("pointercancel", end);
  };
}

/** Drawing takes a new outline: drawn with the pointer from corner to corner. */
function Drawing({ brand, asset, onDrawn }: { brand: string; asset: number; onDrawn: (face: number | undefined) => void }) {
  const pad = useRef<HTMLDivElement>(null);
  const drag = useDrag(pad);
  const drawn = useRef<Region>(undefined);
  const [region, setRegion] = useState<Region>();
  useEffect(() => {
    const leave = (e: KeyboardEvent) => {
      if (e.key !== "Escape") return;
      e.preventDefault(); // nothing else is left by it
      onDrawn(undefined);
    };
    window.addEventListener("keydown", leave, true);
    return () => window.removeEventListener("keydown", leave, true);
  }, [onDrawn]);
  return (
    <div
      ref={pad}
      data-drawing
      className="pointer-events-auto absolute inset-0 cursor-crosshair touch-none"
      onPointerDown={(e) => {
        const rect = pad.current!.getBoundingClientRect();
        const [x, y] = [(e.clientX - rect.x) / rect.width, (e.clientY - rect.y) / rect.height];
        drag(
          e,
          (_dx, _dy, toX, toY) => {
            drawn.current = between(x, y, toX, toY);
            setRegion(drawn.current);
          },
          (dragged) => {
            if (dragged && drawn.current) void drawFace(brand, asset, drawn.current).then((done) => onDrawn(done?.id));
          },
        );
      }}
    >
      {region && <span className="absolute rounded-[3px] outline-2 outline-saffron outline-dashed" style={percent(region)} />}
    </div>
  );
}

function Outline({
  brand,
  asset,
  face,
  layer,
  may,
  fresh,
}: {
  brand: string;
  asset: Schema["Asset"];
  face: Face;
  layer: RefObject<HTMLDivElement | null>;
  may: boolean;
  fresh: boolean;
}) {
  const [here, setHere] = useState<Region>(); // while it is moved, and until what was saved is here
  const [naming, setNaming] = useState(false);
  const self = useRef<HTMLDivElement>(null);
  const drag = useDrag(layer);
  const latest = useRef<Region>(undefined);
  const saving = useRef(0);
  const region = here ?? face;
  useEffect(() => {
    if (fresh) self.current?.focus();
  }, [fresh]);
  const put = (r: Region) => {
    latest.current = r;
    setHere(r);
  };
  const save = async () => {
    window.clearTimeout(saving.current);
    const to = latest.current;
    if (!to) return;
    latest.current = undefined;
    await placeFace(brand, asset.id, face.id, to);
    if (!latest.current) setHere(undefined);
  };
  const pull = (e: React.PointerEvent, by: (from: Region, dx: number, dy: number) => Region) => {
    const from = latest.current ?? region;
    drag(
      e,
      (dx, dy) => put(by(from, dx, dy)),
      (dragged) => (dragged ? void save() : self.current?.focus()),
    );
  };
  const onKey = (e: React.KeyboardEvent) => {
    if (e.target !== self.current || e.ctrlKey || e.metaKey || e.altKey) return;
    const to = byKey(latest.current ?? region, e.key, e.shiftKey);
    if (to) {
      put(to);
      window.clearTimeout(saving.current);
      saving.current = window.setTimeout(() => void save(), atRest);
    } else if (e.key === "Enter") setNaming(true);
    else if (e.key === "Delete" || e.key === "Backspace") void dropFace(brand, asset.id, face.id);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const leave = () => {
    setNaming(false);
    self.current?.focus();
  };
  const name = async (typed: string) => {
    leave();
    if (typed !== face.name) await nameFace(brand, asset.id, face.id, typed);
  };
  const said = face.name ? `Face of ${face.name}` : "Face without a name";
  if (!may)
    return (
      <span className="absolute rounded-[3px] outline-2 outline-saffron" style={percent(region)}>
        <NameUnder name={face.name} />
      </span>
    );
  return (
    <div
      ref={self}
      role="group"
      tabIndex={0}
      aria-label={`${said}. Arrows move it, with Shift they resize it, Enter names it, Delete takes it away.`}
      data-face={face.id}
      className={clsx(
        "group pointer-events-auto absolute touch-none rounded-[3px] outline-2 outline-saffron focus:outline-4",
        naming ? "z-20" : "hover:z-10",
      )}
      style={percent(region)}
      onKeyDown={onKey}
      onBlur={() => void save()}
    >
      <span className="absolute inset-0 cursor-move" onPointerDown={(e) => pull(e, moved)} onDoubleClick={(e) => e.stopPropagation()} />
      {corners.map((corner) => (
        <CornerOf key={corner.join()} corner={corner} onPull={(e) => pull(e, (from, dx, dy) => pulled(from, corner, dx, dy))} />
      ))}
      <div className="absolute top-full left-0 mt-1 flex items-start gap-1">
        {naming ? (
          <NameEntry
            brand={brand}
            label={face.name ? `Name instead of ${face.name}` : "Who is this?"}
            known={face.name}
            proposed={proposedFor(asset)}
            className="w-48"
            onName={(typed) => void name(typed)}
            onLeave={leave}
          />
        ) : (
          <button
            type="button"
            className="rounded bg-card px-1.5 py-0.5 text-small whitespace-nowrap text-ink hover:underline"
            onClick={() => setNaming(true)}
          >
            {face.name || "Who is this?"}
          </button>
        )}
        <button
          type="button"
          aria-label={face.name ? `Take the outline of ${face.name} away` : "Not a face"}
          title={face.name ? "Take the outline away" : "Not a face"}
          className={clsx("grid size-6 place-items-center rounded bg-card text-ink hover:text-tomato", onTouch)}
          onClick={() => void dropFace(brand, asset.id, face.id)}
        >
          <UserRoundX size={14} aria-hidden="true" />
        </button>
      </div>
    </div>
  );
}

function CornerOf({ corner: [cx, cy], onPull }: { corner: Corner; onPull: (e: React.PointerEvent) => void }) {
  return (
    <span
      className={clsx(
        "absolute grid size-6 place-items-center",
        cx < 0 ? "-left-3" : "-right-3",
        cy < 0 ? "-top-3" : "-bottom-3",
        cx === cy ? "cursor-nwse-resize" : "cursor-nesw-resize",
      )}
      data-corner={`${cx},${cy}`}
      onPointerDown={onPull}
    >
      <span className={clsx("size-2.5 rounded-full bg-saffron", onTouch)} />
    </span>
  );
}

function NameUnder({ name }: { name: string }) {
  return <span className="absolute top-full left-0 mt-1 rounded bg-card px-1 text-small whitespace-nowrap">{name || "unnamed"}</span>;
}

/** proposedFor are the people with whom an item is tagged and whose face is not outlined yet. */
const proposedFor = (asset: Schema["Asset"]) =>
  asset.tags.filter((t) => t.group === peopleGroup && !asset.faces.some((f) => f.name === t.name)).map((t) => t.name);
