import { UserRound } from "lucide-react";
import { useEffect } from "react";
import { mediaAddress, type Schema } from "~/api/client";
import { rows, useRow } from "~/api/rows";

/** How much of what is around a face is shown with it, in sides of its outline. */
const around = 1.5;

/** FaceCrop shows a face out of its picture, as a square; without one it shows a sign for it. */
export function FaceCrop({ brand, spot, size, alt = "" }: { brand: string; spot?: Schema["FaceSpot"]; size: number; alt?: string }) {
  const row = useRow(spot?.asset ?? 0);
  useEffect(() => {
    if (spot) rows.want([spot.asset]);
  }, [spot]);
  const frame = "relative shrink-0 overflow-hidden rounded-lg bg-sunk";
  if (!spot || !row)
    return (
      <span className={`${frame} grid place-items-center text-ink-soft`} style={{ width: size, height: size }}>
        {!spot && <UserRound size={size / 2} aria-hidden="true" />}
      </span>
    );
  const { x, y, width, height } = spot.face;
  const side = Math.min(around * Math.max(width * row.width, height * row.height), row.width, row.height);
  const scale = size / side;
  const start = (middle: number, whole: number) => Math.min(Math.max(0, middle * whole - side / 2), whole - side);
  const [left, top] = [start(x + width / 2, row.width), start(y + height / 2, row.height)];
  return (
    <span className={`${frame} block`} style={{ width: size, height: size }}>
      <img
        src={mediaAddress(brand, row, row.width * scale > 500 ? "large" : "small")}
        alt={alt}
        draggable={false}
        className="absolute max-w-none"
        style={{ width: row.width * scale, height: row.height * scale, left: -left * scale, top: -top * scale }}
      />
    </span>
  );
}
