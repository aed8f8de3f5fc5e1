/** A Box is what a crop leaves, in fractions of the turned picture. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The least that a crop leaves of a side. */
const least = 0.02;

const between = (n: number, from: number, to: number) => Math.min(to, Math.max(from, n));

/** shifted moves a crop, at most to the edges of the picture. */
export function shifted(b: Box, by: { x: number; y: number }): Box {
  return { ...b, x: between(b.x + by.x, 0, 1 - b.width), y: between(b.y + by.y, 0, 1 - b.height) };
}

/** resized moves the edges that are held by as much, at most onto those of the picture; with a proportion, width by height in its own
 * fractions, the other side follows from the opposite corner or the middle of the opposite edge. */
export function resized(b: Box, hold: { x: number; y: number }, by: { x: number; y: number }, proportion: number | undefined): Box {
  let left = hold.x === 0 ? between(b.x + by.x, 0, b.x + b.width - least) : b.x;
  let right = hold.x === 1 ? between(b.x + b.width + by.x, b.x + least, 1) : b.x + b.width;
  let top = hold.y === 0 ? between(b.y + by.y, 0, b.y + b.height - least) : b.y;
  let bottom = hold.y === 1 ? between(b.y + b.height + by.y, b.y + least, 1) : b.y + b.height;
  if (proportion) {
    const [anchorX, anchorY] = [
      hold.x === 0 ? right : hold.x === 1 ? left : (left + right) / 2,
      hold.y === 0 ? bottom : hold.y === 1 ? top : (top + bottom) / 2,
    ];
    const roomX = hold.x === 0 ? anchorX : hold.x === 1 ? 1 - anchorX : 2 * Math.min(anchorX, 1 - anchorX);
    const roomY = hold.y === 0 ? anchorY : hold.y === 1 ? 1 - anchorY : 2 * Math.min(anchorY, 1 - anchorY);
    const wanted =
      hold.x === 0.5 ? (bottom - top) * proportion : hold.y === 0.5 ? right - left : Math.max(right - left, (bottom - top) * proportion);
    const w = Math.min(wanted, roomX, roomY * proportion);
    const h = w / proportion;
    left = hold.x === 0 ? anchorX - w : hold.x === 1 ? anchorX : anchorX - w / 2;
    top = hold.y === 0 ? anchorY - h : hold.y === 1 ? anchorY : anchorY - h / 2;
    right = left + w;
    bottom = top + h;
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}
