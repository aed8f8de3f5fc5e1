import type { Schema } from "~/api/client";

export type Region = Schema["Region"];

/** How small an outline can be, as a fraction of the sides of the picture. */
export const smallest = 0.01;

const clamp = (n: number, from: number, to: number) => Math.min(to, Math.max(from, n));

/** onPicture is a region that lies on the picture, as near to this one as can be. */
export function onPicture(r: Region): Region {
  const width = clamp(r.width, smallest, 1);
  const height = clamp(r.height, smallest, 1);
  return { x: clamp(r.x, 0, 1 - width), y: clamp(r.y, 0, 1 - height), width, height };
}

/** moved is a region elsewhere, by fractions of the picture. */
export const moved = (r: Region, dx: number, dy: number) => onPicture({ ...r, x: r.x + dx, y: r.y + dy });

/** between is the region between two points, in whichever direction it was drawn. */
export function between(ax: number, ay: number, bx: number, by: number): Region {
  const [left, right] = [clamp(Math.min(ax, bx), 0, 1), clamp(Math.max(ax, bx), 0, 1)];
  const [top, bottom] = [clamp(Math.min(ay, by), 0, 1), clamp(Math.max(ay, by), 0, 1)];
  return onPicture({ x: left, y: top, width: right - left, height: bottom - top });
}

/** A corner of a region: -1 is left or top, 1 is right or bottom. */
export type Corner = readonly [-1 | 1, -1 | 1];
export const corners: Corner[] = [
  [-1, -1],
  [1, -1],
  [-1, 1],
  [1, 1],
];

/** pulled is a region of which one corner was pulled; the one opposite stays. */
export function pulled(r: Region, [cx, cy]: Corner, dx: number, dy: number): Region {
  const [fixedX, fixedY] = [cx < 0 ? r.x + r.width : r.x, cy < 0 ? r.y + r.height : r.y];
  const [atX, atY] = [(cx < 0 ? r.x : r.x + r.width) + dx, (cy < 0 ? r.y : r.y + r.height) + dy];
  return between(fixedX, fixedY, atX, atY);
}

/** byKey is a region after an arrow key: moved, or with Shift made wider, narrower, taller or flatter. */
export function byKey(r: Region, key: string, shift: boolean): Region | undefined {
  const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const step = steps[key];
  if (!step) return undefined;
  const [dx, dy] = [step[0] * 0.01, step[1] * 0.01];
  return shift ? pulled(r, [1, 1], dx, dy) : moved(r, dx, dy);
}
