import { clsx } from "clsx";
import { useRef, useState, type TouchEvent, type TouchList } from "react";

const swipe = 50; // pixels sideways that turn the page
const most = 6; // times that a picture can be enlarged

interface Zoom {
  scale: number;
  x: number;
  y: number;
}

const clamp = (v: number) => Math.max(0, Math.min(1, v));

const whole: Zoom = { scale: 1, x: 0, y: 0 };

const between = (touches: TouchList | TouchEvent["touches"]) => {
  const [a, b] = [touches[0]!, touches[1]!];
  return {
    apart: Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY),
    x: (a.clientX + b.clientX) / 2,
    y: (a.clientY + b.clientY) / 2,
  };
};

/** Pinched is a picture that two fingers enlarge, one moves when it is enlarged, or else swipes away; a double click enlarges, too. */
export function Pinched({
  src,
  alt,
  onSwipe,
  points,
  point,
  onPoint,
}: {
  src: string;
  alt: string;
  onSwipe: (by: number) => void;
  /** Points of the picture about which something was said, from 0 at the left and the top to 1. */
  points: { id: number; x?: number; y?: number }[];
  /** A point that is being chosen. */
  point?: { x: number; y: number };
  onPoint?: (at: { x: number; y: number }) => void;
}) {
  const [zoom, setZoom] = useState(whole);
  const from = useRef<{ x: number; y: number; apart: number; zoom: Zoom }>(undefined);
  const start = (e: TouchEvent) => {
    const two = e.touches.length > 1 ? between(e.touches) : undefined;
    from.current = { x: two?.x ?? e.touches[0]!.clientX, y: two?.y ?? e.touches[0]!.clientY, apart: two?.apart ?? 0, zoom };
  };
  const move = (e: TouchEvent) => {
    const began = from.current;
    if (!began) return;
    if (e.touches.length > 1 && began.apart > 0) {
      const now = between(e.touches);
      const scale = Math.max(1, Math.min(most, (began.zoom.scale * now.apart) / began.apart));
      setZoom(scale === 1 ? whole : { scale, x: began.zoom.x + now.x - began.x, y: began.zoom.y + now.y - began.y });
    } else if (zoom.scale > 1 && e.touches.length === 1) {
      const touch = e.touches[0]!;
      setZoom({ scale: zoom.scale, x: began.zoom.x + touch.clientX - began.x, y: began.zoom.y + touch.clientY - began.y });
    }
  };
  const end = (e: TouchEvent) => {
    const began = from.current;
    if (e.touches.length > 0) return start(e); // one of two fingers was lifted
    from.current = undefined;
    if (!began || began.apart > 0 || zoom.scale > 1) return;
    const moved = e.changedTouches[0]!.clientX - began.x;
    if (Math.abs(moved) > swipe) onSwipe(moved < 0 ? 1 : -1);
  };
  const all = [...points.map((p, i) => ({ x: p.x ?? 0, y: p.y ?? 0, said: String(i + 1) })), ...(point ? [{ ...point, said: "+" }] : [])];
  // Fingers are followed beside the picture, too: it may be small, or not here yet.
  return (
    <div className="grid size-full touch-none place-items-center" onTouchStart={start} onTouchMove={move} onTouchEnd={end}>
      <div
        className={clsx("relative", onPoint && "cursor-crosshair")}
        style={{ transform: `translate(${zoom.x}px, ${zoom.y}px) scale(${zoom.scale})` }}
        data-zoom={zoom.scale}
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          onPoint?.({ x: clamp((e.clientX - box.x) / box.width), y: clamp((e.clientY - box.y) / box.height) });
        }}
        onDoubleClick={() => setZoom(zoom.scale > 1 ? whole : { scale: 2.5, x: 0, y: 0 })}
      >
        <img src={src} alt={alt} draggable={false} className="max-h-[100cqh] max-w-[100cqw]" />
        {all.map((p) => (
          <span
            key={p.said}
            data-point={p.said}
            className={
              "pointer-events-none absolute grid size-6 -translate-1/2 place-items-center rounded-full border-2 " +
              "border-[var(--card-on-night)] " +
              "bg-saffron text-small font-semibold text-on-saffron"
            }
            style={{ left: `${100 * p.x}%`, top: `${100 * p.y}%` }}
          >
            {p.said}
          </span>
        ))}
      </div>
    </div>
  );
}
