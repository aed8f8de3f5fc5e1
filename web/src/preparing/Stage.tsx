import { Columns2, Eye, EyeOff, ZoomIn } from "lucide-react";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { mediaAddress, type AssetRow } from "~/api/client";
import { useAsset } from "~/api/queries";
import { useRow } from "~/api/rows";
import { IconButton } from "~/kit/IconButton";
import { useKeys } from "~/kit/keys";
import { useSettings } from "~/kit/settings";
import { BigBar } from "~/sheet/BigBar";
import { grounds } from "~/sheet/BigView";
import { look, Zoomed } from "~/sheet/Zoomed";
import { newZoom, type ZoomStore } from "~/sheet/zoom";
import { propose, type Recipe } from "./acts";
import { ClipLine } from "./ClipLine";
import { CropStage } from "./CropStage";
import { frameAt, posterOf } from "./film";
import { useFrame } from "./frames";
import { AsItGoesOut, Sizes } from "./GoesOut";
import { markLost, pixelsOf } from "./histogram";
import { plainMode, setMode, useMode } from "./mode";
import { same } from "./recipe";
import { toneless, usePainted } from "./painted";
import { Playing } from "./Playing";
import { show } from "./shown";
import { endWork, settle, useWork, workAt } from "./working";

/** framingOf is only how a recipe frames the picture: what it is compared with, before. */
const framingOf = ({ turn, flip, straighten, crop }: Recipe): Recipe => ({ turn, flip, straighten, crop });

/** Stage shows the picture or the clip that is prepared, large and as its recipe makes it, in the place of the sheet. */
export function Stage({ brand, id, onView }: { brand: string; id: number; onView: (seen: number[]) => void }) {
  const row = useRow(id);
  const asset = useAsset(brand, id).data;
  const work = useWork((s) => (s.work?.asset === id ? s.work : undefined));
  const mode = useMode();
  const backdrop = useSettings((s) => s.backdrop);
  const [zoom] = useState(newZoom);
  const { place, width, height } = useBox();
  useEffect(() => {
    if (asset) workAt(brand, asset);
  }, [brand, asset]);
  useEffect(() => {
    plainMode();
    return () => plainMode();
  }, [id]);
  useEffect(() => endWork, []);
  const began = useBegan(id, work?.saved);
  const touched = !!work && (work.past.length > 0 || work.future.length > 0 || !same(work.recipe, began ?? work.recipe));
  const moving = !!work && !same(work.recipe, work.settled);
  const panes = mode.beside ? width / 2 - 4 : width;
  const seconds = row?.kind === "clip" ? asset?.fileSeconds : undefined;
  const at = seconds && work ? (mode.moment ?? posterOf(work.recipe, seconds)) : undefined;
  const drawn = useDrawn(touched || mode.moment !== undefined ? work?.recipe : undefined, at);
  const paints = !mode.lost && !mode.before && !mode.framing && mode.size === undefined;
  const painted = usePainted(brand, id, drawn, panes, height, moving && paints);
  const draws = !!painted && moving && paints && !!drawn && !!toneless(drawn);
  const frame = useFrame(brand, id, draws ? undefined : drawn, panes, height, moving);
  // what was painted stays until the server has drawn the same
  const canvas =
    painted && paints && drawn && (draws || (same(painted.recipe, drawn) && !(frame && same(frame.by, drawn))))
      ? painted.canvas
      : undefined;
  const before = useDrawn((mode.before || mode.beside) && work ? framingOf(work.recipe) : undefined, at);
  const earlier = useFrame(brand, id, before, panes, height, false);
  const shown = frame?.address;
  const plain = row && mediaAddress(brand, row, "large");
  useEffect(() => show(id, shown ?? plain), [id, shown, plain]);
  const lost = useLost(mode.lost ? (shown ?? plain) : undefined);
  const detail = () => row && look(zoom, row, document.querySelector<HTMLElement>("[data-zoomed] img"), { x: 0.5, y: 0.5 });
  const { onTap } = useTap(brand, id);
  useKeys("The picture", [
    { press: "d", does: "see the detail pixel for pixel, or the whole again", run: detail },
    { press: "b", does: "see it as it was before, or as it is", run: () => setMode({ before: !useMode.getState().before }) },
    { press: "v", does: "before and after side by side", run: () => setMode({ beside: !useMode.getState().beside }) },
  ]);
  return (
    <div className={`relative flex min-h-0 flex-1 flex-col ${grounds[backdrop]}`} data-big-view={id} data-preparing={work ? "" : undefined}>
      <div ref={place} className="relative m-3 min-h-0 flex-1">
        {row && mode.size !== undefined ? (
          <AsItGoesOut brand={brand} row={row} size={mode.size} saved={!!work && same(work.saved, work.settled)} />
        ) : row && mode.framing && work ? (
          <CropStage brand={brand} id={id} work={work} at={at} width={width} height={height} />
        ) : row && mode.playing && work ? (
          <Playing brand={brand} row={row} saved={same(work.saved, work.settled)} />
        ) : (
          row && (
            <div className={mode.beside ? "grid h-full grid-cols-2 gap-2" : "h-full"}>
              {mode.beside && <Pane brand={brand} row={row} zoom={zoom} src={earlier?.address} ratio={earlier?.ratio} word="before" />}
              <Pane
                brand={brand}
                row={row}
                zoom={zoom}
                src={lost ?? (mode.before && !mode.beside ? (earlier?.address ?? shown) : shown)}
                ratio={(mode.before && !mode.beside ? earlier : frame)?.ratio ?? row.width / row.height}
                word={mode.beside ? "after" : mode.before ? "before" : undefined}
                onTap={onTap}
                over={canvas}
              />
            </div>
          )
        )}
      </div>
      {row && work && seconds && at !== undefined && <ClipLine brand={brand} row={row} work={work} seconds={seconds} at={at} />}
      <BigBar id={id} onView={onView}>
        <IconButton
          label="As it was before, while this is held"
          aria-pressed={!!mode.before}
          className="aria-pressed:bg-saffron-wash"
          icon={mode.before ? <EyeOff size={18} /> : <Eye size={18} />}
          onPointerDown={() => setMode({ before: true })}
          onClick={(e) => e.detail === 0 && setMode({ before: !mode.before })}
          onPointerUp={() => setMode({ before: false })}
          onPointerLeave={() => setMode({ before: false })}
        />
        <IconButton
          label="Before and after side by side"
          aria-pressed={!!mode.beside}
          className="aria-pressed:bg-saffron-wash"
          icon={<Columns2 size={18} />}
          onClick={() => setMode({ beside: !mode.beside })}
        />
        <IconButton label="Detail, pixel for pixel" icon={<ZoomIn size={18} />} onClick={detail} />
        <Sizes brand={brand} />
      </BigBar>
    </div>
  );
}

