import { useEffect, useRef, useState } from "react";
import { loadBaseMap, loadLossless, loadTone, type Recipe } from "./acts";
import { same } from "./recipe";
import { baseMapFrom, Painter } from "./shader";

/** What a recipe does before and beside its tone, and by which the picture is drawn that the browser then draws the tone of; undefined
 * where something comes after the tone, or comes with a look. */
export function toneless(r: Recipe): Recipe | undefined {
  const look = r.look?.values;
  if (r.sharpen || look?.sharpen || look?.noise || look?.colour_noise) return undefined;
  const { sensor, red_eyes, turn, flip, straighten, crop, film, noise, colour_noise } = r;
  return { sensor, red_eyes, turn, flip, straighten, crop, film, noise, colour_noise };
}

/** usesBase says whether a tone depends on what is around a pixel. */
function usesBase(r: Recipe) {
  return [r, r.look?.values ?? {}].some((a) => !!(a.highlights || a.shadows || a.clarity));
}

/** What the painter holds: the picture of a recipe without its tone at a size, and its base map when it is needed. */
interface Held {
  id: number;
  before: Recipe;
  width: number;
  height: number;
  base: boolean;
}

/** inAnyCase has the browser draw also without a graphics card, which is slow: to see that it draws the same. */
const inAnyCase = () => window.localStorage.getItem("satchel-painter") === "always";

/** usePainted draws the tone of a picture in the browser while it changes, and gives the canvas once what is on it is that. */
export function usePainted(brand: string, id: number, recipe: Recipe | undefined, width: number, height: number, moving: boolean) {
  const [shown, setShown] = useState<{ id: number; canvas: HTMLCanvasElement; recipe: Recipe }>();
  const painter = useRef<Painter | null>(undefined);
  const held = useRef<Held>(undefined);
  const wanted = useRef<Recipe>(undefined);
  const busy = useRef(false);
  useEffect(() => {
    if (!recipe || !moving || width < 8 || height < 8) return;
    if (painter.current === undefined) painter.current = Painter.on(document.createElement("canvas"), inAnyCase()) ?? null;
    const paint = painter.current;
    wanted.current = recipe;
    if (!paint || busy.current) return;
    busy.current = true;
    const scale = Math.min(2, window.devicePixelRatio);
    const sides = [Math.min(3000, width * scale), Math.min(3000, height * scale)] as const;
    void (async () => {
      try {
        while (wanted.current) {
          const next = wanted.current;
          wanted.current = undefined;
          const before = toneless(next);
          if (!before) break;
          const base = usesBase(next);
          const had = held.current;
          const fits = had?.id === id && same(had.before, before) && had.width === sides[0] && had.height === sides[1];
          if (!fits) {
            const picture = await loadLossless(brand, id, before, ...sides);
            const bitmap = await createImageBitmap(picture, { colorSpaceConversion: "none", premultiplyAlpha: "none" });
            paint.picture(bitmap);
            bitmap.close();
          }
          if (base && !(fits && had.base)) paint.base(baseMapFrom(await loadBaseMap(brand, id, before, ...sides)));
          held.current = { id, before, width: sides[0], height: sides[1], base: base || (fits && had.base) };
          paint.draw(await loadTone(brand, id, next, ...sides), base);
          setShown({ id, canvas: paint.canvas, recipe: next });
        }
      } catch {
        held.current = undefined; // the server's frames stay
      } finally {
        busy.current = false;
      }
    })();
  }, [brand, id, recipe, width, height, moving]);
  return shown?.id === id ? shown : undefined;
}
