import { later } from "~/kit/later";
import { ChevronDown, ChevronUp, Undo2 } from "lucide-react";
import { useState, type ReactNode } from "react";
import { mediaAddress, type Me } from "~/api/client";
import { useSatchel } from "~/api/queries";
import { IconButton } from "~/kit/IconButton";
import { afterMouse } from "~/kit/focus";
import { useKeys } from "~/kit/keys";
import { Mark } from "~/kit/Mark";
import { Message, MessageLog } from "~/kit/Messages";
import { useSaying } from "~/kit/notes";
import { useDropTarget } from "~/sheet/drag";
import { asSelection, useCount } from "~/sheet/selection";
import { carry } from "./acts";
import { SelectionBar } from "./SelectionBar";

const SatchelStrip = later(async () => (await import("./SatchelStrip")).SatchelStrip);

/** Strap is the bottom edge: the satchel on the left, work in progress and what was just done in the middle, the selection on
 * the right. */
export function Strap({
  brand,
  me,
  progress,
  undo,
}: {
  brand: string;
  me: Me;
  progress: ReactNode;
  undo: { id: number | undefined; said: string | undefined; run: () => void };
}) {
  const may = me.can.includes("carry");
  const carried = useSatchel(brand, may).data ?? [];
  const [open, setOpen] = useState(false);
  const count = useCount();
  const saying = useSaying();
  const take = (ids?: number[]) => void carry(brand, ids ? { ids } : asSelection());
  const { ref, over, carrying } = useDropTarget<HTMLDivElement>(may ? (ids, from) => from === "sheet" && take(ids) : undefined);
  useKeys("The satchel", may ? [{ press: "s", does: "put the selection in the satchel", run: () => count > 0 && take() }] : []);
  return (
    <footer className="relative z-20 bg-card" onClick={afterMouse}>
      {open && <SatchelStrip brand={brand} me={me} carried={carried} />}
      <div
        ref={ref}
        className={`stitch-t flex min-h-11 items-center gap-3 px-3 pt-1 max-md:flex-wrap max-md:gap-x-2 ${over ? "drop-here" : ""}`}
        data-strap
      >
        {may && (
          <button
            type="button"
            aria-expanded={open}
            data-satchel={carried.length}
            className="flex items-center gap-2 rounded-patch px-1.5 py-1 whitespace-nowrap hover:bg-sunk"
            onClick={() => setOpen(!open)}
          >
            <Mark size={24} />
            <span className="flex gap-0.5 max-xl:hidden" aria-hidden="true">
              {carried.slice(0, count > 0 ? 0 : 5).map((r) => (
                <img key={r.id} src={mediaAddress(brand, r, "small")} alt="" className="h-7 w-8 rounded-sm object-cover" />
              ))}
            </span>
            <span>{over && carrying ? `Carry ${carrying}` : carried.length === 0 ? "satchel empty" : `${carried.length} carried`}</span>
            {open ? <ChevronDown size={16} /> : <ChevronUp size={16} />}
          </button>
        )}
        <div className={`flex min-w-0 flex-1 items-center gap-4 ${count > 0 ? "max-md:hidden" : ""}`}>{progress}</div>
        <div className="min-w-0 max-md:order-first max-md:w-full">
          <Message />
        </div>
        <span className={count > 0 ? "ml-auto max-md:hidden" : "ml-auto"}>
          <MessageLog />
        </span>
        {undo.said && !saying && (
          <IconButton data-undoes={undo.id} label={`Undo: ${undo.said}`} icon={<Undo2 size={18} />} onClick={undo.run} />
        )}
        <SelectionBar brand={brand} carry={may ? () => take() : undefined} />
      </div>
    </footer>
  );
}
