import { clsx } from "clsx";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useState, type CSSProperties } from "react";
import { mediaAddress, type AssetRow, type Schema } from "~/api/client";
import { useAsset } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { focalPosition } from "~/kit/focal";
import { tint } from "~/kit/words";

export type Shape = Schema["PlaceShape"];
export type Variant = Schema["Variant"];
export type Device = "phone" | "desktop";

export const placeNames: Record<Shape["kind"], string> = {
  feed: "In a feed",
  tall: "Filling a phone",
  wide: "Wide",
  strip: "Strip",
  card: "Advertisement",
};

/** widths are how wide a frame is on each device, in pixels. */
const widths: Record<Shape["kind"], Record<Device, number>> = {
  feed: { phone: 360, desktop: 480 },
  tall: { phone: 360, desktop: 400 },
  wide: { phone: 360, desktop: 720 },
  strip: { phone: 360, desktop: 720 },
  card: { phone: 360, desktop: 480 },
};

export const widthOf = (shape: Shape, device: Device) => widths[shape.kind][device];

/** RehearsalFrame is a variant as it would be seen in a kind of place: a neutral frame of our own, at its real size. */
export function RehearsalFrame({
  brand,
  shape,
  variant: v,
  device,
  dark,
}: {
  brand: string;
  shape: Shape;
  variant: Variant;
  device: Device;
  dark: boolean;
}) {
  const [at, setAt] = useState(0);
  const place = Math.min(at, Math.max(0, v.items.length - 1));
  const box = { width: widthOf(shape, device), height: Math.round((widthOf(shape, device) * shape.height) / shape.width) };
  const beside = shape.kind === "strip";
  const over = shape.kind === "tall";
  return (
    <div
      className="relative flex flex-col overflow-hidden rounded-lg border-2 border-line-strong bg-card text-ink"
      data-theme={dark ? "dark" : "light"}
      data-frame={shape.kind}
      style={{ width: box.width }}
    >
      <div className={clsx("relative", beside && "flex")} style={{ height: box.height }}>
        <div className="relative h-full min-w-0 flex-1">
          <Picture
            brand={brand}
            id={v.items[place]}
            proportion={`${shape.width}:${shape.height}`}
            box={beside ? { width: box.width * 0.45, height: box.height } : box}
          />
          {!beside && v.items.length > 1 && (
            <Turning at={place} of={v.items.length} onTurn={(by) => setAt((place + by + v.items.length) % v.items.length)} />
          )}
        </div>
        {beside && (
          <div className="flex w-[55%] flex-col justify-center gap-1 px-3">
            <Line text={v.headline || v.caption} lines={2} strong empty="A headline" />
            {v.button && <Press text={v.button} />}
          </div>
        )}
        {over && (v.caption || v.button) && (
          <div className="absolute inset-x-0 bottom-0 flex flex-col items-start gap-2 bg-card/90 p-4">
            <Line text={v.caption} lines={3} />
            {v.button && <Press text={v.button} />}
          </div>
        )}
      </div>
      {!beside && !over && (
        <div className="flex flex-col gap-1.5 p-3">
          {shape.ad && <Line text={v.headline} lines={2} strong empty="A headline" />}
          <Line text={v.caption} lines={shape.kind === "feed" ? 3 : 2} empty="The words" />
          {shape.ad && <Press text={v.button || "A button"} />}
        </div>
      )}
    </div>
  );
}

/** Line is a text of which some lines are seen; the rest is behind three dots, as it would be there. */
function Line({ text, lines, strong, empty }: { text: string; lines: number; strong?: boolean; empty?: string }) {
  if (!text && !empty) return null;
  return (
    <p
      dir="auto"
      className={clsx("w-full overflow-hidden wrap-anywhere whitespace-pre-line", strong && "font-semibold", !text && "opacity-60")}
      style={{ display: "-webkit-box", WebkitBoxOrient: "vertical", WebkitLineClamp: lines } as CSSProperties}
    >
      {text || empty}
    </p>
  );
}

function Press({ text }: { text: string }) {
  return (
    <span dir="auto" className="max-w-full self-start truncate rounded border border-current px-2.5 py-0.5 font-medium">
      {text}
    </span>
  );
}

function Turning({ at, of, onTurn }: { at: number; of: number; onTurn: (by: number) => void }) {
  const button = "grid size-9 place-items-center rounded bg-card";
  return (
    <div className="absolute inset-x-2 top-2 flex items-center justify-between">
      <button type="button" aria-label="The picture before" className={button} onClick={() => onTurn(-1)}>
        <ChevronLeft size={16} />
      </button>
      <span className="rounded bg-card px-1.5 text-small tabular-nums">
        {at + 1} of {of}
      </span>
      <button type="button" aria-label="The next picture" className={button} onClick={() => onTurn(1)}>
        <ChevronRight size={16} />
      </button>
    </div>
  );
}

interface Box {
  width: number;
  height: number;
}

function Picture({ brand, id, proportion, box }: { brand: string; id: number | undefined; proportion: string; box: Box }) {
  const row = useRow(id ?? 0);
  if (id && !row) rows.want([id]);
  if (!id || !row)
    return (
      <span className="grid size-full place-items-center opacity-70">{id ? "…" : "Its pictures are not in the library any more"}</span>
    );
  return <Cut brand={brand} row={row} proportion={proportion} box={box} />;
}

/** Cut is a picture cut to a box around its focal point, or around the one that it has for the proportion. */
function Cut({ brand, row, proportion, box }: { brand: string; row: AssetRow; proportion: string; box: Box }) {
  const asset = useAsset(brand, row.id).data;
  const own = asset?.focalFor[proportion];
  const focal = asset && { x: own?.x ?? asset.focalX, y: own?.y ?? asset.focalY };
  return (
    <img
      src={mediaAddress(brand, row, "medium")}
      alt={row.alt}
      className="size-full object-cover"
      style={{ backgroundColor: tint(row.tint), objectPosition: focal ? focalPosition(box, row, focal) : undefined }}
    />
  );
}
