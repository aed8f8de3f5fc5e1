import { clsx } from "clsx";
import { Slider as Radix } from "radix-ui";
import { useId, useState } from "react";

/** Slider is a number with a range: dragged, typed, stepped by keys, and put back by a double click on its name or track. While it moves
 * onMove is told; onSet when it is let go. */
export function Slider({
  label,
  value,
  from,
  to,
  step,
  neutral = 0,
  unit = "",
  disabled,
  onMove,
  onSet,
}: {
  label: string;
  value: number;
  from: number;
  to: number;
  step: number;
  neutral?: number;
  unit?: string;
  disabled?: boolean;
  onMove: (value: number) => void;
  onSet: (value: number) => void;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string>();
  const places = (String(step).split(".")[1] ?? "").length;
  const said = (n: number) => (from < 0 && n > 0 ? "+" : "") + n.toFixed(places).replace("-", "−");
  const enter = () => {
    const n = Number((typed ?? "").replace("−", "-").replace(",", ".").replace("+", "").trim());
    setTyped(undefined);
    if (typed !== undefined && typed.trim() !== "" && Number.isFinite(n)) {
      const bounded = Math.min(to, Math.max(from, n));
      if (bounded !== value) onSet(bounded);
    }
  };
  const putBack = () => value !== neutral && onSet(neutral);
  return (
    <div className="grid grid-cols-[1fr_auto] items-center gap-x-2" data-control={label}>
      <label htmlFor={id} className="truncate text-dense select-none" onDoubleClick={putBack}>
        {label}
        {unit && <span className="text-ink-soft"> · {unit}</span>}
      </label>
      <input
        id={id}
        inputMode="decimal"
        disabled={disabled}
        className={clsx(
          "min-h-6 w-16 rounded-patch border border-line bg-card px-1.5 text-right text-dense tabular-nums",
          "focus:outline-2 focus:outline-sea",
        )}
        value={typed ?? said(value)}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={enter}
        onKeyDown={(e) => {
          if (e.key === "Enter") enter();
          if (e.key === "Escape" && typed !== undefined) {
            e.stopPropagation();
            setTyped(undefined);
          }
          if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            e.preventDefault();
            const by = (e.key === "ArrowUp" ? 1 : -1) * step * (e.shiftKey ? 10 : 1);
            onSet(Math.min(to, Math.max(from, Number((value + by).toFixed(places)))));
          }
        }}
      />
      <Radix.Root
        className="relative col-span-2 flex h-5 touch-none items-center select-none"
        min={from}
        max={to}
        step={step}
        value={[value]}
        disabled={disabled}
        onValueChange={([n]) => onMove(n!)}
        onValueCommit={([n]) => onSet(n!)}
        onDoubleClick={putBack}
      >
        <Radix.Track className="relative h-1 grow rounded bg-line">
          <Filled from={from} to={to} neutral={Math.min(to, Math.max(from, neutral))} value={value} />
        </Radix.Track>
        <Radix.Thumb
          aria-label={label}
          aria-valuetext={said(value) + (unit ? ` ${unit}` : "")}
          className="grid size-6 place-items-center rounded-full focus-visible:outline-2 focus-visible:outline-sea"
        >
          <span className="block size-3.5 rounded-full border-2 border-sea bg-card" />
        </Radix.Thumb>
      </Radix.Root>
    </div>
  );
}

/** Filled is the part of the track between what does nothing and the value. */
function Filled({ from, to, neutral, value }: { from: number; to: number; neutral: number; value: number }) {
  const at = (n: number) => ((n - from) / (to - from)) * 100;
  const [a, b] = [Math.min(at(neutral), at(value)), Math.max(at(neutral), at(value))];
  return <span className="absolute h-full rounded bg-sea" style={{ left: `${a}%`, width: `${b - a}%` }} />;
}
