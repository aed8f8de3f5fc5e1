import { useEffect, useRef, useState, type PointerEvent } from "react";
import { inside, type Layout } from "~/kit/layout";
import { extendTo, openBig, selectMode, selectNothing, selectOnly, selectThese, toggle, useChosen } from "./selection";

/** How long one presses on a phone until items are selected by a tap. */
export const longPress = 450;
/** Pixels from the edge within which a lasso scrolls, and how many in a frame at most. */
const edgeZone = 40;
const fastest = 28;

interface Point {
  x: number;
  y: number;
}

/** useLasso selects by click or tap, and by drawing a box from an empty spot, scrolling on at the edges. */
export function useLasso(scroller: React.RefObject<HTMLDivElement | null>, layout: Layout, ids: number[]) {
  const start = useRef<Point & { before: Set<number> }>(undefined);
  const pointer = useRef<{ clientX: number; clientY: number }>(undefined);
  const press = useRef<{ timer: ReturnType<typeof setTimeout>; x: number; y: number }>(undefined);
  const held = useRef(false); // a long press has selected: letting go is no tap
  const [box, setBox] = useState<{ left: number; top: number; width: number; height: number }>();
  const idAt = (event: { target: EventTarget }) =>
    Number((event.target as HTMLElement).closest<HTMLElement>("[data-id]")?.dataset.id) || undefined;
  const at = (event: { clientX: number; clientY: number }): Point => {
    const element = scroller.current!;
    const edge = element.getBoundingClientRect();
    return { x: event.clientX - edge.left - 16 + element.scrollLeft, y: event.clientY - edge.top - 12 + element.scrollTop };
  };
  const draw = useRef<() => void>(() => undefined);
  useEffect(() => {
    draw.current = () => {
      const from = start.current;
      if (!from || !pointer.current) return;
      const to = at(pointer.current);
      const next = {
        left: Math.min(from.x, to.x),
        top: Math.min(from.y, to.y),
        width: Math.abs(to.x - from.x),
        height: Math.abs(to.y - from.y),
      };
      if (next.width + next.height < 6) return;
      setBox(next);
      const hit = inside(layout, { left: next.left, top: next.top, right: next.left + next.width, bottom: next.top + next.height });
      selectThese([...from.before, ...hit.map((i) => ids[i]!)]);
    };
  });
  const scrollOn = () => {
    const element = scroller.current;
    if (!element || !start.current || !pointer.current) return;
    const edge = element.getBoundingClientRect();
    const past =
      Math.max(0, pointer.current.clientY - (edge.bottom - edgeZone)) - Math.max(0, edge.top + edgeZone - pointer.current.clientY);
    if (past !== 0) {
      element.scrollTop += Math.sign(past) * Math.min(fastest, Math.abs(past) / 2 + 2);
      draw.current();
    }
    requestAnimationFrame(scrollOn);
  };
  const endPress = () => {
    if (press.current) clearTimeout(press.current.timer);
    press.current = undefined;
  };
  const handlers = {
    onClick(event: React.MouseEvent) {
      const id = idAt(event);
      if (held.current) {
        held.current = false;
        return;
      }
      if (!id) return;
      if (event.shiftKey) extendTo(id);
      else if (event.ctrlKey || event.metaKey || useChosen.getState().mode) toggle(id);
      else selectOnly(id);
    },
    onDoubleClick(event: React.MouseEvent) {
      const id = idAt(event);
      if (id && !useChosen.getState().mode) openBig(id);
    },
    onContextMenu(event: React.MouseEvent) {
      if (useChosen.getState().mode) event.preventDefault(); // the long press of a phone
    },
    onPointerDown(event: PointerEvent) {
      if (event.pointerType === "touch") {
        const id = idAt(event);
        held.current = false;
        endPress();
        if (id)
          press.current = {
            x: event.clientX,
            y: event.clientY,
            timer: setTimeout(() => {
              held.current = true;
              selectMode(true);
              if (!useChosen.getState().selected.has(id)) toggle(id);
              selectMode(true);
            }, longPress),
          };
        return;
      }
      if (event.button !== 0 || (event.target as HTMLElement).closest("[data-id], button, a")) return;
      if (event.clientX > scroller.current!.getBoundingClientRect().left + scroller.current!.clientWidth) return; // the scroll bar
      const keep = event.ctrlKey || event.metaKey || event.shiftKey;
      start.current = { ...at(event), before: keep ? new Set(useChosen.getState().selected) : new Set() };
      pointer.current = { clientX: event.clientX, clientY: event.clientY };
      if (!keep) selectNothing();
      scroller.current!.setPointerCapture(event.pointerId);
      requestAnimationFrame(scrollOn);
    },
    onPointerMove(event: PointerEvent) {
      if (press.current && Math.hypot(event.clientX - press.current.x, event.clientY - press.current.y) > 10) endPress();
      if (!start.current) return;
      pointer.current = { clientX: event.clientX, clientY: event.clientY };
      draw.current();
    },
    onPointerUp() {
      endPress();
      start.current = undefined;
      setBox(undefined);
    },
    onPointerCancel() {
      endPress();
      start.current = undefined;
      setBox(undefined);
    },
  };
  return { handlers, box };
}
