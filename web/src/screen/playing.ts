import type { Schema } from "~/api/client";

export type OnScreen = Schema["OnScreen"];
export type Item = Schema["ScreenItem"];

/** isOn says whether a screen shows something at a moment, by its hours as they were told last; also long after. */
export function isOn(show: OnScreen, at: number): boolean {
  let on = true;
  for (const w of show.switches ?? []) if (Date.parse(w.at) <= at) on = w.on;
  return on;
}

/** filled says whether a picture is cut to fill a screen, or all of it is shown: cut so much that little of it would stay, an upright
 * picture on a wide screen is shown whole. */
export function filled(item: Item, screen: { width: number; height: number }, fit: "fill" | "whole"): boolean {
  if (fit === "whole") return false;
  const ratio = item.width / item.height / (screen.width / screen.height);
  return Math.min(ratio, 1 / ratio) >= leastLeft;
}

/** leastLeft is which part of a picture stays at least when it is cut. */
const leastLeft = 0.45;

/** next is the place of the item that comes after one, or by some places on or back; where that is gone, the one that took its place. */
export function next(items: Item[], present: string | undefined, place: number, by: number): number {
  if (items.length === 0) return -1;
  const at = items.findIndex((i) => i.code === present);
  const from = at >= 0 ? at : by > 0 ? place - 1 : place;
  return (((from + by) % items.length) + items.length) % items.length;
}

/** drift is by how many pixels all that is shown is moved in a minute, so that no edge stays in one place for days. */
export function drift(minute: number): { x: number; y: number } {
  const path = [0, 2, 4, 6, 4, 2, 0, -2, -4, -6, -4, -2];
  return { x: path[minute % path.length]!, y: path[(minute + 3) % path.length]! };
}
