import { useRef, useState } from "react";
import { Button } from "~/kit/Button";
import { move, settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;
type Point = [number, number];

const most = 16;
const apart = 0.02;

/** Curve is the tone curve by points: press to add one, drag it, arrow keys move it, Delete takes it away. */
export function Curve({ work }: { work: Work }) {
  const box = useRef<SVGSVGElement>(null);
  const points = (work.recipe.curve ?? []) as Point[];
  const [held, setHeld] = useState<number>();
  const withPoints = (p: Point[]) => {
    const next = { ...work.recipe, curve: p };
    if (p.length === 0) delete (next as { curve?: Point[] }).curve;
    return next;
  };
  const at = (e: { clientX: number; clientY: number }): Point => {
    const r = box.current!.getBoundingClientRect();
    return [between((e.clientX - r.x) / r.width, 0, 1), between(1 - (e.clientY - r.y) / r.height, 0, 1)];
  };
  /** kept keeps a point between its neighbours. */
  const kept = (all: Point[], i: number, p: Point): Point[] => {
    const from = i > 0 ? all[i - 1]![0] + apart : 0;
    const to = i < all.length - 1 ? all[i + 1]![0] - apart : 1;
    return all.map((q, j) => (j === i ? ([round(between(p[0], from, to)), round(p[1])] as Point) : q));
  };
  const hold = (e: React.PointerEvent, all: Point[], i: number) => {
    e.preventDefault();
    const target = box.current!;
    target.setPointerCapture(e.pointerId);
    setHeld(i);
    let last = all;
    move(withPoints(last));
    const follow = (to: PointerEvent) => {
      last = kept(all, i, at(to));
      move(withPoints(last));
    };
    const end = () => {
      target.removeEventListener("pointermove", follow);
      target.removeEventListener("pointerup", end);
      target.removeEventListener("pointercancel", end);
      setHeld(undefined);
      settle(withPoints(last), "the tone curve");
    };
    target.addEventListener("pointermove", follow);
    target.addEventListener("pointerup", end);
    target.addEventListener("pointercancel", end);
  };
  const add = (e: React.PointerEvent) => {
    const p = at(e);
    const near = points.findIndex((q) => Math.abs(q[0] - p[0]) < 0.05);
    if (near >= 0) return hold(e, kept(points, near, p), near);
    if (points.length >= most) return;
    const all = [...points, p].sort((a, b) => a[0] - b[0]);
    hold(e, all, all.indexOf(p));
  };
  const byKey = (e: React.KeyboardEvent, i: number) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (by)
      settle(withPoints(kept(points, i, [points[i]![0] + by[0]! / 100, between(points[i]![1] + by[1]! / 100, 0, 1)])), "the tone curve");
    else if (e.key === "Delete" || e.key === "Backspace") settle(withPoints(points.filter((_, j) => j !== i)), "the tone curve");
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const ends: Point[] = [
    ...(points[0]?.[0] === 0 ? [] : [[0, 0] as Point]),
    ...points,
    ...(points.at(-1)?.[0] === 1 ? [] : [[1, 1] as Point]),
  ];
  return (
    <div>
      <p className="mb-1 text-dense">Tone curve</p>
      <svg
        ref={box}
        viewBox="0 0 100 60"
        preserveAspectRatio="none"
        className="h-32 w-full touch-none cursor-crosshair rounded-patch border border-line bg-sunk"
        role="group"
        aria-label="Tone curve, from dark to bright"
        onPointerDown={add}
        data-curve=""
      >
        <line x1="0" y1="60" x2="100" y2="0" className="stroke-line-strong" strokeDasharray="3 3" vectorEffect="non-scaling-stroke" />
        <polyline
          points={ends.map(([x, y]) => `${x * 100},${60 - y * 60}`).join(" ")}
          className="fill-none stroke-sea stroke-2"
          vectorEffect="non-scaling-stroke"
        />
        {points.map(([x, y], i) => (
          <ellipse
            key={i}
            cx={x * 100}
            cy={60 - y * 60}
            rx="1.8"
            ry="2.6"
            tabIndex={0}
            role="slider"
            aria-label={`Point ${i + 1} of the tone curve`}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={`${Math.round(x * 100)} % becomes ${Math.round(y * 100)} %`}
            className={held === i ? "fill-saffron stroke-sea" : "fill-card stroke-sea"}
            onPointerDown={(e) => {
              e.stopPropagation();
              hold(e, points, i);
            }}
            onKeyDown={(e) => byKey(e, i)}
          />
        ))}
      </svg>
      {points.length > 0 && (
        <Button tone="quiet" className="min-h-7" onClick={() => settle(withPoints([]), "putting the tone curve back")}>
          Put the curve back
        </Button>
      )}
    </div>
  );
}

const between = (n: number, from: number, to: number) => Math.min(to, Math.max(from, n));
const round = (n: number) => Math.round(n * 1000) / 1000;
