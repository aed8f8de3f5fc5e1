import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { mediaAddress, type Schema } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { titleOf } from "~/kit/words";
import type { Mend } from "./dispatching";

const keyStep = 0.02;
const percent = (part: number) => Math.round(part * 100);

/** CutFrame shows what is left of a picture that is cut for a page; the frame is dragged, or moved by the arrow keys. */
export function CutFrame({
  brand,
  cut,
  page,
  at,
  onMove,
}: {
  brand: string;
  cut: Schema["Cut"];
  page: string;
  at: Mend | undefined;
  onMove: (x: number, y: number) => void;
}) {
  const row = useRow(cut.item);
  if (!row) rows.want([cut.item]);
  const box = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<{ x: number; y: number }>();
  const middle = { x: cut.x + cut.width / 2, y: cut.y + cut.height / 2 };
  const centre = held ?? middle;
  const clamp = (v: number, size: number) => Math.min(1 - size / 2, Math.max(size / 2, v));
  const shown = { x: clamp(centre.x, cut.width), y: clamp(centre.y, cut.height) };
  const grab = (e: PointerEvent<HTMLDivElement>) => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setHeld(middle);
  };
  const drag = (e: PointerEvent<HTMLDivElement>) => {
    const size = box.current?.getBoundingClientRect();
    if (!held || !size) return;
    setHeld({ x: clamp((e.clientX - size.left) / size.width, cut.width), y: clamp((e.clientY - size.top) / size.height, cut.height) });
  };
  const drop = () => {
    if (held && (held.x !== middle.x || held.y !== middle.y)) onMove(held.x, held.y);
    setHeld(undefined);
  };
  const step = (e: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!by) return;
    e.preventDefault();
    onMove(clamp(middle.x + by[0]! * keyStep, cut.width), clamp(middle.y + by[1]! * keyStep, cut.height));
  };
  if (!row) return <li className="h-24 w-32 rounded bg-sunk" />;
  const span = (middle: number, size: number) => `${percent(middle - size / 2)} to ${percent(middle + size / 2)} %`;
  const words =
    `What stays of ${titleOf(row)} on ${page}: ${span(shown.x, cut.width)} of its width, ` + `${span(shown.y, cut.height)} of its height`;
  return (
    <li className="w-40">
      <div ref={box} className="relative overflow-hidden rounded" data-cut={cut.item}>
        <img src={mediaAddress(brand, row, "small")} alt="" draggable={false} className="block w-full opacity-40" />
        <div
          role="slider"
          tabIndex={0}
          aria-label={words}
          aria-valuenow={Math.round(shown.x * 100)}
          aria-valuetext={words}
          className="absolute cursor-move touch-none overflow-hidden outline-2 outline-saffron focus-visible:outline-4"
          style={{
            left: `${(shown.x - cut.width / 2) * 100}%`,
            top: `${(shown.y - cut.height / 2) * 100}%`,
            width: `${cut.width * 100}%`,
            height: `${cut.height * 100}%`,
          }}
          onPointerDown={grab}
          onPointerMove={drag}
          onPointerUp={drop}
          onPointerCancel={() => setHeld(undefined)}
          onKeyDown={step}
        >
          <img
            src={mediaAddress(brand, row, "small")}
            alt=""
            draggable={false}
            className="absolute max-w-none"
            style={{
              width: `${100 / cut.width}%`,
              height: `${100 / cut.height}%`,
              left: `${(-(shown.x - cut.width / 2) / cut.width) * 100}%`,
              top: `${(-(shown.y - cut.height / 2) / cut.height) * 100}%`,
            }}
          />
        </div>
      </div>
      <span className="block truncate text-small text-ink-soft">
        {page}
        {at?.x !== undefined && ", moved by hand"}
      </span>
    </li>
  );
}
