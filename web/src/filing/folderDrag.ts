import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { draggable, dropTargetForElements } from "@atlaskit/pragmatic-drag-and-drop/element/adapter";
import { useEffect, useRef, useState } from "react";
import type { Folder } from "~/api/queries";
import type { Tree } from "./tree";
import { moveFolder, orderFolders } from "./acts";

type Mark = "before" | "after" | "into";

/** How long something hovers over a folded folder until that opens. */
const opensAfter = 600;
/** The share of a row at its upper and lower edge that means beside it. */
const beside = 0.28;

/** useFolderDrag lets a folder be dragged: into another, or before or after one of its siblings to be. */
export function useFolderDrag(brand: string, folder: Folder, tree: Tree, may: boolean, unfold: () => void) {
  const grip = useRef<HTMLDivElement>(null);
  const [mark, setMark] = useState<Mark>();
  const latest = useRef({ folder, tree, unfold });
  useEffect(() => {
    latest.current = { folder, tree, unfold };
  });
  const id = folder.id;
  useEffect(() => {
    const element = grip.current;
    if (!element || !may) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const markAt = (y: number): Mark => {
      const box = element.getBoundingClientRect();
      const at = (y - box.top) / box.height;
      return at < beside ? "before" : at > 1 - beside ? "after" : "into";
    };
    const leave = () => {
      clearTimeout(timer);
      setMark(undefined);
    };
    return combine(
      draggable({ element, getInitialData: () => ({ load: "folder", id }) }),
      dropTargetForElements({
        element,
        canDrop: ({ source }) =>
          source.data.load === "items" || (source.data.load === "folder" && !latest.current.tree.within(id, source.data.id as number)),
        onDragEnter: () => (timer = setTimeout(() => latest.current.unfold(), opensAfter)),
        onDrag: ({ source, location }) => source.data.load === "folder" && setMark(markAt(location.current.input.clientY)),
        onDragLeave: leave,
        onDrop: ({ source, location }) => {
          leave();
          if (source.data.load === "folder") place(brand, latest.current, source.data.id as number, markAt(location.current.input.clientY));
        },
      }),
      () => clearTimeout(timer),
    );
  }, [brand, id, may]);
  return { grip, mark };
}

/** place puts a folder into another, or beside it. */
function place(brand: string, { folder, tree }: { folder: Folder; tree: Tree }, moved: number, mark: Mark) {
  if (mark === "into") {
    void moveFolder(brand, moved, folder.id);
    return;
  }
  const siblings = tree.inside(folder.parent).filter((f) => f.id !== moved);
  const at = siblings.findIndex((f) => f.id === folder.id) + (mark === "after" ? 1 : 0);
  void orderFolders(brand, folder.parent, [moved], siblings[at]?.id);
}
