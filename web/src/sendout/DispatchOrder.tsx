import { clsx } from "clsx";
import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { useEffect, useRef, useState } from "react";
import { mediaAddress } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { tint, titleOf } from "~/kit/words";
import { dragItems, reorderTarget } from "~/sheet/drag";
import { moved, stepped } from "./dispatching";

/** DispatchOrder shows what is sent, in its order, which is changed by dragging or with the arrow keys. */
export function DispatchOrder({ brand, ids, onOrder }: { brand: string; ids: number[]; onOrder: (ids: number[]) => void }) {
  return (
    <section aria-label="What, in this order">
      <h3 className="mb-1 text-base">What, in this order</h3>
      <ol className="flex gap-1.5 overflow-x-auto p-1" data-dispatch-order>
        {ids.map((id, i) => (
          <Ordered
            key={id}
            brand={brand}
            id={id}
            number={i + 1}
            onStep={(by) => onOrder(stepped(ids, id, by))}
            onDrop={(those, side) => onOrder(moved(ids, those, side === "before" ? id : ids[i + 1]))}
          />
        ))}
      </ol>
      {ids.length > 1 && <p className="text-small text-ink-soft">Drag a picture to another place, or move it with the arrow keys.</p>}
    </section>
  );
}

function Ordered({
  brand,
  id,
  number,
  onStep,
  onDrop,
}: {
  brand: string;
  id: number;
  number: number;
  onStep: (by: number) => void;
  onDrop: (ids: number[], side: "before" | "after") => void;
}) {
  const row = useRow(id);
  useEffect(() => {
    if (!row) rows.want([id]);
  }, [row, id]);
  const ref = useRef<HTMLLIElement>(null);
  const [side, setSide] = useState<"before" | "after">();
  const drop = useRef(onDrop);
  useEffect(() => {
    drop.current = onDrop;
  });
  useEffect(() => {
    const element = ref.current!;
    return combine(
      dragItems(
        element,
        "sheet",
        () => [id],
        () => (row ? titleOf(row) : "1 item"),
      ),
      reorderTarget(element, setSide, (those, at) => drop.current(those, at)),
    );
  }, [id, row]);
  const keys = (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (by === undefined) return;
    e.preventDefault();
    onStep(by);
  };
  return (
    <li
      ref={ref}
      className={clsx(
        "relative shrink-0",
        side === "before" ? "border-l-4 border-saffron" : side === "after" ? "border-r-4 border-saffron" : "",
      )}
      data-ordered={id}
    >
      <button
        type="button"
        className="block rounded-[3px]"
        aria-label={`Number ${number}: ${row ? titleOf(row) : "…"}. The arrow keys move it.`}
        title={row ? titleOf(row) : undefined}
        onKeyDown={keys}
      >
        {row ? (
          <img
            src={mediaAddress(brand, row, "small")}
            alt=""
            draggable={false}
            loading="lazy"
            className="h-16 rounded-[3px]"
            style={{ backgroundColor: tint(row.tint), aspectRatio: row.width / row.height || 1 }}
          />
        ) : (
          <span className="block h-16 w-20 rounded-[3px] bg-line" />
        )}
        <span className="absolute bottom-1 left-1 rounded bg-card px-1 text-small tabular-nums">{number}</span>
      </button>
    </li>
  );
}
