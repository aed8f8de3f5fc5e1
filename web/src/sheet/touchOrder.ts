import { useEffect, useState, type RefObject } from "react";
import { longPress } from "./lasso";
import { takeForDrag, useChosen } from "./selection";

/** Where what is dragged would go: beside an item, at one of its edges, in pixels of the window. */
export interface Insertion {
  left: number;
  top: number;
  width: number;
  height: number;
  /** How many are moved. */
  moved: number;
}

const edgeZone = 56;
const stillness = 10;

/**
 * useTouchOrder lets a finger move items: a long press takes hold of the selected ones, the finger carries them, and where it leaves they
 * go before or after what is below it. The sheet scrolls at its edges. It gives the mark that shows where they would go.
 */
export function useTouchOrder(
  scroller: RefObject<HTMLDivElement | null>,
  way: "across" | "down",
  reorder: ((moved: number[], _: number | undefined, target: number, side: "before" | "after") => void) | undefined,
): Insertion | undefined {
  const [mark, setMark] = useState<Insertion>();
  useEffect(() => {
    const element = scroller.current;
    if (!element || !reorder) return;
    let from: { id: number; x: number; y: number } | undefined;
    let finger = { x: 0, y: 0 };
    let holding = false;
    let moved: number[] = [];
    let goal: { id: number; side: "before" | "after" } | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let frame = 0;
    const end = () => {
      clearTimeout(timer);
      cancelAnimationFrame(frame);
      from = goal = undefined;
      holding = false;
      moved = [];
      setMark(undefined);
    };
    const aim = () => {
      const tile = document.elementFromPoint(finger.x, finger.y)?.closest<HTMLElement>("[data-id]");
      if (!tile || !element.contains(tile)) return;
      const box = tile.getBoundingClientRect();
      const first = way === "across" ? finger.x < box.left + box.width / 2 : finger.y < box.top + box.height / 2;
      goal = { id: Number(tile.dataset.id), side: first ? "before" : "after" };
      setMark(
        way === "across"
          ? { left: first ? box.left - 7 : box.right + 3, top: box.top, width: 4, height: box.height, moved: moved.length }
          : { left: box.left, top: first ? box.top - 2 : box.bottom - 2, width: box.width, height: 4, moved: moved.length },
      );
    };
    const scrollOn = () => {
      if (moved.length === 0) return;
      const box = element.getBoundingClientRect();
      const past = Math.max(0, finger.y - (box.bottom - edgeZone)) - Math.max(0, box.top + edgeZone - finger.y);
      if (past !== 0) {
        element.scrollTop += past / 4;
        aim();
      }
      frame = requestAnimationFrame(scrollOn);
    };
    const start = (event: TouchEvent) => {
      end();
      const id = Number((event.target as HTMLElement).closest<HTMLElement>("[data-id]")?.dataset.id);
      if (event.touches.length !== 1 || !id) return;
      from = { id, x: event.touches[0]!.clientX, y: event.touches[0]!.clientY };
      timer = setTimeout(() => (holding = true), longPress);
    };
    const move = (event: TouchEvent) => {
      if (!from) return;
      finger = { x: event.touches[0]!.clientX, y: event.touches[0]!.clientY };
      const far = Math.hypot(finger.x - from.x, finger.y - from.y) > stillness;
      if (!holding) {
        if (far) end(); // one scrolls
        return;
      }
      event.preventDefault();
      if (moved.length === 0) {
        if (!far || !useChosen.getState().selected.has(from.id)) return;
        moved = takeForDrag(from.id);
        frame = requestAnimationFrame(scrollOn);
      }
      aim();
    };
    const drop = () => {
      if (moved.length > 0 && goal && !moved.includes(goal.id)) reorder(moved, undefined, goal.id, goal.side);
      end();
    };
    element.addEventListener("touchstart", start, { passive: true });
    element.addEventListener("touchmove", move, { passive: false });
    element.addEventListener("touchend", drop);
    element.addEventListener("touchcancel", end);
    return () => {
      end();
      element.removeEventListener("touchstart", start);
      element.removeEventListener("touchmove", move);
      element.removeEventListener("touchend", drop);
      element.removeEventListener("touchcancel", end);
    };
  }, [scroller, way, reorder]);
  return mark;
}
