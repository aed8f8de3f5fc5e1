import type { Recipe } from "./acts";

/** Film is what is done to a clip besides, in seconds of its file. */
export type Film = NonNullable<Recipe["film"]>;

/** The least that trimming leaves, in seconds. */
const shortest = 0.2;

/** withFilm sets what is done to a clip; what does nothing is left out. */
export function withFilm(r: Recipe, part: Film): Recipe {
  const film = { ...r.film, ...part };
  const kept = Object.fromEntries(Object.entries(film).filter(([, value]) => value)) as Film;
  const rest = { ...r };
  delete rest.film;
  return Object.keys(kept).length > 0 ? { ...rest, film: kept } : rest;
}

/** spanOf is what remains of a clip. */
export function spanOf(r: Recipe, seconds: number) {
  const from = Math.min(r.film?.from ?? 0, Math.max(0, seconds - shortest));
  const to = r.film?.to ? Math.min(seconds, r.film.to) : seconds;
  return { from, to: Math.max(to, Math.min(seconds, from + shortest)) };
}

/** trimmed moves the beginning or the end of what remains, as far as the other one allows. */
export function trimmed(r: Recipe, seconds: number, side: "from" | "to", at: number): Recipe {
  const { from, to } = spanOf(r, seconds);
  const hundredth = (n: number) => Math.round(n * 100) / 100;
  if (side === "from") return withFilm(r, { from: hundredth(Math.max(0, Math.min(at, to - shortest))) });
  const end = hundredth(Math.min(seconds, Math.max(at, from + shortest)));
  return withFilm(r, { to: end >= hundredth(seconds) ? 0 : end });
}

/** posterOf is the moment that stands for a clip: the one that was chosen, if it remains, or one from a third in, at most 3 seconds. */
export function posterOf(r: Recipe, seconds: number) {
  const { from, to } = spanOf(r, seconds);
  const at = r.film?.poster ?? 0;
  return at > 0 && at >= from && at < to ? at : from + Math.min(3, (to - from) / 3);
}

/** frameAt is the recipe by which the frame at a moment is drawn, also one that is cut off. */
export function frameAt(r: Recipe, at: number): Recipe {
  return { ...r, film: { poster: Math.max(0.01, at) } };
}

/** moment is a moment in a clip as people say it: "0:07.50". */
export function moment(seconds: number) {
  const minutes = Math.floor(seconds / 60);
  return `${minutes}:${(seconds - 60 * minutes).toFixed(2).padStart(5, "0")}`;
}

/** momentIn reads what somebody typed as a moment: "7.5", "7,5" or "1:07.5"; undefined when it is none. */
export function momentIn(text: string): number | undefined {
  const parts = text.trim().replace(",", ".").split(":");
  if (parts.length > 2 || parts.some((p) => !/^\d+(\.\d*)?$/.test(p))) return undefined;
  return parts.length === 2 ? 60 * Number(parts[0]) + Number(parts[1]) : Number(parts[0]);
}
