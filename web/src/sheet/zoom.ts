import { createStore } from "zustand/vanilla";

/** Zoom is how a picture is seen: scale 1 fits it into its place, x and y are the point of it, in fractions of its sides, that is in
 * the middle. */
export interface Zoom {
  scale: number;
  x: number;
  y: number;
}

export const fitted: Zoom = { scale: 1, x: 0.5, y: 0.5 };
const most = 16;

export type ZoomStore = ReturnType<typeof newZoom>;

/** newZoom begins with a picture that fits. Several pictures that look at one store move in step. */
export const newZoom = () => createStore<Zoom>(() => fitted);

/** bounded keeps the picture over the middle of its place. */
export function bounded({ scale, x, y }: Zoom): Zoom {
  const s = Math.min(most, Math.max(1, scale));
  const edge = 0.5 / s;
  const within = (at: number) => Math.min(1 - edge, Math.max(edge, at));
  return { scale: s, x: within(x), y: within(y) };
}

/** zoomedAbout zooms by a factor so that a point stays where it is; dx and dy are how far it is from the middle of the place, in
 * sides of the fitted picture. */
export function zoomedAbout(z: Zoom, factor: number, dx = 0, dy = 0): Zoom {
  const scale = Math.min(most, Math.max(1, z.scale * factor));
  return bounded({ scale, x: z.x + dx / z.scale - dx / scale, y: z.y + dy / z.scale - dy / scale });
}

/** panned moves by some sides of the fitted picture. */
export const panned = (z: Zoom, dx: number, dy: number): Zoom => bounded({ ...z, x: z.x - dx / z.scale, y: z.y - dy / z.scale });

export const transformOf = ({ scale, x, y }: Zoom) =>
  scale === 1 ? "" : `translate(${(0.5 - x) * scale * 100}%, ${(0.5 - y) * scale * 100}%) scale(${scale})`;

/** pixelForPixel is the scale at which a picture of so many pixels is seen one to one; twice as large as fitted where that would be
 * no larger. */
export function pixelForPixel(pixels: number, shown: number) {
  const scale = pixels / Math.max(1, shown * window.devicePixelRatio);
  return scale > 1.05 ? Math.min(most, scale) : 2;
}
