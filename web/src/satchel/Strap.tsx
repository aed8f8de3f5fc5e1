import { clsx } from "clsx";
import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { ChevronDown, ChevronUp, Undo2, X } from "lucide-react";
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { mediaAddress, type AssetRow, type Me, type Selection } from "~/api/client";
import { useSatchel, useSize } from "~/api/queries";
import { Button, IconButton } from "~/kit/Button";
import { useKeys } from "~/kit/keys";
import { Mark } from "~/kit/Mark";
import { bytes, tint, titleOf } from "~/kit/words";
import { dragItems, reorderTarget, useDropTarget } from "~/sheet/drag";
import { asSelection, selectNothing, useChosen, useCount } from "~/sheet/selection";
import { carry, orderSatchel, putDown } from "./acts";

/** Strap is the bottom edge: the satchel on the left, work in progress in the middle, the selection on the right. */
export function Strap({
  brand,
  me,
  progress,
  undo,
}: {
  brand: string;
  me: Me;
  progress: ReactNode;
  undo: { id: number | undefined; said: string | undefined; run: () => void };
}) {
  const may = me.can.includes("carry");
  const carried = useSatchel(brand, may).data ?? [];
  const [open, setOpen] = useState(false);
  const count = useCount();
  const mode = useChosen((s) => s.mode);
  const size = useSelectionSize(brand);
  const take = (ids?: number[]) => void carry(brand, ids ? { ids } : asSelection());
  const lay = (ids: number[]) => void putDown(brand, ids);
  const order = useCallback((ids: number[], before: number | undefined) => void orderSatchel(brand, ids, before), [brand]);
  const { ref, over, carrying } = useDropTarget<HTMLDivElement>(may ? (ids, from) => from === "sheet" && take(ids) : undefined);
  useKeys("The satchel", may ? [{ press: "s", does: "put the selection in the satchel", run: () => count > 0 && take() }] : []);
  return (
    <footer className="relative z-20 bg-card">
      {open && (
        <div className="stitch-t border-t border-line bg-card px-4 pt-3 pb-2" data-satchel-strip>
          <div className="mb-2 flex items-center gap-2">
            <h2 className="flex-1 text-lg">In the satchel</h2>
            {carried.length > 0 && (
              <Button tone="quiet" onClick={() => lay(carried.map((r) => r.id))}>
                Empty it
              </Button>
            )}
          </div>
          {carried.length === 0 ? (
            <p className="pb-2 text-ink-soft">It is empty. Select some items and press S, or drag them here.</p>
          ) : (
            <ol className="flex gap-2 overflow-x-auto pb-1" aria-label="In the satchel">
              {carried.map((row, i) => (
                <Carried key={row.id} brand={brand} row={row} next={carried[i + 1]?.id} onOrder={order} onPutDown={() => lay([row.id])} />
              ))}
            </ol>
          )}
        </div>
      )}
      <div ref={ref} className={`stitch-t flex h-11 items-center gap-3 px-3 pt-1 ${over ? "drop-here" : ""}`} data-strap>
        {may && (
          <button
            type="button"
            aria-expanded={open}
            data-satchel={carried.length}
            className="flex items-center gap-2 rounded-patch px-1.5 py-1 hover:bg-sunk"
            onClick={() => setOpen(!open)}
          >
            <Mark size={24} />
            <span className="flex gap-0.5 max-md:hidden" aria-hidden="true">
              {carried.slice(0, 5).map((r) => (
                <img key={r.id} src={mediaAddress(brand, r, "small")} alt="" className="h-7 w-8 rounded-sm object-cover" />
              ))}
            </span>
            <span>{over && carrying ? `Carry ${carrying}` : carried.length === 0 ? "satchel empty" : `${carried.length} carried`}</span>
            {open ? <ChevronDown size={16} /> : <ChevronUp size={16} />}
          </button>
        )}
        <div className="flex min-w-0 flex-1 items-center justify-center gap-4">{progress}</div>
        {undo.said && <IconButton data-undoes={undo.id} label={`Undo: ${undo.said}`} icon={<Undo2 size={18} />} onClick={undo.run} />}
        {count > 0 && (
          <div className="flex items-center gap-2">
            {may && (
              <Button tone="strap" className="max-md:hidden" onClick={() => take()}>
                Put {count} in the satchel
              </Button>
            )}
            <span data-selected={count} className="whitespace-nowrap">
              {count.toLocaleString("en-GB")} selected{size !== undefined && <span className="max-md:hidden"> · {bytes(size)}</span>}
            </span>
            {mode && <span className="text-small text-ink-soft md:hidden">tap adds</span>}
            <IconButton label="Select nothing" icon={<X size={18} />} onClick={selectNothing} />
          </div>
        )}
      </div>
    </footer>
  );
}

/** How long a selection stays the same until it is sized up. */
const settles = 250;

/** useSelectionSize is how many bytes the selection has, once it has stayed the same for a moment; never those of another one. */
function useSelectionSize(brand: string) {
  const selected = useChosen((s) => s.selected);
  const wholly = useChosen((s) => s.wholly);
  const [settled, setSettled] = useState<{ of: Set<number>; selection: Selection }>();
  useEffect(() => {
    const timer = setTimeout(() => setSettled(selected.size > 0 ? { of: selected, selection: asSelection() } : undefined), settles);
    return () => clearTimeout(timer);
  }, [selected, wholly]);
  const size = useSize(brand, settled?.selection ?? { ids: [] }, settled !== undefined).data;
  return settled?.of === selected ? size?.bytes : undefined;
}

function Carried({
  brand,
  row,
  next,
  onOrder,
  onPutDown,
}: {
  brand: string;
  row: AssetRow;
  next: number | undefined;
  onOrder: (ids: number[], before: number | undefined) => void;
  onPutDown: () => void;
}) {
  const ref = useRef<HTMLLIElement>(null);
  const [side, setSide] = useState<"before" | "after">();
  useEffect(() => {
    const element = ref.current!;
    return combine(
      dragItems(
        element,
        "satchel",
        () => [row.id],
        () => titleOf(row),
      ),
      reorderTarget(element, setSide, (ids, at) => onOrder(ids, at === "before" ? row.id : next)),
    );
  }, [row, next, onOrder]);
  return (
    <li
      ref={ref}
      className={clsx(
        "group relative h-20 shrink-0",
        side === "before" ? "border-l-4 border-saffron" : side === "after" ? "border-r-4 border-saffron" : "",
      )}
      title={`${titleOf(row)}, ${row.kind}`}
    >
      <img
        src={mediaAddress(brand, row, "small")}
        alt={titleOf(row)}
        draggable={false}
        className="h-full rounded-[3px]"
        style={{ backgroundColor: tint(row.tint) }}
      />
      <button
        type="button"
        aria-label={`Take ${titleOf(row)} out of the satchel`}
        className={clsx(
          "absolute top-1 right-1 grid size-6 place-items-center rounded-full bg-card opacity-0",
          "group-hover:opacity-100 focus:opacity-100",
        )}
        onClick={onPutDown}
      >
        <X size={14} />
      </button>
    </li>
  );
}
