import { ArrowDown, ArrowUp, Columns3 } from "lucide-react";
import { useEffect, useMemo, useRef, type RefObject } from "react";
import { prefer, usePreferences } from "~/api/preferences";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { atFirst, columns, narrowest, thumbnail, type Column } from "./columns";
import { useOrder } from "./order";

/** useColumns are the columns that somebody chose, with their widths in pixels. */
export function useColumns(brand: string) {
  const { shown = atFirst, columns: widths = noWidths } = usePreferences(brand);
  return useMemo(
    () => columns.filter((c) => shown.includes(c.key)).map((column) => ({ column, width: widths[column.key] ?? column.width })),
    [shown, widths],
  );
}

const noWidths: Record<string, number> = {};

/** listWidth is how wide a list is, in pixels, whatever the room for it. */
export const listWidth = (present: ReturnType<typeof useColumns>) => present.reduce((sum, c) => sum + c.width, thumbnail);

/** ListHead is the line above a list: a click sorts, its edges size, and its menu chooses the columns. */
export function ListHead({ brand, scroller }: { brand: string; scroller: RefObject<HTMLDivElement | null> }) {
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = scroller.current!;
    const follow = () => line.current && (line.current.style.transform = `translateX(${-element.scrollLeft}px)`);
    element.addEventListener("scroll", follow, { passive: true });
    return () => element.removeEventListener("scroll", follow);
  }, [scroller]);
  const { sort, descending, order } = useOrder();
  const present = useColumns(brand);
  const widths = usePreferences(brand).columns ?? {};
  const shown = usePreferences(brand).shown ?? atFirst;
  const choose = (key: string) => prefer(brand, { shown: shown.includes(key) ? shown.filter((k) => k !== key) : [...shown, key] });
  return (
    <div className="overflow-hidden border-b border-line bg-card" role="toolbar" aria-label="Columns" data-list-head>
      <div ref={line} className="flex h-8 items-center px-4 text-small text-ink-soft">
        <span className="flex shrink-0 items-center" style={{ width: thumbnail }}>
          <Menu
            align="start"
            trigger={<IconButton label="Choose columns" className="size-7" icon={<Columns3 size={16} />} />}
            items={columns.map((c) => ({ label: c.label, checked: shown.includes(c.key), onSelect: () => choose(c.key) }))}
          />
        </span>
        {present.map(({ column, width }) => (
          <Head
            key={column.key}
            column={column}
            width={width}
            sorted={column.sort === sort ? (descending ? "falling" : "rising") : undefined}
            onSort={() => order(column.sort!, column.sort === sort ? !descending : undefined)}
            onWidth={(w) => prefer(brand, { columns: { ...widths, [column.key]: w } })}
          />
        ))}
      </div>
    </div>
  );
}

function Head({
  column,
  width,
  sorted,
  onSort,
  onWidth,
}: {
  column: Column;
  width: number;
  sorted: "rising" | "falling" | undefined;
  onSort: () => void;
  onWidth: (width: number) => void;
}) {
  const from = useRef<{ x: number; width: number }>(undefined);
  const size = (to: number) => onWidth(Math.round(Math.max(narrowest, Math.min(600, to))));
  return (
    <span className="relative flex shrink-0 items-center" style={{ width }}>
      {column.sort ? (
        <button
          type="button"
          className={`flex min-w-0 flex-1 items-center gap-1 px-2 py-1 hover:text-ink ${column.end ? "justify-end" : ""}`}
          onClick={onSort}
          aria-label={`${column.label}, sort by it${sorted ? `, ${sorted} now` : ""}`}
        >
          <span className="truncate">{column.label}</span>
          {sorted === "rising" && <ArrowUp size={13} />}
          {sorted === "falling" && <ArrowDown size={13} />}
        </button>
      ) : (
        <span className={`min-w-0 flex-1 truncate px-2 ${column.end ? "text-right" : ""}`}>{column.label}</span>
      )}
      <span
        role="separator"
        aria-orientation="vertical"
        aria-label={`Width of ${column.label}`}
        aria-valuenow={width}
        aria-valuemin={narrowest}
        aria-valuemax={600}
        tabIndex={0}
        className="absolute inset-y-0 right-0 w-1.5 cursor-col-resize border-r border-line hover:border-saffron"
        onPointerDown={(e) => {
          from.current = { x: e.clientX, width };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => from.current && size(from.current.width + e.clientX - from.current.x)}
        onPointerUp={() => (from.current = undefined)}
        onKeyDown={(e) => {
          if (e.key !== "ArrowLeft" && e.key !== "ArrowRight") return;
          size(width + (e.key === "ArrowRight" ? 16 : -16));
          e.preventDefault();
          e.stopPropagation();
        }}
      />
    </span>
  );
}
