import { clsx } from "clsx";
import { ArrowRight, Check, Link2, Rows3, ZoomIn } from "lucide-react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Me } from "~/api/client";
import { useAsset } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { useKeys } from "~/kit/keys";
import { useSettings, type Others } from "~/kit/settings";
import { titleOf } from "~/kit/words";
import { grounds } from "~/sheet/BigView";
import { useMay } from "~/sheet/rights";
import { comparedHere, compareNoMore, selectOnly, useChosen } from "~/sheet/selection";
import { Zoomed, look } from "~/sheet/Zoomed";
import { newZoom, zoomedAbout, type ZoomStore } from "~/sheet/zoom";
import { keepOnly } from "./acts";
import { gridFor } from "./grid";
import { compareNext, usePile } from "./piles";

/** A caption below a picture, in pixels, which is not there for it. */
const caption = 48;

/** Compare shows two to six items side by side. They are seen closer and moved in step, or one by one; verdicts are about the one
 * that one is at. */
export function Compare({ brand, me }: { brand: string; me: Me }) {
  const pile = usePile((s) => s.pile);
  const ids = useChosen(useShallow(comparedHere));
  const at = useChosen((s) => s.cursor);
  const ground = useSettings((s) => s.backdrop);
  const [inStep, setInStep] = useState(true);
  const [shared] = useState(newZoom);
  const [own] = useState(() => new Map<number, ZoomStore>());
  const may = useMay(me)("set_aside");
  const zoomOf = (id: number) => {
    if (inStep) return shared;
    if (!own.has(id)) own.set(id, newZoom());
    return own.get(id)!;
  };
  const present = at !== undefined && ids.includes(at) ? at : ids[0];
  const chosen = useAsset(brand, present).data;
  useEffect(() => rows.want(ids), [ids]);
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 900, height: 600 });
  useLayoutEffect(() => {
    const sizes = new ResizeObserver(([e]) => e && setSize({ width: e.contentRect.width, height: e.contentRect.height }));
    sizes.observe(place.current!);
    return () => sizes.disconnect();
  }, []);
  const first = useRow(ids[0] ?? -1);
  const columns = gridFor(ids.length, size.width, Math.max(1, size.height - caption * 2), (first?.width || 3) / (first?.height || 2));
  const detail = () => {
    const row = present === undefined ? undefined : rows.get(present);
    const picture = document.querySelector<HTMLElement>(`[data-compared="${present}"] img`);
    if (row) look(zoomOf(present!), row, picture, { x: chosen?.focalX ?? 0.5, y: chosen?.focalY ?? 0.5 });
  };
  const by = (factor: number) => {
    if (present !== undefined) zoomOf(present).setState(zoomedAbout(zoomOf(present).getState(), factor));
  };
  const others = ids.filter((id) => id !== present);
  const keep = () => {
    if (present !== undefined && others.length > 0 && may) void keepOnly(brand, others, useSettings.getState().others);
  };
  const goOn = () => void compareNext(brand);
  useKeys("Comparing", [
    { press: "d", does: "see the detail pixel for pixel, or the whole again", run: detail },
    { press: "+", does: "closer", run: () => by(1.5) },
    { press: "-", does: "further away", run: () => by(1 / 1.5) },
    { press: "l", does: "move all in step, or one by one", run: () => setInStep(!inStep) },
    ...(may ? [{ press: "o", does: "keep only this one of those compared", run: keep }] : []),
    { press: "j", does: "on to the next pictures that lie together", run: goOn },
  ]);
  return (
    <div className={clsx("flex min-h-0 flex-1 flex-col", grounds[ground])} data-compare={ids.length}>
      {ids.length === 0 && <p className="p-6 text-center">None of them is in this sheet any more.</p>}
      <div
        ref={place}
        className="grid min-h-0 flex-1 auto-rows-fr gap-1 p-1"
        style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      >
        {ids.map((id) => (
          <One
            key={id}
            brand={brand}
            id={id}
            zoom={zoomOf(id)}
            present={id === present}
            best={pile?.best === id ? pile.why : undefined}
            beside={id === present ? undefined : chosen}
          />
        ))}
      </div>
      <div className="flex flex-wrap items-center justify-center gap-2 bg-card px-3 py-1.5">
        {may && (
          <>
            <Button tone="main" icon={<Check size={16} />} disabled={others.length === 0} onClick={keep}>
              Keep only this one
            </Button>
            <OthersChoice />
          </>
        )}
        <IconButton label="Detail, pixel for pixel" icon={<ZoomIn size={18} />} onClick={detail} />
        <IconButton
          label={inStep ? "Zoom together" : "Zoom one by one"}
          aria-pressed={inStep}
          icon={<Link2 size={18} />}
          onClick={() => setInStep(!inStep)}
        />
        <Button icon={<ArrowRight size={16} />} onClick={goOn}>
          Next ones
        </Button>
        <IconButton label="Back to the sheet" icon={<Rows3 size={18} />} onClick={compareNoMore} />
      </div>
    </div>
  );
}

