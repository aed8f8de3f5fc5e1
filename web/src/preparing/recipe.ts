import type { Control, Part, Recipe } from "./acts";

/** Groups in the order of the work, with their names. */
export const groups: { part: Part; name: string }[] = [
  { part: "brightness", name: "Brightness" },
  { part: "colour", name: "Colour" },
  { part: "texture", name: "Texture" },
  { part: "edges", name: "Edges" },
];

export type Name = Exclude<keyof Recipe, "version" | "sensor" | "red_eyes" | "turn" | "flip" | "crop" | "look" | "curve" | "film">;

/** valueOf is what a control is at. */
export const valueOf = (c: Control, r: Recipe) => r[c.name as Name] ?? c.neutral;

/** withValue sets a control; what does nothing is left out. */
export function withValue(r: Recipe, c: Control, value: number): Recipe {
  const out: Recipe = { ...r, [c.name]: value };
  if (value === c.neutral) delete out[c.name as Name];
  return out;
}

/** without leaves out everything of a part. */
export function without(r: Recipe, part: Part, controls: Control[]): Recipe {
  const rest: Recipe = { ...r };
  for (const c of controls) if (c.group === part) delete rest[c.name as Name];
  if (part === "brightness") delete rest.curve;
  if (part === "framing") {
    delete rest.turn;
    delete rest.flip;
    delete rest.straighten;
    delete rest.crop;
  }
  if (part === "eyes") delete rest.red_eyes;
  if (part === "look") delete rest.look;
  return rest;
}

/** adjustmentsOf is what a look can hold of a recipe. */
export function adjustmentsOf(r: Recipe, controls: Control[]): Recipe {
  const out: Recipe = r.curve ? { curve: r.curve } : {};
  for (const c of controls) if (r[c.name as Name] !== undefined) out[c.name as Name] = r[c.name as Name];
  return out;
}

/** same says whether two recipes are written alike, in whatever order. */
export const same = (a: Recipe, b: Recipe) => written(a) === written(b);

function written(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(written).join()}]`;
  if (value === null || typeof value !== "object") return JSON.stringify(value) ?? "";
  return `{${Object.entries(value)
    .filter(([, v]) => v !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([k, v]) => `${k}:${written(v)}`)
    .join()}}`;
}

/** alike says whether two recipes do the same: a crop that was dragged has more decimals than the server keeps. */
export function alike(a: unknown, b: unknown): boolean {
  if (typeof a === "number" && typeof b === "number") return Math.abs(a - b) <= 1e-4;
  if (a === null || b === null || typeof a !== "object" || typeof b !== "object") return a === b;
  const [one, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  return [...new Set([...Object.keys(one), ...Object.keys(other)])].every((k) => alike(one[k], other[k]));
}

/** neutral says whether a recipe does nothing. */
export const neutral = (r: Recipe) => same(r, {});

/** changedIn counts the controls of a part that do something. */
export function changedIn(part: Part, r: Recipe, controls: Control[]): number {
  if (part === "framing") return [r.turn, r.flip, r.straighten, r.crop].filter(Boolean).length;
  const own = controls.filter((c) => c.group === part && !c.with && valueOf(c, r) !== c.neutral).length;
  return own + (part === "brightness" && r.curve ? 1 : 0);
}

/** say is a control at a value, with its sign: "Exposure +0.7 EV". */
export function say(c: Control, value: number) {
  const sign = value < 0 ? "−" : c.from < 0 && value > 0 ? "+" : "";
  return `${c.words} ${sign}${Number(Math.abs(value).toFixed(2))}${c.unit ? ` ${c.unit}` : ""}`;
}

/** levelled is the angle at which a picture that is straightened by some degrees becomes straight when a line on it, as it is seen, is
 * to be level or upright, whichever is nearer. */
export function levelled(straighten: number, from: { x: number; y: number }, to: { x: number; y: number }): number {
  const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
  const off = ((((angle + 45) % 90) + 90) % 90) - 45;
  return Math.round(Math.min(45, Math.max(-45, straighten - off)) * 100) / 100;
}
