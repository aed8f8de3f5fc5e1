import { useLayoutEffect, useRef, type RefObject } from "react";
import { topOf, visible, type Layout } from "~/kit/layout";

interface Seen {
  ids: number[];
  layout: Layout;
  of: string;
}

/** How many of the items at the top of the window are tried, of which the first may have gone. */
const tried = 200;

/** anchored is where to scroll so that what was at the top of the window is there still. */
export function anchored(before: Seen, now: Omit<Seen, "of">, scrollTop: number): number {
  const [from] = visible(before.layout, scrollTop, 1, 0);
  const into = scrollTop - topOf(before.layout, from);
  for (let i = from; i < Math.min(before.ids.length, from + tried); i++) {
    const id = before.ids[i]!;
    const at = id > 0 ? now.ids.indexOf(id) : -1;
    if (at >= 0) return topOf(now.layout, at) + into;
  }
  return scrollTop;
}

/** useAnchor keeps what one looks at in its place while items come and go above it. Another place begins at its top. */
export function useAnchor(scroller: RefObject<HTMLDivElement | null>, ids: number[], layout: Layout, of: string | undefined) {
  const before = useRef<Seen>(undefined);
  useLayoutEffect(() => {
    if (of === undefined) return; // the place before is still shown
    const element = scroller.current!;
    const was = before.current;
    before.current = { ids, layout, of };
    if (!was || was.ids.length === 0 || element.scrollTop === 0) return;
    const top = was.of === of ? anchored(was, { ids, layout }, element.scrollTop) : 0;
    if (Math.abs(top - element.scrollTop) > 1) element.scrollTop = top;
  }, [scroller, ids, layout, of]);
}
