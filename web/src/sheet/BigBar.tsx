import { ArrowLeft, ArrowRight, Rows3 } from "lucide-react";
import { useEffect, type ReactNode } from "react";
import { rows, useRow } from "~/api/rows";
import { IconButton } from "~/kit/IconButton";
import { titleOf } from "~/kit/words";
import { moveCursor, openBig, useChosen } from "./selection";

/** BigBar is below an item that is seen big: which of how many it is, the one before and the next, what can be done with it, and the way
 * back. It fetches those beside it ahead. */
export function BigBar({ id, onView, children }: { id: number; onView: (seen: number[]) => void; children: ReactNode }) {
  const row = useRow(id);
  const ids = useChosen((s) => s.ids);
  const at = ids.indexOf(id);
  useEffect(() => {
    const around = [id, ids[at + 1], ids[at - 1]].filter((n) => n !== undefined);
    rows.want(around.filter((n) => n > 0));
    onView(around);
  }, [id, ids, at, onView]);
  return (
    <div className="flex items-center justify-center-safe gap-2 overflow-x-auto bg-card px-3 py-1.5 max-md:flex-wrap max-md:gap-y-0">
      <IconButton label="Item before" icon={<ArrowLeft size={18} />} onClick={() => moveCursor(-1)} disabled={at === 0} />
      <span className="max-w-[50%] truncate max-md:order-first max-md:max-w-full max-md:basis-full max-md:text-center">
        {row && titleOf(row)}{" "}
        <span className="text-ink-soft">
          ·{" "}
          {at < 0
            ? ids.some((n) => n < 0)
              ? "…"
              : "not in this sheet any more"
            : `${(at + 1).toLocaleString("en-GB")} of ${ids.length.toLocaleString("en-GB")}`}
        </span>
      </span>
      <IconButton label="Next item" icon={<ArrowRight size={18} />} onClick={() => moveCursor(1)} disabled={at >= ids.length - 1} />
      {children}
      <IconButton label="Back to the sheet" icon={<Rows3 size={18} />} onClick={() => openBig(undefined)} />
    </div>
  );
}
