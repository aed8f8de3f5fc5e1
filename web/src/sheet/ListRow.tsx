import { clsx } from "clsx";
import { memo, useEffect, useRef, useState } from "react";
import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { mediaAddress } from "~/api/client";
import { useFolders } from "~/api/queries";
import { useRow } from "~/api/rows";
import { tint, titleOf } from "~/kit/words";
import { thumbnail, type Column } from "./columns";
import { dragItems, reorderTarget } from "./drag";
import { useGo } from "./place";
import { takeForDrag, useTileState } from "./selection";
import type { TileProps } from "./Tile";

interface ListRowProps extends TileProps {
  /** The columns with their widths; none shows the name only. */
  columns: { column: Column; width: number }[];
}

/** ListRow is one item as a line: a thumbnail and what its columns say, or its name only. */
export const ListRow = memo(function ListRow({ brand, id, left, top, width, height, ground, dragLabel, onReorder, columns }: ListRowProps) {
  const row = useRow(id);
  const state = useTileState(id);
  const folders = useFolders(brand).data;
  const { goTo } = useGo();
  const [side, setSide] = useState<"before" | "after">();
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = ref.current!;
    const drag = dragItems(element, "sheet", () => takeForDrag(id), dragLabel);
    return onReorder
      ? combine(
          drag,
          reorderTarget(element, setSide, (ids, at) => onReorder(ids, undefined, id, at), "down"),
        )
      : drag;
  }, [id, dragLabel, onReorder]);
  const folder = (of: number | undefined) => (of === undefined ? "Unfiled" : (folders?.find((f) => f.id === of)?.name ?? ""));
  const name = row ? titleOf(row) : "";
  const ground2 =
    state === "selected" ? "bg-saffron-wash text-ink" : state === "cursor" ? "outline-1 -outline-offset-1 outline-line-strong" : "";
  return (
    <div
      ref={ref}
      id={`item-${id}`}
      data-id={id}
      role="option"
      aria-selected={state === "selected"}
      aria-label={row ? undefined : "Loading"}
      title={name}
      className={clsx(
        "absolute flex items-center rounded-[3px] text-dense whitespace-nowrap",
        "text-[var(--on-backdrop-strong)] select-none",
        ground2,
        side === "before" ? "border-t-2 border-saffron" : side === "after" ? "border-b-2 border-saffron" : "",
      )}
      style={{ left, top, width, height, contain: "strict" }}
    >
      {columns.length === 0 ? (
        <span className="truncate px-2">{name}</span>
      ) : (
        <>
          <span className="grid shrink-0 place-items-center" style={{ width: thumbnail, height }}>
            <span className="h-8 w-11 overflow-hidden rounded-[2px]" style={{ backgroundColor: tint(ground) }}>
              {row && row.kind !== "file" && (
                <img src={mediaAddress(brand, row, "small")} alt="" draggable={false} className="size-full object-contain" />
              )}
            </span>
          </span>
          {row &&
            columns.map(({ column, width: w }) => (
              <span
                key={column.key}
                data-column={column.key}
                className={`shrink-0 truncate px-2 ${column.end ? "text-right" : ""} ${column.key === "folder" ? "hover:underline" : ""}`}
                style={{ width: w }}
                onClick={
                  column.key === "folder"
                    ? () => goTo(row.folder === undefined ? { place: "unfiled" } : { place: "folder", id: row.folder })
                    : undefined
                }
              >
                {column.say(row, folder)}
              </span>
            ))}
        </>
      )}
    </div>
  );
});
