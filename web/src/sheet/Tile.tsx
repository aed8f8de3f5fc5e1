import { clsx } from "clsx";
import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { Bookmark, CloudOff, FileText, Film, Images, Layers } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import { mediaAddress } from "~/api/client";
import { useConnection } from "~/api/outbox";
import { useRow } from "~/api/rows";
import { type Titles, useSettings } from "~/kit/settings";
import { daysLeft, duration, shortMoment, tint, titleOf } from "~/kit/words";
import { dragItems, reorderTarget } from "./drag";
import { strip } from "~/kit/layout";
import { inWords, type Reason, useReasons } from "./reasons";
import { Why } from "./Why";
import { inPile, unfold } from "./piles";
import { takeForDrag, useChosen, useTileState } from "./selection";

export interface TileProps {
  brand: string;
  id: number;
  left: number;
  top: number;
  width: number;
  height: number;
  ground: number;
  dragLabel: (n: number) => string;
  onReorder?: (ids: number[], before: number | undefined, target: number, side: "before" | "after") => void;
}

/** A line of words below a picture, and how many there are. */
export const titleLine = 18;
export const titleLines: Record<Titles, number> = { nothing: 0, title: 1, "title and date": 2 };
/** These cannot be told from their picture: they have their title among their marks. */
const titled = new Set(["document", "vector", "file"]);

/** Tile is one picture of the sheet with its few marks below it. */
export const Tile = memo(function Tile({ brand, id, left, top, width, height, ground, dragLabel, onReorder }: TileProps) {
  const row = useRow(id);
  const state = useTileState(id);
  const titles = useSettings((s) => s.titles);
  const searched = useReasons((s) => s.words !== undefined);
  const reasons = useReasons((s) => s.of.get(id));
  const selected = state === "selected";
  const waits = useConnection((s) => s.items.has(id));
  const isCut = useChosen((s) => s.cut.has(id));
  const pile = useChosen((s) => s.piles.get(id));
  const [side, setSide] = useState<"before" | "after">();
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = ref.current!;
    const drag = dragItems(element, "sheet", () => takeForDrag(id), dragLabel);
    if (!onReorder) return drag;
    return combine(
      drag,
      reorderTarget(element, setSide, (ids, at) => onReorder(ids, undefined, id, at)),
    );
  }, [id, dragLabel, onReorder]);
  const name = row ? titleOf(row) : "Loading";
  return (
    <div
      ref={ref}
      id={`item-${id}`}
      data-id={id}
      role="option"
      aria-selected={selected}
      aria-label={
        row ? describeTile(row, titles === "title and date", reasons, inPile(id)) + (waits ? ", waits for the connection" : "") : name
      }
      title={name}
      className={`absolute select-none ${isCut ? "opacity-45" : ""}`}
      style={{ left, top, width, contain: "layout size", height: height + strip + titleLine * (titleLines[titles] + (searched ? 1 : 0)) }}
    >
      <div
        className={clsx(
          "relative overflow-hidden rounded-[3px]",
          pile &&
            !pile.unfolded &&
            "shadow-[3px_0_0_var(--ground),4px_0_0_var(--on-backdrop),7px_0_0_var(--ground),8px_0_0_var(--on-backdrop)]",
          selected
            ? "outline-3 outline-offset-2 outline-saffron"
            : state === "cursor"
              ? "outline-2 outline-offset-2 outline-line-strong"
              : "",
        )}
        style={{ height, backgroundColor: tint(ground) }}
      >
        {row && row.kind !== "file" && (
          <img src={mediaAddress(brand, row, "small")} alt="" draggable={false} decoding="async" className="size-full object-contain" />
        )}
        {row?.kind === "file" && (
          <span className="grid size-full place-items-center content-center gap-1 bg-sunk p-2 text-center text-small text-ink-soft">
            <FileText size={28} />
            <span className="max-w-full truncate">{row.fileName}</span>
          </span>
        )}
        {row?.kind === "clip" && <Scrub brand={brand} code={row.code} version={row.version} />}
        {selected && (
          <span
            aria-hidden="true"
            className="absolute top-1 left-1 grid size-5 place-items-center rounded-full bg-saffron text-small font-bold text-on-saffron"
          >
            ✓
          </span>
        )}
      </div>
      {side && (
        <span aria-hidden="true" className={`absolute top-0 h-full w-1 rounded bg-saffron ${side === "before" ? "-left-2" : "-right-2"}`} />
      )}
      {titles !== "nothing" && (
        <p aria-hidden="true" className="h-[18px] truncate pt-0.5 text-small text-[var(--on-backdrop-strong)]">
          {row && titleOf(row)}{" "}
        </p>
      )}
      {titles === "title and date" && (
        <p aria-hidden="true" className="h-[18px] truncate text-small text-[var(--on-backdrop)]">
          {row && (row.taken ? shortMoment(row.taken) : "undated")}{" "}
        </p>
      )}
      {searched && <Why id={id} />}
      <div
        className="flex h-[22px] items-center gap-2 overflow-hidden pt-0.5 text-small whitespace-nowrap text-[var(--on-backdrop)]"
        aria-hidden="true"
      >
        {waits && <CloudOff size={13} className="shrink-0" data-waits-here="" />}
        {row && titles === "nothing" && titled.has(row.kind) && <span className="truncate">{titleOf(row)}</span>}{" "}
        {row?.daysLeft !== undefined && <span>{daysLeft(row.daysLeft)}</span>} {row && row.stars > 0 && <span>{row.stars} ★</span>}{" "}
        {row && row.stars < 0 && <span>set aside</span>} {row?.stage && <span className="truncate">{row.stage}</span>}{" "}
        {row?.prepared && <span>prepared</span>} {row?.sent && <span className="truncate">{sentSaid[row.sent]}</span>}{" "}
        {row?.keeper && <Bookmark size={13} className="fill-saffron" />}
        {row?.kind === "clip" && (
          <span className="inline-flex items-center gap-1">
            <Film size={13} />
            {duration(row.seconds ?? 0)}
          </span>
        )}{" "}
        {row?.kind === "document" && (
          <span className="inline-flex items-center gap-1">
            <FileText size={13} />
            {row.pages ?? 1} p
          </span>
        )}{" "}
        {pile && (
          <span
            className="inline-flex cursor-pointer items-center gap-1 hover:underline"
            title={pile.unfolded ? "Fold them again (u)" : `Unfold them (u)${pile.why ? `; shown is ${pile.why}` : ""}`}
            onClick={(e) => {
              e.stopPropagation(); // it is no choice of the tile
              unfold(id);
            }}
            data-pile={pile.ids.length}
          >
            <Images size={13} />
            {inPile(id)}
          </span>
        )}{" "}
        {!!row?.stacked && (
          <span className="inline-flex items-center gap-1">
            <Layers size={13} />
            {row.behind ? `one of ${row.stacked}` : row.stacked}
          </span>
        )}{" "}
        {row?.left && <span className="text-tomato">file {row.left}</span>}{" "}
        {row?.live && (
          <span
            className="size-2 shrink-0 rounded-full bg-plum ring-1 ring-paper"
            title="Shown outside: in a gallery that is open, live on a website, or under a public address"
          />
        )}{" "}
      </div>
    </div>
  );
});

