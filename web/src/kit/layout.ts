/** Layout places every picture of a sheet in rows, each picture with its own proportions. It holds numbers only, so that
 * 100,000 pictures cost a few milliseconds. */
export interface Layout {
  rows: number;
  height: number;
  /** The first item of each row, and one past the last. */
  first: Int32Array;
  /** Where each row begins, and where one past the last would. */
  tops: Float64Array;
  /** How high the pictures of each row are. */
  heights: Float32Array;
  left: Float32Array;
  width: Float32Array;
}

export const gap = 12;
/** The line of marks below a picture. */
export const strip = 22;
const narrowest = 0.45;
/** By so much the height of a row may differ from the chosen one, so that its right edge is flush. */
const stretch = 0.15;
/** Where only two or three pictures fit beside each other, as on a phone, no break can keep to that, and the rows fill the width. */
const few = 3.2; // heights of a row
const stretchOfFew = 0.7;

/** layOut fills rows: of the breaks that keep the height within what it may differ, the one nearest to the chosen height. The
 * last row keeps the chosen height. Ratios are width / height in thousandths; below is how high the lines below a picture are. */
export function layOut(ratios: ArrayLike<number>, available: number, rowHeight: number, below = strip): Layout {
  const n = ratios.length;
  const first = new Int32Array(n + 1);
  const tops = new Float64Array(n + 1);
  const heights = new Float32Array(n);
  const left = new Float32Array(n);
  const width = new Float32Array(n);
  const within = available < few * rowHeight ? stretchOfFew : stretch;
  const natural = (i: number) => Math.min(available, Math.max(rowHeight * narrowest, (rowHeight * ratios[i]!) / 1000));
  let rows = 0;
  let from = 0;
  let y = 0;
  while (from < n) {
    let to = from;
    let sum = 0;
    let scale = Infinity;
    while (to < n) {
      const next = sum + natural(to);
      const nextScale = (available - gap * (to - from)) / next;
      if (nextScale < 1 && to > from && (nextScale < 1 - within || 1 / nextScale > scale)) break;
      sum = next;
      scale = nextScale;
      to++;
      if (scale <= 1) break;
    }
    const whole = scale <= 1 + within && (to < n || scale <= 1); // else its right edge stays open
    if (!whole) scale = to < n ? Math.min(scale, 1 + within) : 1;
    let x = 0;
    for (let i = from; i < to; i++) {
      const right = whole && i === to - 1 ? available : x + natural(i) * scale;
      left[i] = Math.round(x);
      width[i] = Math.round(right) - Math.round(x);
      x = right + gap;
    }
    first[rows] = from;
    tops[rows] = y;
    heights[rows] = Math.round(rowHeight * scale);
    y += heights[rows]! + below + gap;
    rows++;
    from = to;
  }
  first[rows] = n;
  tops[rows] = y;
  return { rows, height: y, first, tops, heights, left, width };
}

/** even is where equal rows begin. */
const even = (rows: number, step: number) => Float64Array.from({ length: rows + 1 }, (_, i) => i * step);

/** layOutRows places one item in each row, for a list. */
export function layOutRows(n: number, available: number): Layout {
  const first = new Int32Array(n + 1);
  for (let i = 0; i <= n; i++) first[i] = i;
  return {
    rows: n,
    height: n * listRow,
    first,
    tops: even(n, listRow),
    heights: new Float32Array(n).fill(listRow),
    left: new Float32Array(n),
    width: new Float32Array(n).fill(available),
  };
}

/** layOutNames places names in columns, row by row. */
export function layOutNames(n: number, available: number): Layout {
  const columns = Math.max(1, Math.floor((available + gap) / (nameWidth + gap)));
  const width = (available + gap) / columns - gap;
  const rows = Math.ceil(n / columns);
  const first = new Int32Array(rows + 1);
  const left = new Float32Array(n);
  for (let r = 0; r < rows; r++) first[r] = r * columns;
  first[rows] = n;
  for (let i = 0; i < n; i++) left[i] = (i % columns) * (width + gap);
  return {
    rows,
    height: rows * nameRow,
    first,
    tops: even(rows, nameRow),
    heights: new Float32Array(rows).fill(nameRow),
    left,
    width: new Float32Array(n).fill(width),
  };
}

const listRow = 40;
const nameRow = 28;
const nameWidth = 240;

/** last is the last of the places 0 to n - 1 whose value is at most a bound; 0 if there is none. */
function last(values: ArrayLike<number>, n: number, bound: number): number {
  let low = 0;
  let high = Math.max(0, n - 1);
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (values[middle]! <= bound) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** rowAt is the row at a height, the first or last one beyond the ends. */
const rowAt = (l: Layout, y: number) => last(l.tops, l.rows, y);

/** visible is the range of items [from, to) in the rows that touch a window, with some rows more on either side. */
export function visible(l: Layout, top: number, height: number, overscan = 2): [number, number] {
  const from = Math.max(0, rowAt(l, top) - overscan);
  const to = Math.min(l.rows, rowAt(l, top + height) + 1 + overscan);
  return from >= to ? [0, 0] : [l.first[from]!, l.first[to]!];
}

/** rowOf is the row that an item is in. */
export const rowOf = (l: Layout, index: number) => last(l.first, l.rows, index);

/** topOf is where the row of an item begins. */
export const topOf = (l: Layout, index: number) => l.tops[rowOf(l, index)]!;

/** inside lists the items that a rectangle touches. */
export function inside(l: Layout, box: { left: number; top: number; right: number; bottom: number }): number[] {
  const out: number[] = [];
  const from = rowAt(l, box.top);
  const to = box.bottom < 0 ? -1 : rowAt(l, box.bottom);
  for (let row = from; row <= to; row++) {
    if (box.top > l.tops[row]! + l.heights[row]!) continue;
    for (let i = l.first[row]!; i < l.first[row + 1]!; i++) if (l.left[i]! < box.right && l.left[i]! + l.width[i]! > box.left) out.push(i);
  }
  return out;
}

/** upOrDown is the item in the row above (-1) or below (1) whose middle is nearest. */
export function upOrDown(l: Layout, index: number, by: -1 | 1): number {
  const row = rowOf(l, index) + by;
  if (row < 0 || row >= l.rows) return index;
  const middle = l.left[index]! + l.width[index]! / 2;
  let best = l.first[row]!;
  for (let i = best; i < l.first[row + 1]!; i++)
    if (Math.abs(l.left[i]! + l.width[i]! / 2 - middle) < Math.abs(l.left[best]! + l.width[best]! / 2 - middle)) best = i;
  return best;
}
