import { clsx } from "clsx";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { scrollAtEdges } from "~/kit/edges";
import type { View } from "~/api/preferences";
import type { SheetData } from "~/api/sheets";
import { rows } from "~/api/rows";
import { useKeys } from "~/kit/keys";
import { useSettings } from "~/kit/settings";
import { useAnchor } from "./anchor";
import { useDropTarget } from "./drag";
import type { Target } from "./dropped";
import { useLasso } from "./lasso";
import { useTouchOrder, type Insertion } from "./touchOrder";
import { gap, layOut, layOutNames, layOutRows, rowOf, strip, upOrDown, visible, type Layout } from "~/kit/layout";
import { ListHead, listWidth, useColumns } from "./ListHead";
import { ListRow } from "./ListRow";
import { compareNoMore, invert, moveCursor, openBig, selectEverything, selectNothing, useChosen } from "./selection";
import { wordsOf } from "./filters";
import { usePlace } from "./place";
import { explain, searchFor } from "./reasons";
import { startSlides } from "./slides";
import { Ghost, Tile, titleLine, titleLines } from "./Tile";

const grounds = {
  paper: "bg-paper [--ground:var(--paper)] [--on-backdrop:var(--ink-soft)] [--on-backdrop-strong:var(--ink)]",
  grey: "bg-grey [--ground:var(--grey)] [--on-backdrop:var(--on-grey)] [--on-backdrop-strong:var(--on-grey)]",
  night: "bg-night [--ground:var(--night)] [--on-backdrop:var(--on-night)] [--on-backdrop-strong:var(--on-night)]",
};
// Pixels in one frame from which on pictures wait, and below which they are shown again while one still scrolls.
const hurry = 240;
const calm = 120;
const ghosts = 256; // more than a screen holds, so that each is moved and none made while one scrolls fast

interface SheetProps {
  brand: string;
  sheet: SheetData | undefined;
  /** What sets this sheet apart from that of another place; undefined while the one before is still shown. */
  of: string | undefined;
  view: View;
  /** Called with the items that are in view, so that what is missing of them is loaded. */
  onView: (seen: number[]) => void;
  empty: ReactNode;
  filesGoTo: Target;
  dragLabel: (n: number) => string;
  /** In a manual order: puts items before another one, or at the end. */
  onOrder?: (ids: number[], before: number | undefined) => void;
}

