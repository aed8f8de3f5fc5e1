/** Layout places every picture of a sheet: rows of equal height, each picture with its own proportions. It holds numbers
 * only, so that 100,000 pictures cost a few milliseconds. */
export interface Layout {
  rowHeight: number;
  rowStep: number;
  rows: number;
  height: number;
  /** The first item of each row, and one past the last. */
  first: Int32Array;
  left: Float32Array;
  width: Float32Array;
}

export const gap = 12;
const strip = 22;
const narrowest = 0.45;

export function layOut(ratios: ArrayLike<number>, available: number, rowHeight: number): Layout {
  const n = ratios.length;
  const first = new Int32Array(n + 1);
  const left = new Float32Array(n);
  const width = new Float32Array(n);
  let rows = 0;
  let x = 0;
  for (let i = 0; i < n; i++) {
    const w = Math.min(available, Math.max(rowHeight * narrowest, Math.round((rowHeight * ratios[i]!) / 1000)));
    if (i === 0 || x + w > available) {
      first[rows++] = i;
      x = 0;
    }
    left[i] = x;
    width[i] = w;
    x += w + gap;
  }
  first[rows] = n;
  const rowStep = rowHeight + strip + gap;
  return { rowHeight, rowStep, rows, height: rows * rowStep, first, left, width };
}

/** layOutRows places one item in each row, for a list. */
export function layOutRows(n: number, available: number): Layout {
  const first = new Int32Array(n + 1);
  for (let i = 0; i <= n; i++) first[i] = i;
  return {
    rowHeight: listRow,
    rowStep: listRow,
    rows: n,
    height: n * listRow,
    first,
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
  return { rowHeight: nameRow, rowStep: nameRow, rows, height: rows * nameRow, first, left, width: new Float32Array(n).fill(width) };
}

export const listRow = 40;
const nameRow = 28;
const nameWidth = 240;

/** visible is the range of items [from, to) in the rows that touch a window, with some rows more on either side. */
export function visible(l: Layout, top: number, height: number, overscan = 2): [number, number] {
  const from = Math.max(0, Math.floor(top / l.rowStep) - overscan);
  const to = Math.min(l.rows, Math.ceil((top + height) / l.rowStep) + overscan);
  return from >= to ? [0, 0] : [l.first[from]!, l.first[to]!];
}

/** rowOf is the row that an item is in. */
export function rowOf(l: Layout, index: number): number {
  let low = 0;
  let high = l.rows - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (l.first[middle]! <= index) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** inside lists the items that a rectangle touches. */
export function inside(l: Layout, box: { left: number; top: number; right: number; bottom: number }): number[] {
  const out: number[] = [];
  const from = Math.max(0, Math.floor(box.top / l.rowStep));
  const to = Math.min(l.rows - 1, Math.floor(box.bottom / l.rowStep));
  for (let row = from; row <= to; row++) {
    if (box.top > row * l.rowStep + l.rowHeight) continue;
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
