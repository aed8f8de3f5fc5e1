import { clsx } from "clsx";
import { ChevronsLeftRight } from "lucide-react";
import { useRef } from "react";
import { mediaAddress, type AssetRow } from "~/api/client";
import { moment, spanOf, trimmed } from "./film";
import { setMode } from "./mode";
import { move, settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** ClipLine is the whole clip from left to right: what remains of it, and the moment that is seen. */
export function ClipLine(p: { brand: string; row: AssetRow; work: Work; seconds: number; at: number }) {
  const { work, seconds } = p;
  const line = useRef<HTMLDivElement>(null);
  const { from, to } = spanOf(work.recipe, seconds);
  const percent = (n: number) => `${(n / seconds) * 100}%`;
  const under = (x: number) => {
    const box = line.current!.getBoundingClientRect();
    return Math.max(0, Math.min(1, (x - box.x) / box.width)) * seconds;
  };
  /** follow tells where the pointer is until it is let go. */
  const follow = (e: React.PointerEvent, to: (at: number, done: boolean) => void) => {
    e.preventDefault();
    e.stopPropagation();
    const target = e.currentTarget as HTMLElement;
    target.focus();
    target.setPointerCapture(e.pointerId);
    const step = (m: PointerEvent) => to(under(m.clientX), false);
    const end = (m: PointerEvent) => {
      target.removeEventListener("pointermove", step);
      target.removeEventListener("pointerup", end);
      target.removeEventListener("pointercancel", end);
      to(under(m.clientX), true);
    };
    target.addEventListener("pointermove", step);
    target.addEventListener("pointerup", end);
    target.addEventListener("pointercancel", end);
    to(under(e.clientX), false);
  };
  const byKey = (e: React.KeyboardEvent, at: number, to: (at: number, done: boolean) => void) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[e.key];
    const far = { Home: 0, End: seconds }[e.key];
    if (by === undefined && far === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    to(Math.max(0, Math.min(seconds, far ?? at + by! * (e.shiftKey ? 1 : 0.1))), true);
  };
  const trim = (side: "from" | "to") => (at: number, done: boolean) => {
    const next = trimmed(work.recipe, seconds, side, at);
    setMode({ moment: spanOf(next, seconds)[side] - (side === "to" ? 0.04 : 0), playing: false });
    if (done) settle(next, "trimming");
    else move(next);
  };
  const see = (at: number) => setMode({ moment: Math.min(at, seconds - 0.04), playing: false });
  return (
    <div className="shrink-0 px-7 pb-2" data-clip-line="">
      <div className="relative z-1 h-6 touch-none select-none" onPointerDown={(e) => follow(e, see)}>
        <button
          type="button"
          role="slider"
          aria-label="The moment that is seen"
          aria-valuemin={0}
          aria-valuemax={seconds}
          aria-valuenow={p.at}
          aria-valuetext={moment(p.at)}
          className={clsx(
            "absolute inset-y-0 w-6 -translate-x-1/2 cursor-ew-resize touch-none",
            "before:mx-auto before:block before:size-3 before:rounded-full before:bg-sea",
            "after:pointer-events-none after:absolute after:top-3 after:-bottom-14 after:left-1/2 after:w-0.5",
            "after:-translate-x-1/2 after:bg-sea after:outline-1 after:outline-card",
          )}
          style={{ left: percent(p.at) }}
          onPointerDown={(e) => follow(e, see)}
          onKeyDown={(e) => byKey(e, p.at, see)}
          data-moment=""
        />
      </div>
      <div
        ref={line}
        className="relative h-14 touch-none rounded-patch bg-sunk bg-[length:100%_100%] select-none"
        style={{ backgroundImage: `url(${mediaAddress(p.brand, p.row, "whole-strip")})` }}
        onPointerDown={(e) => follow(e, see)}
      >
        <span className="absolute inset-y-0 left-0 bg-shade" style={{ width: percent(from) }} aria-hidden="true" />
        <span className="absolute inset-y-0 right-0 bg-shade" style={{ left: percent(to) }} aria-hidden="true" />
        {(["from", "to"] as const).map((side) => (
          <button
            key={side}
            type="button"
            role="slider"
            aria-label={side === "from" ? "Where it begins" : "Where it ends"}
            aria-valuemin={0}
            aria-valuemax={seconds}
            aria-valuenow={side === "from" ? from : to}
            aria-valuetext={moment(side === "from" ? from : to)}
            className={clsx(
              "absolute inset-y-0 w-6 cursor-ew-resize touch-none bg-card/80",
              side === "from" ? "-translate-x-full rounded-l-patch border-r-2" : "rounded-r-patch border-l-2",
              "border-dashed border-ink",
            )}
            style={{ left: percent(side === "from" ? from : to) }}
            onPointerDown={(e) => follow(e, trim(side))}
            onKeyDown={(e) => byKey(e, side === "from" ? from : to, trim(side))}
            data-trim={side}
          >
            <ChevronsLeftRight size={14} className="mx-auto" aria-hidden="true" />
          </button>
        ))}
      </div>
      <p className="mt-1 flex justify-between gap-2 rounded-patch bg-card px-2 text-small tabular-nums">
        <span>begins at {moment(from)}</span>
        <span>seen: {moment(p.at)}</span>
        <span>ends at {moment(to)}</span>
      </p>
    </div>
  );
}