/** The scrub strip shows ten frames side by side. */
const frames = 10;

/** Scrub shows the frame of a clip that the pointer is over, from left to right. */
function Scrub({ brand, code, version }: { brand: string; code: string; version: string }) {
  const [at, setAt] = useState<number>();
  return (
    <span
      aria-hidden="true"
      data-scrub={at}
      className="absolute inset-0"
      onPointerMove={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        setAt(Math.max(0, Math.min(frames - 1, Math.floor((frames * (e.clientX - box.left)) / box.width))));
      }}
      onPointerLeave={() => setAt(undefined)}
      style={
        at === undefined
          ? undefined
          : {
              backgroundImage: `url(${mediaAddress(brand, { code, version }, "strip")})`,
              backgroundSize: `${frames * 100}% 100%`,
              backgroundPosition: `${(at / (frames - 1)) * 100}% 0`,
            }
      }
    />
  );
}

/** Ghost is the tint of a picture, all that is drawn of it while one scrolls too fast to look. */
export const Ghost = memo(function Ghost({
  left,
  top,
  width,
  height,
  ground,
}: Pick<TileProps, "left" | "top" | "width" | "height" | "ground">) {
  return <div role="presentation" className="absolute rounded-[3px]" style={{ left, top, width, height, backgroundColor: tint(ground) }} />;
});

/** What a tile says of an item that was sent out, as it is now or as it was before. */
const sentSaid = { as_it_is: "sent out", older: "changed since sent" } as const;

/** describeTile says a tile in words, those that stand below it first and as they stand there. */
function describeTile(row: NonNullable<ReturnType<typeof useRow>>, dated: boolean, reasons: Reason[] = [], pile?: string) {
  const marks = [titleOf(row)];
  if (dated) marks.push(row.taken ? shortMoment(row.taken) : "undated");
  if (reasons.length > 0) marks.push(inWords(reasons));
  if (row.daysLeft !== undefined) marks.push(daysLeft(row.daysLeft));
  if (row.stars > 0) marks.push(`${row.stars} ★`);
  if (row.stars < 0) marks.push("set aside");
  if (row.stage) marks.push(row.stage);
  if (row.kind === "clip") marks.push(duration(row.seconds ?? 0));
  if (pile) marks.push(pile);
  if (row.stacked) marks.push(row.behind ? `one of ${row.stacked}` : `${row.stacked} stacked`);
  if (row.left) marks.push(`file ${row.left}`);
  if (row.kind === "document") marks.push(`${row.pages ?? 1} p`);
  if (row.kind !== "picture") marks.push(row.kind);
  if (row.behind) marks.push("behind the front of its stack");
  if (row.prepared) marks.push("prepared");
  if (row.sent) marks.push(sentSaid[row.sent]);
  if (row.keeper) marks.push("keeper");
  if (row.live) marks.push("shown outside");
  return marks.join(", ");
}