/** Sheet shows the pictures of a place. It draws only what is in view, and stays smooth with 100,000. */
export function Sheet({ brand, sheet, of, view, onView, empty, filesGoTo, dragLabel, onOrder }: SheetProps) {
  const { rowHeight, backdrop, titles } = useSettings();
  const scroller = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const columns = useColumns(brand);
  const words = wordsOf(usePlace().filter);
  const searched = !!words;
  useLayoutEffect(() => searchFor(words), [words]);
  const layout = useMemo(() => {
    const ratios = sheet?.ratios ?? [];
    if (view === "list") return layOutRows(ratios.length, Math.max(width, listWidth(columns)));
    if (view === "names") return layOutNames(ratios.length, width);
    return layOut(
      ratios,
      width,
      Math.min(rowHeight, Math.max(80, width / 3.4)),
      strip + titleLine * (titleLines[titles] + (searched ? 1 : 0)),
    );
  }, [sheet, width, rowHeight, view, columns, titles, searched]);
  const ids = useMemo(() => sheet?.ids ?? [], [sheet]);
  useAnchor(scroller, ids, layout, of);
  const { range, hurried } = useWindow(scroller, layout, setWidth);
  useEffect(() => {
    if (hurried) return;
    rows.want(ids.slice(range[0], range[1]).filter((id) => id > 0));
    onView(ids.slice(range[0], range[1]));
    if (view === "pictures") void explain(brand, ids.slice(range[0], range[1]));
  }, [brand, ids, range, hurried, onView, view, words]);
  useSheetKeys(layout, scroller);
  useEffect(() => (scroller.current ? scrollAtEdges(scroller.current) : undefined), []);
  const lasso = useLasso(scroller, layout, ids);
  const { ref, over } = useDropTarget<HTMLDivElement>(undefined, filesGoTo);
  const reorder = useCallback(
    (moved: number[], _: number | undefined, target: number, side: "before" | "after") => {
      const all = useChosen.getState().ids;
      let next = all.indexOf(target) + (side === "after" ? 1 : 0);
      while (next < all.length && moved.includes(all[next]!)) next++;
      onOrder?.(moved, all[next]);
    },
    [onOrder],
  );
  const insertion = useTouchOrder(scroller, view === "pictures" ? "across" : "down", onOrder ? reorder : undefined);
  const nothing = sheet !== undefined && ids.length === 0;
  const tiles = [];
  let row = range[0] < ids.length ? rowOf(layout, range[0]) : 0;
  for (let i = range[0]; i < range[1] && i < ids.length; i++) {
    if (i >= layout.first[row + 1]!) row++;
    const at = {
      left: layout.left[i]!,
      top: layout.tops[row]!,
      width: layout.width[i]!,
      height: layout.heights[row]!,
      ground: sheet!.tints[i]!,
    };
    if ((hurried && view === "pictures") || ids[i]! < 0) tiles.push(<Ghost key={`ghost ${i % ghosts}`} {...at} />);
    else if (view !== "pictures")
      tiles.push(
        <ListRow
          key={ids[i]}
          brand={brand}
          id={ids[i]!}
          {...at}
          dragLabel={dragLabel}
          onReorder={onOrder ? reorder : undefined}
          columns={view === "list" ? columns : noColumns}
        />,
      );
    else
      tiles.push(<Tile key={ids[i]} brand={brand} id={ids[i]!} {...at} dragLabel={dragLabel} onReorder={onOrder ? reorder : undefined} />);
  }
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      {view === "list" && !nothing && <ListHead brand={brand} scroller={scroller} />}
      <div ref={ref} className={`relative min-h-0 flex-1 ${grounds[backdrop]} ${over ? "drop-here" : ""}`}>
        <div
          ref={scroller}
          data-sheet
          tabIndex={0}
          aria-label="Items"
          {...(nothing ? { role: "region" } : { role: "listbox", "aria-multiselectable": true })}
          className={clsx(
            "absolute inset-0 overflow-y-auto [&:has([data-column])]:overflow-x-auto px-4 py-3",
            "outline-none [scrollbar-gutter:stable] max-md:[scrollbar-gutter:auto]",
          )}
          {...lasso.handlers}
        >
          {insertion && <InsertionMark {...insertion} />}
          {nothing ? (
            <div className="grid h-full place-items-center text-[var(--on-backdrop)]">{empty}</div>
          ) : (
            <div role="presentation" className="relative" style={{ height: layout.height }}>
              {tiles}
              {lasso.box && (
                <div aria-hidden="true" className="pointer-events-none absolute border-2 border-dashed border-saffron" style={lasso.box} />
              )}
            </div>
          )}
        </div>
      </div>
    </div>
  );
}

/** InsertionMark shows where the items go that a finger carries, and how many. */
function InsertionMark({ left, top, width, height, moved }: Insertion) {
  return (
    <div
      aria-hidden="true"
      data-insertion
      className="pointer-events-none fixed z-20 rounded bg-saffron"
      style={{ left, top, width, height }}
    >
      <span className="absolute -top-3 left-2 rounded-full bg-saffron px-2 text-small font-semibold whitespace-nowrap text-on-saffron">
        Move {moved}
      </span>
    </div>
  );
}

const noColumns: never[] = [];

