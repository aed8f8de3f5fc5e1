import { ChevronDown, RotateCcw } from "lucide-react";
import type { ReactNode } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { IconButton } from "~/kit/IconButton";

/** Which groups are open is remembered. */
const useOpen = create<{ open: Record<string, boolean> }>()(persist(() => ({ open: {} }), { name: "satchel-prepare" }));

/** Those that are open until one folds them. */
const openAtFirst = ["Clip", "Framing", "Brightness"];

/** Fold is a group of the board that opens and folds, says how much of it does something, and can be put back. */
export function Fold({ name, changed, onBack, children }: { name: string; changed: number; onBack?: () => void; children: ReactNode }) {
  const open = useOpen((s) => s.open[name] ?? openAtFirst.includes(name));
  return (
    <section className="border-t border-line pt-2" data-group={name}>
      <div className="flex items-center">
        <h3 className="min-w-0 flex-1">
          <button
            type="button"
            aria-expanded={open}
            className="flex min-h-8 w-full items-center gap-1.5 text-left font-medium"
            onClick={() => useOpen.setState((s) => ({ open: { ...s.open, [name]: !open } }))}
          >
            <ChevronDown size={16} className={open ? "" : "-rotate-90"} aria-hidden="true" />
            {name}
            {changed > 0 && <span className="text-dense font-normal text-ink-soft">· {changed} set</span>}
          </button>
        </h3>
        {onBack && changed > 0 && <IconButton label={`Put ${name.toLowerCase()} back`} icon={<RotateCcw size={16} />} onClick={onBack} />}
      </div>
      {open && <div className="space-y-2 pt-1 pb-2">{children}</div>}
    </section>
  );
}
