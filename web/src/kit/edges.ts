import { monitorForElements } from "@atlaskit/pragmatic-drag-and-drop/element/adapter";
import { monitorForExternal } from "@atlaskit/pragmatic-drag-and-drop/external/adapter";

/** How near to an edge, in pixels, what is dragged scrolls; how fast at most, in pixels a second; and how long after the
 * pointer came to rest it scrolls no more, in milliseconds: what lies at the edge can be dropped on. */
const zone = 32;
const fastest = 900;
const rests = 250;

/** speedAt is how fast a box scrolls with a pointer at a height in it, in pixels a second: below 0 upward, 0 outside of the zones. */
export function speedAt(y: number, height: number): number {
  if (y < 0 || y > height || height < 4 * zone) return 0;
  if (y < zone) return (-fastest * (zone - y)) / zone;
  if (y > height - zone) return (fastest * (y - height + zone)) / zone;
  return 0;
}

/** scrollAtEdges scrolls a box while something is dragged near its upper or lower edge, as long as the pointer moves there. It returns what
 * ends that. */
export function scrollAtEdges(box: HTMLElement): () => void {
  let at = { x: 0, y: 0 };
  let moved = 0;
  let last = 0;
  let frame = 0;
  const step = (now: number) => {
    frame = requestAnimationFrame(step);
    const since = Math.min(50, now - last);
    last = now;
    const r = box.getBoundingClientRect();
    if (at.x < r.left || at.x > r.right || performance.now() - moved > rests) return;
    box.scrollTop += (speedAt(at.y - r.top, r.height) * since) / 1000;
  };
  const begin = () => {
    last = performance.now();
    frame = requestAnimationFrame(step);
  };
  const move = (x: number, y: number) => {
    if (x !== at.x || y !== at.y) moved = performance.now();
    at = { x, y };
  };
  const end = () => cancelAnimationFrame(frame);
  const how = {
    onDragStart: begin,
    onDrag: (e: { location: { current: { input: { clientX: number; clientY: number } } } }) =>
      move(e.location.current.input.clientX, e.location.current.input.clientY),
    onDrop: end,
  };
  const ends = [monitorForElements(how), monitorForExternal(how)];
  return () => {
    end();
    ends.forEach((e) => e());
  };
}
