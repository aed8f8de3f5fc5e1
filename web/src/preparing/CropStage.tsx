import { useRef, useState } from "react";
import { useKeys } from "~/kit/keys";
import type { Recipe } from "./acts";
import { resized, shifted, type Box } from "./cropping";
import { frameAt } from "./film";
import { useFrame } from "./frames";
import { useMode, setMode } from "./mode";
import { levelled, same } from "./recipe";
import { move, settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const;
const arrowsSaid = { ArrowLeft: "to the left", ArrowRight: "to the right", ArrowUp: "up", ArrowDown: "down" };

const whole: Box = { x: 0, y: 0, width: 1, height: 1 };
const handles = [
  { name: "top left corner", x: 0, y: 0 },
  { name: "top edge", x: 0.5, y: 0 },
  { name: "top right corner", x: 1, y: 0 },
  { name: "right edge", x: 1, y: 0.5 },
  { name: "bottom right corner", x: 1, y: 1 },
  { name: "bottom edge", x: 0.5, y: 1 },
  { name: "bottom left corner", x: 0, y: 1 },
  { name: "left edge", x: 0, y: 0.5 },
];

/** CropStage shows the whole picture as it is turned, straightened by as much as it is, with what the crop leaves of it. */
export function CropStage(p: { brand: string; id: number; work: Work; at: number | undefined; width: number; height: number }) {
  const { brand, id, work, at, width, height } = p;
  const { framing, proportion } = useMode();
  const { crop, straighten, ...rest } = work.recipe;
  const uncut = useFrame(brand, id, useStable(at === undefined ? rest : frameAt(rest, at)), width * 0.86, height * 0.86, false);
  const drawn = useFrame(brand, id, work.settled, 64, 64, false);
  // what the server really leaves of it, or until it has said so what was wanted
  const cut = drawn && same(drawn.by, work.settled) ? drawn.cut : (work.settled.crop ?? whole);
  const [dragged, setDragged] = useState<Box>();
  const [line, setLine] = useState<{ from: { x: number; y: number }; to: { x: number; y: number } }>();
  const picture = useRef<HTMLDivElement>(null);
  const moved = work.recipe !== work.settled;
  const box = dragged ?? (moved ? (crop ?? cut) : cut);
  const put = (b: Box) => {
    const next: Recipe = { ...work.recipe, crop: b.width > 0.9999 && b.height > 0.9999 ? undefined : b };
    settle(next, "the crop");
  };
  const inside = (e: React.PointerEvent) => {
    const r = picture.current!.getBoundingClientRect();
    return { x: (e.clientX - r.x) / r.width, y: (e.clientY - r.y) / r.height };
  };
  const sides = () => picture.current!.getBoundingClientRect();
  /** drag follows the pointer from where it was pressed; x and y say which edges go with it, 0.5 for none of a direction. */
  const drag = (e: React.PointerEvent, hold: { x: number; y: number } | undefined) => {
    e.preventDefault();
    e.stopPropagation();
    const from = inside(e);
    const was = box;
    const target = e.currentTarget as HTMLElement;
    target.setPointerCapture(e.pointerId);
    let last = was;
    const follow = (to: PointerEvent) => {
      const r = sides();
      const by = { x: (to.clientX - r.x) / r.width - from.x, y: (to.clientY - r.y) / r.height - from.y };
      last = hold ? resized(was, hold, by, proportion && (proportion * r.height) / r.width) : shifted(was, by);
      setDragged(last);
    };
    const end = (to: PointerEvent) => {
      target.removeEventListener("pointermove", follow);
      target.removeEventListener("pointerup", end);
      target.removeEventListener("pointercancel", end);
      setDragged(undefined);
      if (to.type === "pointerup" && last !== was) put(last);
    };
    target.addEventListener("pointermove", follow);
    target.addEventListener("pointerup", end);
    target.addEventListener("pointercancel", end);
  };
  const byKey = (e: React.KeyboardEvent, hold: { x: number; y: number } | undefined) => {
    if (!(e.key in arrows)) return;
    e.preventDefault();
    e.stopPropagation();
    step(e, hold);
  };
  const step = (e: { key: string; shiftKey: boolean }, hold: { x: number; y: number } | undefined) => {
    const step = e.shiftKey ? 0.05 : 0.01;
    const by = arrows[e.key as keyof typeof arrows];
    const way = { x: by[0] * step, y: by[1] * step };
    const r = sides();
    put(hold ? resized(box, hold, way, proportion && (proportion * r.height) / r.width) : shifted(box, way));
  };
  // wherever the focus is, but on what has arrows of its own: while one crops, they are not for going to the next item
  useKeys(
    "The crop",
    framing === "crop"
      ? Object.entries(arrowsSaid).map(([press, way]) => ({
          press,
          does: `move what the crop leaves ${way}; with Shift by more`,
          first: true,
          run: (e) => ((e.target as HTMLElement).closest("[role=slider], [data-crop-box]") ? false : step(e, undefined)),
        }))
      : [],
  );
  const drawLine = (e: React.PointerEvent) => {
    if (framing !== "line") return;
    e.preventDefault();
    const from = inside(e);
    const target = e.currentTarget as HTMLElement;
    target.setPointerCapture(e.pointerId);
    let to = from;
    const follow = (p: PointerEvent) => {
      const r = sides();
      to = { x: (p.clientX - r.x) / r.width, y: (p.clientY - r.y) / r.height };
      setLine({ from, to });
    };
    const end = () => {
      target.removeEventListener("pointermove", follow);
      target.removeEventListener("pointerup", end);
      target.removeEventListener("pointercancel", end);
      setLine(undefined);
      const r = sides();
      const [a, b] = [from, to].map((p) => ({ x: p.x * r.width, y: p.y * r.height })) as [Box, Box];
      if (Math.hypot(b.x - a.x, b.y - a.y) < 20) return;
      const degrees = levelled(straighten ?? 0, a, b);
      move({ ...work.recipe, straighten: degrees || undefined });
      settle({ ...work.recipe, straighten: degrees || undefined }, "straightening");
      setMode({ framing: "crop" });
    };
    target.addEventListener("pointermove", follow);
    target.addEventListener("pointerup", end);
    target.addEventListener("pointercancel", end);
  };
  if (!uncut) return <p className="p-6 text-center">Drawing it…</p>;
  const percent = (n: number) => `${n * 100}%`;
  return (
    <div className="absolute inset-0 grid place-items-center overflow-hidden select-none">
      <div ref={picture} className="relative touch-none" data-cropping={framing} onPointerDown={drawLine}>
        <img
          src={uncut.address}
          alt="The whole picture"
          draggable={false}
          className="block"
          style={{
            maxWidth: width * 0.86,
            maxHeight: height * 0.86,
            transform: straighten ? `rotate(${straighten}deg)` : undefined,
            cursor: framing === "line" ? "crosshair" : undefined,
          }}
        />
        <div
          aria-hidden="true"
          className="pointer-events-none absolute shadow-[0_0_0_200vmax_var(--shade)]"
          style={{ left: percent(box.x), top: percent(box.y), width: percent(box.width), height: percent(box.height) }}
        />
        {framing === "crop" && (
          <div
            role="group"
            tabIndex={0}
            aria-label="What the crop leaves. Move it with the arrow keys."
            className="absolute cursor-move outline-2 outline-card-on-night"
            style={{ left: percent(box.x), top: percent(box.y), width: percent(box.width), height: percent(box.height) }}
            onPointerDown={(e) => drag(e, undefined)}
            onKeyDown={(e) => byKey(e, undefined)}
            data-crop-box=""
          >
            {dragged && <Thirds />}
            {handles.map((h) => (
              <button
                key={h.name}
                type="button"
                aria-label={`Move the ${h.name} with the arrow keys`}
                className="absolute size-6 -translate-1/2 touch-none focus-visible:outline-2 focus-visible:outline-saffron"
                style={{ left: percent(h.x), top: percent(h.y) }}
                onPointerDown={(e) => drag(e, h)}
                onKeyDown={(e) => byKey(e, h)}
                data-handle={h.name}
              >
                <span className="mx-auto block size-3 rounded-full border-2 border-sea bg-card-on-night" />
              </button>
            ))}
          </div>
        )}
        {line && (
          <svg className="pointer-events-none absolute inset-0 size-full overflow-visible" aria-hidden="true">
            <line
              x1={percent(line.from.x)}
              y1={percent(line.from.y)}
              x2={percent(line.to.x)}
              y2={percent(line.to.y)}
              className="stroke-saffron stroke-2"
            />
          </svg>
        )}
      </div>
    </div>
  );
}

function Thirds() {
  return (
    <div aria-hidden="true" className="pointer-events-none absolute inset-0">
      {[1, 2].map((n) => (
        <span key={n}>
          <span className="absolute inset-y-0 w-px bg-card-on-night/60" style={{ left: `${(n * 100) / 3}%` }} />
          <span className="absolute inset-x-0 h-px bg-card-on-night/60" style={{ top: `${(n * 100) / 3}%` }} />
        </span>
      ))}
    </div>
  );
}

/** useStable keeps a recipe the same object while it says the same. */
function useStable(r: Recipe): Recipe {
  const text = JSON.stringify(r);
  const [kept, setKept] = useState({ text, r });
  if (kept.text !== text) setKept({ text, r });
  return kept.r;
}