/** useWindow says which items are in view, changing only when rows come or go, and whether one scrolls too fast to look. */
function useWindow(scroller: React.RefObject<HTMLDivElement | null>, layout: Layout, setWidth: (width: number) => void) {
  const [range, setRange] = useState<[number, number]>([0, 0]);
  const [hurried, setHurried] = useState(false);
  useLayoutEffect(() => {
    const element = scroller.current!;
    let frame = 0;
    let before = element.scrollTop;
    let settle: ReturnType<typeof setTimeout>;
    const look = () => {
      frame = 0;
      const top = element.scrollTop;
      const moved = Math.abs(top - before);
      const next = visible(layout, top - gap, element.clientHeight, moved > hurry ? 0 : 2);
      setRange((r) => (r[0] === next[0] && r[1] === next[1] ? r : next));
      if (moved > hurry) setHurried(true);
      else if (moved < calm) setHurried(false);
      before = top;
      clearTimeout(settle);
      settle = setTimeout(() => {
        setHurried(false);
        soon(); // with the rows around the window again
      }, 100);
    };
    const soon = () => (frame ||= requestAnimationFrame(look));
    const measure = new ResizeObserver(() => {
      setWidth(element.clientWidth - 32);
      soon();
    });
    measure.observe(element);
    element.addEventListener("scroll", soon, { passive: true });
    look();
    return () => {
      measure.disconnect();
      element.removeEventListener("scroll", soon);
      cancelAnimationFrame(frame);
      clearTimeout(settle);
    };
  }, [scroller, layout, setWidth]);
  return { range, hurried };
}

/** useSheetKeys walks through the sheet with the arrows and keeps the item one is at in view. */
function useSheetKeys(layout: Layout, scroller: React.RefObject<HTMLDivElement | null>) {
  const vertical = (by: -1 | 1) => (event: KeyboardEvent) => {
    const { ids, cursor, open, compared } = useChosen.getState();
    const at = ids.indexOf(open ?? cursor ?? -1);
    if (compared.length > 0) moveCursor(by * Math.ceil(Math.sqrt(compared.length)));
    else if (at < 0) moveCursor(0);
    else moveCursor(upOrDown(layout, at, by) - at, event.shiftKey);
  };
  useKeys("The sheet", [
    { press: "ArrowRight", inSheet: true, does: "next item; with Shift select on", run: (e) => moveCursor(1, e.shiftKey) },
    { press: "ArrowLeft", inSheet: true, does: "item before", run: (e) => moveCursor(-1, e.shiftKey) },
    { press: "ArrowDown", inSheet: true, does: "row below", run: vertical(1) },
    { press: "ArrowUp", inSheet: true, does: "row above", run: vertical(-1) },
    {
      press: "Enter",
      inSheet: true,
      does: "see it big, or back to the sheet",
      run: (e) => {
        const { cursor, open } = useChosen.getState();
        if ((e.target as HTMLElement).closest("button, a")) (e.target as HTMLElement).click();
        else openBig(open === undefined ? cursor : undefined);
      },
    },
    {
      press: "Escape",
      does: "back to the sheet, then select nothing",
      run: () => {
        const { open, compared } = useChosen.getState();
        if (compared.length > 0) compareNoMore();
        else if (open !== undefined) openBig(undefined);
        else selectNothing();
      },
    },
    { press: "Ctrl+a", does: "select everything here", run: selectEverything },
    { press: "p", does: "show the selection or the sheet as a slideshow", run: startSlides },
    { press: "i", does: "select the others instead", run: invert },
  ]);
  const cursor = useChosen((s) => s.cursor);
  const latest = useRef(layout);
  useEffect(() => {
    latest.current = layout; // pages that come in later change it, and must not bring one back to the item one was at
  }, [layout]);
  useEffect(() => {
    const layout = latest.current;
    const element = scroller.current;
    const at = cursor === undefined ? -1 : useChosen.getState().ids.indexOf(cursor);
    if (!element || at < 0) return;
    const row = rowOf(layout, at);
    const top = layout.tops[row]!;
    const bottom = layout.tops[row + 1]!;
    if (top < element.scrollTop) element.scrollTop = top;
    else if (bottom > element.scrollTop + element.clientHeight - 24) element.scrollTop = bottom - element.clientHeight + 24;
  }, [cursor, scroller]);
}
