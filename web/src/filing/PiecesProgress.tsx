import { useEffect, useRef } from "react";
import { told } from "~/api/client";
import { usePieces } from "~/api/queries";
import { showAllBut } from "~/api/sheets";
import { tell, warn } from "~/kit/notes";

/** PiecesProgress is, in the strap, how far changes of many items are; it says when one is done or could not go on. */
export function PiecesProgress({ brand }: { brand: string }) {
  const pieces = usePieces(brand).data;
  const open = (pieces ?? []).filter((p) => !p.finished);
  const watched = useRef(new Set<number>());
  useEffect(() => {
    if (pieces) void showAllBut(new Set(pieces.flatMap((p) => (p.finished || p.trail === undefined ? [] : [p.trail]))));
    for (const p of pieces ?? []) {
      if (!p.finished) watched.current.add(p.id);
      else if (watched.current.delete(p.id)) {
        if (p.failed) warn(p.failed);
        else if (p.trail !== undefined) told(brand, { said: p.said, trail: p.trail, undone: p.undone });
        else tell(p.said);
      }
    }
  }, [brand, pieces]);
  const now = open[0];
  if (!now) return null;
  const done = now.total - now.left;
  return (
    <span className="flex min-w-0 items-center gap-2" data-pieces={now.left}>
      <span className="truncate">{now.said}</span>
      {now.total > 0 && (
        <>
          <progress className="w-20" max={now.total} value={done} aria-label={now.said} />
          <span className="text-dense whitespace-nowrap">
            {done.toLocaleString("en-GB")} of {now.total.toLocaleString("en-GB")}
          </span>
        </>
      )}
    </span>
  );
}