const choices: { value: Others; label: string }[] = [
  { value: "aside", label: "and set the others aside" },
  { value: "star less", label: "and give the others a star less" },
];

/** OthersChoice says what becomes of those that are not kept. */
function OthersChoice() {
  const others = useSettings((s) => s.others);
  const set = useSettings((s) => s.set);
  return (
    <select
      aria-label="What becomes of the others"
      className="min-h-8 rounded-patch border border-line-strong bg-card px-2"
      value={others}
      onChange={(e) => set({ others: e.target.value as Others })}
    >
      {choices.map((c) => (
        <option key={c.value} value={c.value}>
          {c.label}
        </option>
      ))}
    </select>
  );
}

/** One is one of those that are compared, with its verdict and how it differs from the one that one is at. */
function One(p: {
  brand: string;
  id: number;
  zoom: ZoomStore;
  present: boolean;
  best: string | undefined;
  beside: { sharpness?: number; width: number; height: number; taken?: string } | undefined;
}) {
  const row = useRow(p.id);
  const asset = useAsset(p.brand, p.id).data;
  return (
    <figure
      data-compared={p.id}
      aria-current={p.present}
      className={clsx("flex min-h-0 min-w-0 flex-col rounded bg-card/60", p.present && "outline-3 -outline-offset-1 outline-saffron")}
      onPointerDown={() => selectOnly(p.id)}
    >
      <div className="relative min-h-0 flex-1">{row && <Zoomed brand={p.brand} row={row} zoom={p.zoom} />}</div>
      <figcaption className="flex flex-wrap items-center gap-x-3 bg-card px-2 py-1 text-dense">
        <span className="min-w-0 flex-1 truncate font-medium">{row && titleOf(row)}</span>
        {row && row.stars !== 0 && <span>{row.stars < 0 ? "set aside" : `${row.stars} ★`}</span>}
        {row?.keeper && <span>keeper</span>}
        {row?.stage && <span>{row.stage}</span>}
        {asset?.focus && <span title={`Sharpness ${asset.sharpness?.toFixed(2)}`}>{asset.focus}</span>}
        <span className="w-full truncate text-ink-soft">{p.best ? `Proposed: ${p.best}` : asset && differences(asset, p.beside)}</span>
      </figcaption>
    </figure>
  );
}

/** differences says in words how an item differs from another one; a space where it does not, so that nothing moves. */
function differences(
  a: { sharpness?: number; width: number; height: number; taken?: string },
  b: { sharpness?: number; width: number; height: number; taken?: string } | undefined,
) {
  if (!b) return "\u00a0";
  const said: string[] = [];
  if (a.sharpness !== undefined && b.sharpness !== undefined) {
    const factor = a.sharpness / Math.max(0.001, b.sharpness);
    if (factor > 1.15) said.push("sharper");
    else if (factor < 1 / 1.15) said.push("less sharp");
  }
  if (a.width * a.height !== b.width * b.height) said.push(a.width * a.height > b.width * b.height ? "larger" : "smaller");
  if (a.taken && b.taken && a.taken !== b.taken) {
    const seconds = (new Date(a.taken).getTime() - new Date(b.taken).getTime()) / 1000;
    const by =
      Math.abs(seconds) < 60 ? `${Math.abs(seconds)} s` : Math.abs(seconds) < 5400 ? `${Math.round(Math.abs(seconds) / 60)} min` : "";
    said.push(`${by ? `${by} ` : ""}${seconds > 0 ? "later" : "earlier"}`);
  }
  return said.join(", ") || "\u00a0";
}