/** useDrawn is the recipe that a frame is drawn by: of a clip that for a moment of it. It stays the same object while it says the same. */
function useDrawn(recipe: Recipe | undefined, at: number | undefined) {
  return useMemo(() => (recipe && at !== undefined ? frameAt(recipe, at) : recipe), [recipe, at]);
}

/** useBegan is the recipe with which the picture was shown first, of which there is a preview. */
function useBegan(id: number, saved: Recipe | undefined) {
  const began = useRef<{ id: number; recipe: Recipe }>(undefined);
  const [first, setFirst] = useState<{ id: number; recipe: Recipe }>();
  useEffect(() => {
    if (saved && began.current?.id !== id) {
      began.current = { id, recipe: saved };
      setFirst(began.current);
    }
  }, [id, saved]);
  return first?.id === id ? first.recipe : undefined;
}

function useBox() {
  const place = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const sizes = new ResizeObserver(([e]) => e && setBox({ width: e.contentRect.width, height: e.contentRect.height }));
    if (place.current) sizes.observe(place.current);
    return () => sizes.disconnect();
  }, []);
  return { place, ...box };
}

function Pane(p: {
  brand: string;
  row: AssetRow;
  zoom: ZoomStore;
  src?: string;
  ratio?: number;
  word?: string;
  onTap?: (at: { x: number; y: number }) => void;
  over?: HTMLCanvasElement;
}) {
  return (
    <div className="relative h-full min-h-0 min-w-0">
      <Zoomed key={p.row.id} brand={p.brand} row={p.row} zoom={p.zoom} src={p.src} ratio={p.ratio} onTap={p.onTap} over={p.over} />
      {p.word && <span className="absolute top-2 left-2 rounded-patch bg-card px-2 text-dense">{p.word}</span>}
    </div>
  );
}

/** useTap is what a press on the picture means now: this is grey, or here is a red eye. */
function useTap(brand: string, id: number) {
  const { grey, eye } = useMode();
  const row = useRow(id);
  if (!grey && !eye) return {};
  const onTap = async (at: { x: number; y: number }) => {
    const work = useWork.getState().work;
    if (!work || !row) return;
    if (grey) {
      const found = await propose(brand, id, "grey", work.recipe, at);
      setMode({ grey: false });
      if (found) settle(found.recipe, "this is grey");
      return;
    }
    const found = await propose(brand, id, "eye", work.recipe, at);
    if (found) settle(found.recipe, "a red eye");
  };
  return { onTap: (at: { x: number; y: number }) => void onTap(at) };
}

/** useLost marks on a picture what is lost at either end. */
function useLost(address: string | undefined) {
  const [marked, setMarked] = useState<{ of: string; address: string }>();
  useEffect(() => {
    if (!address) return;
    let gone = false;
    void pixelsOf(address, 1600).then(({ canvas, pen, data }) => {
      markLost(data.data, colour("--plum"), colour("--saffron"));
      pen.putImageData(data, 0, 0);
      canvas.toBlob((blob) => {
        if (blob && !gone) setMarked({ of: address, address: URL.createObjectURL(blob) });
      });
    });
    return () => {
      gone = true;
    };
  }, [address]);
  useEffect(() => () => marked && URL.revokeObjectURL(marked.address), [marked]);
  return marked?.of === address ? marked?.address : undefined;
}

/** colour reads one of the tokens as red, green and blue. */
function colour(token: string): [number, number, number] {
  const pen = document.createElement("canvas").getContext("2d")!;
  pen.fillStyle = getComputedStyle(document.documentElement).getPropertyValue(token).trim();
  pen.fillRect(0, 0, 1, 1);
  const [r = 0, g = 0, b = 0] = pen.getImageData(0, 0, 1, 1).data;
  return [r, g, b];
}
