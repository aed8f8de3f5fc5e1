import { clsx } from "clsx";
import { ChevronDown, ChevronRight } from "lucide-react";
import type { ReactNode, Ref } from "react";
import { useDropTarget } from "~/sheet/drag";
import { type Place, useGo, usePlace } from "~/sheet/place";

export interface CabinetRowProps {
  icon?: ReactNode;
  name: string;
  /** What stands below the name, such as the way to it. */
  about?: string;
  count?: number;
  below?: number;
  /** What is in it with what is not shown, and how many of it were set aside. */
  all?: number;
  aside?: number;
  to?: Place;
  /** Whether the present place is this one, where the place itself does not say. */
  here?: boolean;
  onOpen?: () => void;
  indent?: number;
  fold?: { open: boolean; toggle: () => void };
  onItems?: (ids: number[]) => void;
  files?: { folder?: number };
  menu?: ReactNode;
  /** Stands in place of the name while that is changed. */
  instead?: ReactNode;
  onRename?: () => void;
  grip?: Ref<HTMLDivElement>;
  mark?: "before" | "after" | "into";
}

/** unshown says of items that are not shown how many were set aside, and how many are behind the front of a stack. */
function unshown(all: number, aside: number) {
  const behind = Math.max(0, all - aside);
  return [aside > 0 && `${aside} set aside`, behind > 0 && `${behind} behind the front of a stack`].filter(Boolean).join(", ");
}

/** CabinetRow is one place: it opens on a click and takes what is dropped on it. Without a place it only unfolds. */
export function CabinetRow({
  icon,
  name,
  about,
  count,
  below,
  all,
  aside = 0,
  to,
  here,
  onOpen,
  indent = 0,
  fold,
  onItems,
  files,
  menu,
  instead,
  onRename,
  grip,
  mark,
}: CabinetRowProps) {
  const { goTo } = useGo();
  const at = usePlace((place) => to !== undefined && place.place === to.place && place.id === to.id && !place.filter);
  const present = here ?? at;
  const { ref, over, carrying } = useDropTarget<HTMLDivElement>(onItems, files);
  const counts = [
    below !== undefined && below !== count && `${count} in it, ${below} with its subfolders`,
    all !== undefined && count !== undefined && all !== count && `${all} in all: ${unshown(all - count, aside)}`,
  ].filter(Boolean);
  return (
    <div ref={ref}>
      <div
        ref={grip}
        data-place={name}
        className={clsx(
          "group relative flex min-h-9 items-center rounded-patch",
          present ? "bg-saffron-wash" : "hover:bg-sunk",
          over || mark === "into" ? "drop-here" : "",
        )}
        style={{ paddingLeft: indent * 16 }}
      >
        {mark && mark !== "into" && (
          <span aria-hidden="true" className={`absolute inset-x-0 z-10 h-0.5 bg-saffron ${mark === "before" ? "top-0" : "bottom-0"}`} />
        )}
        {fold ? (
          <button
            type="button"
            aria-label={fold.open ? `Fold ${name}` : `Unfold ${name}`}
            aria-expanded={fold.open}
            className="grid size-6 shrink-0 place-items-center text-ink-soft"
            onClick={fold.toggle}
          >
            {fold.open ? <ChevronDown size={16} /> : <ChevronRight size={16} />}
          </button>
        ) : (
          <span className="w-6 shrink-0" />
        )}
        {instead ?? (
          <button
            type="button"
            data-row
            className="flex min-w-0 flex-1 items-center gap-2 py-1.5 pr-1 text-left"
            onKeyDown={(e) => {
              if (!fold || e.key !== (fold.open ? "ArrowLeft" : "ArrowRight")) return;
              e.preventDefault();
              fold.toggle();
            }}
            aria-current={present ? "page" : undefined}
            onClick={() => (onOpen ? onOpen() : to ? goTo(to) : fold?.toggle())}
            onDoubleClick={onRename}
            title={about ? `${about} / ${name}` : name}
          >
            {icon && <span className="shrink-0 text-ink-soft">{icon}</span>}
            <span className="min-w-0">
              <span className="block truncate">{name}</span>
              {about && <span className="block truncate text-small text-ink-soft">{about}</span>}
            </span>
            {over && carrying > 0 && (
              <span className="shrink-0 rounded-full bg-saffron px-2 text-small font-semibold text-on-saffron">
                Move {carrying.toLocaleString("en-GB")}
              </span>
            )}
          </button>
        )}
        <span className="shrink-0 pr-1.5 text-dense text-ink-soft" data-own={count} title={counts.join("; ") || undefined}>
          {!(count === 0 && !!below) && count?.toLocaleString("en-GB")}
          {below !== undefined && below !== count && (
            <span>
              {count === 0 ? `${below.toLocaleString("en-GB")} below` : ` + ${(below - (count ?? 0)).toLocaleString("en-GB")} below`}
            </span>
          )}
        </span>
        {menu}
      </div>
    </div>
  );
}
