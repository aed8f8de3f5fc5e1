import { useEffect, useRef, useState } from "react";
import { drawFrame, type Frame, type Recipe } from "./acts";
import { same } from "./recipe";

interface Shown extends Frame {
  id: number;
  /** The recipe that it is drawn by. */
  by: Recipe;
  ratio: number;
}

/** useFrame shows a picture by a recipe as the server draws it. While it changes, what is asked for last is drawn next, at half the
 * size; what stays is drawn in full. What was shown stays until the next is ready. */
export function useFrame(brand: string, id: number, recipe: Recipe | undefined, width: number, height: number, moving: boolean) {
  const [frame, setFrame] = useState<Shown>();
  const wanted = useRef<{ recipe: Recipe; width: number; height: number }>(undefined);
  const busy = useRef(false);
  const mounted = useRef(true);
  const shown = useRef<Shown>(undefined);
  useEffect(() => {
    mounted.current = true;
    return () => {
      mounted.current = false;
      if (shown.current) URL.revokeObjectURL(shown.current.address);
      shown.current = undefined;
    };
  }, [id]);
  useEffect(() => {
    if (!recipe || width < 8 || height < 8) return;
    const scale = (moving ? 0.5 : 1) * Math.min(2, window.devicePixelRatio);
    wanted.current = { recipe, width: width * scale, height: height * scale };
    if (busy.current) return;
    busy.current = true;
    void (async () => {
      while (wanted.current && mounted.current) {
        const next = wanted.current;
        wanted.current = undefined;
        try {
          const drawn = await drawFrame(brand, id, next.recipe, Math.min(3000, next.width), Math.min(3000, next.height));
          const image = new Image();
          image.src = drawn.address;
          await image.decode();
          if (!mounted.current) URL.revokeObjectURL(drawn.address);
          else {
            const old = shown.current;
            shown.current = { ...drawn, id, by: next.recipe, ratio: image.naturalWidth / image.naturalHeight };
            setFrame(shown.current);
            if (old) window.setTimeout(() => URL.revokeObjectURL(old.address), 1000);
          }
        } catch {
          await new Promise((go) => window.setTimeout(go, 300)); // others draw; what is wanted by then is asked for
          wanted.current ??= same(next.recipe, recipe) ? undefined : next;
        }
      }
      busy.current = false;
    })();
  }, [brand, id, recipe, width, height, moving]);
  return frame?.id === id ? frame : undefined;
}
