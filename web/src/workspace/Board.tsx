import { clsx } from "clsx";
import { useEffect, useRef, type ReactNode } from "react";
import { scrollAtEdges } from "~/kit/edges";
import { create } from "zustand";
import { afterMouse, walk } from "~/kit/focus";
import { useSettings } from "~/kit/settings";

const useBoard = create<{ up: boolean }>(() => ({ up: false }));

/** putBoard pulls the board up on a phone, or puts it down. */
export function putBoard(up: boolean) {
  useBoard.setState({ up });
  if (up) useSettings.getState().set({ boardFolded: false });
}

/** foldBoard folds the board away, or unfolds it; on a phone it puts it down or pulls it up. */
export function foldBoard() {
  const { boardFolded, set } = useSettings.getState();
  if (window.matchMedia("(max-width: 767px)").matches) useBoard.setState((s) => ({ up: !s.up }));
  else set({ boardFolded: !boardFolded });
}

/** useBoardUp says whether the board is pulled up, on a phone. */
export const useBoardUp = () => useBoard((s) => s.up);

/** Board is the right side: as wide as one likes, foldable; on a phone a sheet that is pulled up, and low when what one works at must stay
 * in sight. */
export function Board({ low, children }: { low?: boolean; children: ReactNode }) {
  const up = useBoard((s) => s.up);
  const { boardWidth, boardFolded, set } = useSettings();
  const scroller = useRef<HTMLDivElement>(null);
  useEffect(() => (scroller.current ? scrollAtEdges(scroller.current) : undefined), [boardFolded]);
  const edge = useRef<{ x: number; width: number }>(undefined);
  if (boardFolded && !up)
    return (
      <button
        type="button"
        className="w-7 border-l border-line bg-card text-ink-soft [writing-mode:vertical-rl] hover:text-ink max-md:hidden"
        onClick={() => set({ boardFolded: false })}
      >
        Unfold the board
      </button>
    );
  const resize = (width: number) => set({ boardWidth: Math.max(280, Math.min(560, width)) });
  return (
    <>
      {up && (
        <button
          type="button"
          aria-label="Put the board down"
          className={clsx("fixed inset-0 z-20 md:hidden", low ? "hidden" : "bg-shade")}
          onClick={() => putBoard(false)}
        />
      )}
      <aside
        aria-label="Board"
        data-board
        style={{ "--board": `${boardWidth}px` } as React.CSSProperties}
        className={clsx(
          "relative flex w-[var(--board)] shrink-0 flex-col border-l border-line bg-card max-md:fixed",
          "max-md:inset-x-0 max-md:bottom-[52px] max-md:z-30 max-md:w-full",
          low ? "max-md:max-h-[44vh]" : "max-md:max-h-[70vh]",
          "max-md:rounded-t-2xl max-md:border-t",
          up ? "" : "max-md:hidden",
        )}
      >
        <div
          role="separator"
          aria-orientation="vertical"
          aria-label="Width of the board"
          aria-valuenow={boardWidth}
          aria-valuemin={280}
          aria-valuemax={560}
          tabIndex={0}
          className="absolute inset-y-0 -left-1 w-2 cursor-col-resize hover:bg-saffron max-md:hidden"
          onPointerDown={(e) => {
            edge.current = { x: e.clientX, width: boardWidth };
            e.currentTarget.setPointerCapture(e.pointerId);
          }}
          onPointerMove={(e) => edge.current && resize(edge.current.width + edge.current.x - e.clientX)}
          onPointerUp={() => (edge.current = undefined)}
          onDoubleClick={() => set({ boardFolded: true })}
          onKeyDown={(e) => {
            if (e.key === "ArrowLeft") resize(boardWidth + 20);
            else if (e.key === "ArrowRight") resize(boardWidth - 20);
            else if (e.key === "Enter") set({ boardFolded: true });
            else return;
            e.preventDefault();
            e.stopPropagation();
          }}
        />
        <div ref={scroller} data-scrolls className="min-h-0 flex-1 overflow-y-auto p-4" tabIndex={0} onClick={afterMouse} onKeyDown={walk}>
          {children}
        </div>
      </aside>
    </>
  );
}
