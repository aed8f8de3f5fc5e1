import { clsx } from "clsx";
import { ChevronDown } from "lucide-react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Me } from "~/api/client";
import { useOverview } from "~/api/queries";
import { Button } from "~/kit/Button";
import { toSheet } from "~/kit/focus";
import { Menu } from "~/kit/Menu";
import { type Step, useBrand, useGo } from "~/sheet/place";

export const names: Record<Step, string> = {
  "bring-in": "Bring in",
  file: "File",
  describe: "Describe",
  choose: "Choose",
  prepare: "Prepare",
  gather: "Gather",
  "send-out": "Send out",
};

/** stepsFor lists the steps in which a person can do something. */
export function stepsFor(me: Me): Step[] {
  const all: [Step, boolean][] = [
    ["bring-in", me.can.includes("bring_in")],
    ["file", true],
    ["describe", true],
    ["choose", me.can.includes("keep")],
    ["prepare", me.can.includes("prepare")],
    ["gather", me.can.includes("gather")],
    ["send-out", me.can.includes("download") || me.can.includes("galleries")],
  ];
  return all.filter(([, may]) => may).map(([step]) => step);
}

/** Steps are the steps of the work on their thread, with what waits at each. Those for which there is no room are in one that
 * unfolds; on a phone they are a bar at the bottom, which scrolls. */
export function Steps(p: { me: Me; present: Step | undefined; onStep: () => void; onAgain: () => void }) {
  const { goToStep } = useGo();
  const steps = stepsFor(p.me);
  const { bar, fitting, whole } = useFitting(steps.length);
  const counts = useOverview(useBrand()).data;
  const waiting: Partial<Record<Step, number>> = { file: counts?.unfiled, describe: counts?.undescribed, choose: counts?.unchosen };
  const folded = steps.slice(fitting);
  useEffect(() => {
    // on a phone the bar is wider than the screen
    bar.current?.querySelector("[aria-current]")?.scrollIntoView({ inline: "center", block: "nearest" });
  }, [bar, p.present]);
  const go = (s: Step) => {
    if (s === p.present) p.onAgain();
    else p.onStep();
    goToStep(s);
  };
  return (
    <nav
      ref={bar}
      aria-label="Steps of the work"
      style={{ flexBasis: whole }}
      className={clsx(
        "steps flex min-w-0 grow items-center justify-center overflow-hidden max-md:fixed max-md:inset-x-0 max-md:bottom-0 max-md:z-30",
        "max-md:h-[52px] max-md:justify-around max-md:overflow-x-auto max-md:border-t",
        "max-md:border-line max-md:bg-card max-md:px-1",
      )}
    >
      {steps.slice(0, fitting).map((s, i) => (
        <span key={s} className="flex shrink-0 items-center">
          {i > 0 && <span aria-hidden="true" className="stitch-b mx-0.5 h-1 w-5 max-lg:w-2" />}
          <button
            type="button"
            aria-current={s === p.present ? "step" : undefined}
            onClick={(e) => {
              go(s);
              if (e.detail > 0) toSheet();
            }}
            className={patch}
          >
            {names[s]}
            {s in waiting && (
              <span
                className="ml-1 -mr-1 inline-block w-8 text-left text-dense font-normal opacity-80 max-md:w-auto"
                data-waiting={waiting[s] ? s : undefined}
                title={waiting[s]?.toLocaleString("en-GB")}
              >
                {waiting[s] ? `·${briefly(waiting[s])}` : ""}
              </span>
            )}
          </button>
        </span>
      ))}
      {folded.length > 0 && (
        <Menu
          align="end"
          trigger={
            <Button className="ml-1 shrink-0" aria-label="Other steps">
              {p.present && folded.includes(p.present) ? names[p.present] : "Other"}
              <ChevronDown size={16} aria-hidden="true" />
            </Button>
          }
          items={folded.map((s) => ({
            label: waiting[s] ? `${names[s]} · ${waiting[s].toLocaleString("en-GB")}` : names[s],
            checked: s === p.present,
            onSelect: () => go(s),
          }))}
        />
      )}
    </nav>
  );
}

const patch = clsx(
  "rounded-patch px-2.5 py-1 font-medium whitespace-nowrap -outline-offset-2 hover:bg-sunk aria-[current]:bg-ink",
  "aria-[current]:text-paper max-md:px-1.5 max-md:py-2 max-md:text-dense",
);

const folding = 124; // pixels of the widest name with its arrow

/** useFitting says how many of the steps fit into their bar beside the one that unfolds, from the widths that they have
 * when all are drawn; on a phone all do. They have others once the type is there, and when their thread is shorter: then all are drawn
 * and measured again. */
function useFitting(count: number) {
  const bar = useRef<HTMLElement>(null);
  const ends = useRef<number[]>([]);
  const [fitting, setFitting] = useState(count);
  const [whole, setWhole] = useState<number>(); // what all of them take: the brand's name gives way before a step does
  const [drawn, setDrawn] = useState(0); // how often all were drawn
  useLayoutEffect(() => {
    const again = () => {
      ends.current = [];
      setFitting(count);
      setDrawn((n) => n + 1);
    };
    const long = window.matchMedia("(min-width: 64rem)");
    document.fonts.addEventListener("loadingdone", again);
    long.addEventListener("change", again);
    return () => {
      document.fonts.removeEventListener("loadingdone", again);
      long.removeEventListener("change", again);
    };
  }, [count]);
  useLayoutEffect(() => {
    const element = bar.current;
    if (!element) return;
    const wide = window.matchMedia("(min-width: 48rem)");
    const fit = () => {
      const widths = [...element.children].slice(0, count).map((c) => (c as HTMLElement).offsetWidth);
      if (wide.matches && widths.length === count && ends.current.length === 0) {
        let end = 0;
        ends.current = widths.map((w) => (end += w));
        setWhole(end);
      }
      const room = element.clientWidth;
      if (!wide.matches || (ends.current.at(-1) ?? 0) <= room + 1) return setFitting(count);
      setFitting(Math.max(1, ends.current.filter((end) => end + folding <= room).length));
    };
    const observer = new ResizeObserver(fit);
    observer.observe(element);
    return () => observer.disconnect();
  }, [count, drawn]);
  return { bar, fitting, whole };
}

/** briefly is a number in at most five characters, so that what follows it never moves. */
const briefly = (n: number) =>
  n < 10_000 ? n.toLocaleString("en-GB") : n < 1_000_000 ? `${Math.floor(n / 1000)}k` : `${Math.floor(n / 1e6)}M`;
