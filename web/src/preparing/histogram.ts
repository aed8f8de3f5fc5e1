/** A Histogram counts the values of red, green and blue in 64 steps, and what is lost at either end, as parts of all pixels. */
export interface Histogram {
  red: number[];
  green: number[];
  blue: number[];
  dark: number;
  bright: number;
}

const bins = 64;

/** count counts pixels: red, green, blue and alpha of each. */
export function count(pixels: Uint8ClampedArray): Histogram {
  const h: Histogram = {
    red: Array<number>(bins).fill(0),
    green: Array<number>(bins).fill(0),
    blue: Array<number>(bins).fill(0),
    dark: 0,
    bright: 0,
  };
  for (let i = 0; i < pixels.length; i += 4) {
    const [r, g, b] = [pixels[i]!, pixels[i + 1]!, pixels[i + 2]!];
    h.red[r >> 2]!++;
    h.green[g >> 2]!++;
    h.blue[b >> 2]!++;
    if (Math.max(r, g, b) === 0) h.dark++;
    if (Math.max(r, g, b) === 255) h.bright++;
  }
  const n = Math.max(1, pixels.length / 4);
  h.dark /= n;
  h.bright /= n;
  return h;
}

/** path draws counts as the outline of a hill, 64 wide and as high as said. */
export function path(counts: number[], height: number): string {
  const most = Math.max(1, ...counts.slice(1, -1));
  const points = counts.map((n, i) => `${i} ${(height - Math.min(1, n / most) * height).toFixed(2)}`);
  return `M0 ${height} L${points.join(" L")} L${bins - 1} ${height} Z`;
}

/** markLost paints what is lost: the darkest in one colour, the brightest in another, each as red, green and blue. */
export function markLost(pixels: Uint8ClampedArray, dark: [number, number, number], bright: [number, number, number]) {
  for (let i = 0; i < pixels.length; i += 4) {
    const most = Math.max(pixels[i]!, pixels[i + 1]!, pixels[i + 2]!);
    const mark = most === 0 ? dark : most === 255 ? bright : undefined;
    if (mark) pixels.set(mark, i);
  }
}

/** pixelsOf reads the pixels of a picture, at most so many across. */
export async function pixelsOf(address: string, across: number) {
  const image = new Image();
  image.src = address;
  await image.decode();
  const scale = Math.min(1, across / image.naturalWidth);
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(image.naturalWidth * scale));
  canvas.height = Math.max(1, Math.round(image.naturalHeight * scale));
  const pen = canvas.getContext("2d", { willReadFrequently: true })!;
  pen.drawImage(image, 0, 0, canvas.width, canvas.height);
  return { canvas, pen, data: pen.getImageData(0, 0, canvas.width, canvas.height) };
}
