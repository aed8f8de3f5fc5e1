import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { draggable, dropTargetForElements, monitorForElements } from "@atlaskit/pragmatic-drag-and-drop/element/adapter";
import { setCustomNativeDragPreview } from "@atlaskit/pragmatic-drag-and-drop/element/set-custom-native-drag-preview";
import { pointerOutsideOfPreview } from "@atlaskit/pragmatic-drag-and-drop/element/pointer-outside-of-preview";
import { dropTargetForExternal } from "@atlaskit/pragmatic-drag-and-drop/external/adapter";
import { containsFiles } from "@atlaskit/pragmatic-drag-and-drop/external/file";
import { useEffect, useRef, useState } from "react";
import { takeDropped, takenFiles, type Dropped, type Target } from "./dropped";

/** Items on their way: ids in order, and where they come from. */
interface Load {
  [key: string]: unknown;
  load: "items";
  ids: number[];
  from: "sheet" | "satchel";
}

/** dragItems makes an element start a drag of items, with a label that says what would happen to how many. */
export function dragItems(element: HTMLElement, from: Load["from"], take: () => number[], label: (n: number) => string) {
  return draggable({
    element,
    getInitialData: (): Load => ({ load: "items", ids: take(), from }),
    onGenerateDragPreview: ({ nativeSetDragImage, source }) =>
      setCustomNativeDragPreview({
        nativeSetDragImage,
        getOffset: pointerOutsideOfPreview({ x: "12px", y: "8px" }),
        render: ({ container }) => {
          const patch = document.createElement("div");
          patch.className = "rounded-full bg-saffron px-3 py-1 font-sans font-semibold text-on-saffron";
          patch.textContent = label((source.data as Load).ids.length);
          container.append(patch);
        },
      }),
  });
}

export interface Dropping {
  /** Whether something that fits hovers here. */
  over: boolean;
  /** How many items are on their way, anywhere. */
  carrying: number;
}

/** useDropTarget lets an element take items, and files from outside when a target for them is given. */
export function useDropTarget<E extends HTMLElement>(onItems: ((ids: number[], from: Load["from"]) => void) | undefined, files?: Target) {
  const ref = useRef<E>(null);
  const [state, setState] = useState<Dropping>({ over: false, carrying: 0 });
  const latest = useRef({ onItems, files });
  useEffect(() => {
    latest.current = { onItems, files };
  });
  const takesItems = onItems !== undefined;
  const takesFiles = files !== undefined;
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const enter = () => setState((s) => ({ ...s, over: true }));
    const leave = () => setState((s) => ({ ...s, over: false }));
    const parts = [];
    if (takesItems)
      parts.push(
        dropTargetForElements({
          element,
          canDrop: ({ source }) => source.data.load === "items",
          onDragEnter: enter,
          onDragLeave: leave,
          onDrop: ({ source }) => {
            leave();
            const load = source.data as Load;
            latest.current.onItems?.(load.ids, load.from);
          },
        }),
        monitorForElements({
          canMonitor: ({ source }) => source.data.load === "items",
          onDragStart: ({ source }) => setState((s) => ({ ...s, carrying: (source.data as Load).ids.length })),
          onDrop: () => setState({ over: false, carrying: 0 }),
        }),
      );
    if (takesFiles)
      parts.push(
        dropTargetForExternal({
          element,
          canDrop: containsFiles,
          onDragEnter: enter,
          onDragLeave: leave,
          onDrop: ({ source, location }) => {
            leave();
            if (location.current.dropTargets[0]?.element !== element) return; // a target inside of this one takes it
            if (latest.current.files) takeDropped(source.items, latest.current.files); // the target as it was dropped on
          },
        }),
      );
    return combine(...parts);
  }, [takesItems, takesFiles]);
  return { ref, ...state };
}

/** filesTarget lets an element take files from outside for a use of its own. */
export function filesTarget(element: HTMLElement, hover: (over: boolean) => void, take: (dropped: Dropped) => void) {
  return dropTargetForExternal({
    element,
    canDrop: containsFiles,
    onDragEnter: () => hover(true),
    onDragLeave: () => hover(false),
    onDrop: ({ source, location }) => {
      hover(false);
      if (location.current.dropTargets[0]?.element === element) void takenFiles(source.items).then(take);
    },
  });
}

/** reorderTarget lets a tile take items before or after itself. */
export function reorderTarget(
  element: HTMLElement,
  hover: (side: "before" | "after" | undefined) => void,
  drop: (ids: number[], side: "before" | "after") => void,
  way: "across" | "down" = "across",
) {
  const sideOf = (at: { clientX: number; clientY: number }) => {
    const box = element.getBoundingClientRect();
    return (way === "across" ? at.clientX < box.left + box.width / 2 : at.clientY < box.top + box.height / 2) ? "before" : "after";
  };
  return dropTargetForElements({
    element,
    canDrop: ({ source }) => source.data.load === "items",
    onDrag: ({ location }) => hover(sideOf(location.current.input)),
    onDragLeave: () => hover(undefined),
    onDrop: ({ source, location }) => {
      hover(undefined);
      drop((source.data as Load).ids, sideOf(location.current.input));
    },
  });
}
