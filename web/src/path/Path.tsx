import { clsx } from "clsx";
import { Link, useLocation, useNavigate } from "@tanstack/react-router";
import { ChevronDown, CircleHelp, Search, Settings } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Me } from "~/api/client";
import { useOverview } from "~/api/queries";
import { IconButton } from "~/kit/Button";
import { toSheet } from "~/kit/focus";
import { useKeys } from "~/kit/keys";
import { Mark } from "~/kit/Mark";
import { Menu } from "~/kit/Menu";
import { withCondition, wordsOf } from "~/sheet/filters";
import { type Step, useBrand, useGo, usePlace, useStep } from "~/sheet/place";
import { PersonMenu } from "./PersonMenu";

export const names: Record<Step, string> = {
  "bring-in": "Bring in",
  file: "File",
  describe: "Describe",
  choose: "Choose",
  "send-out": "Send out",
};

/** Pages that belong to no step. */
const outside = new Set(["arrivals", "trail", "people", "settings", "account"]);

/** stepsFor lists the steps in which a person can do something. */
export function stepsFor(me: Me): Step[] {
  const all: [Step, boolean][] = [
    ["bring-in", me.can.includes("bring_in")],
    ["file", true],
    ["describe", true],
    ["choose", me.can.includes("keep")],
    ["send-out", me.can.includes("download") || me.can.includes("galleries")],
  ];
  return all.filter(([, may]) => may).map(([step]) => step);
}

/** Path is the top edge: the brand, the steps of the work on their thread with what waits at each, search, the person. */
export function Path({
  me,
  onKeys,
  onGoTo,
  onStep,
  onAgain,
}: {
  me: Me;
  onKeys: () => void;
  onGoTo: () => void;
  onStep: () => void;
  onAgain: () => void;
}) {
  const brand = useBrand();
  const step = useStep();
  const { goToStep } = useGo();
  const page = useLocation({ select: (l) => l.pathname.split("/").at(-1) });
  const navigate = useNavigate();
  const settings = me.can.includes("settings")
    ? "/b/$brand/settings"
    : me.everywhere.includes("bring_in")
      ? "/b/$brand/arrivals"
      : undefined;
  const present = page === "galleries" ? "send-out" : outside.has(page ?? "") ? undefined : step;
  const counts = useOverview(brand).data;
  const waiting: Partial<Record<Step, number>> = { file: counts?.unfiled, describe: counts?.undescribed, choose: counts?.unchosen };
  return (
    <header className="stitch-b z-30 flex h-[52px] shrink-0 items-center gap-4 bg-card px-3 max-md:gap-2">
      <Link
        to="/b/$brand/$step"
        params={{ brand, step: "file" }}
        search={{ place: "everything" }}
        className="flex min-w-0 items-center gap-2"
        title={`${me.brandName}: the whole library`}
      >
        <Mark />
        <span className="truncate font-display text-base font-semibold">{me.brandName}</span>
      </Link>
      {(settings || me.brands.length > 1) && (
        <Menu
          align="start"
          trigger={<IconButton label="More about the brand" className="-ml-3 size-7" icon={<ChevronDown size={16} />} />}
          items={[
            ...(settings
              ? [{ label: "Settings", icon: <Settings size={16} />, onSelect: () => void navigate({ to: settings, params: { brand } }) }]
              : []),
            ...(me.brands.length > 1
              ? [
                  ...(settings ? [null] : []),
                  ...me.brands.map((b) => ({
                    label: b.name,
                    checked: b.code === me.brand,
                    onSelect: () => (window.location.href = `/b/${b.code}`),
                  })),
                ]
              : []),
          ]}
        />
      )}
      <nav
        aria-label="Steps of the work"
        className={clsx(
          "steps mx-auto flex items-center max-md:fixed max-md:inset-x-0 max-md:bottom-0 max-md:z-30",
          "max-md:h-[52px] max-md:justify-around max-md:overflow-x-auto max-md:border-t",
          "max-md:border-line max-md:bg-card max-md:px-1",
        )}
      >
        {stepsFor(me).map((s, i) => (
          <span key={s} className="flex items-center">
            {i > 0 && <span aria-hidden="true" className="stitch-b mx-0.5 h-1 w-5 max-lg:w-2" />}
            <button
              type="button"
              aria-current={s === present ? "step" : undefined}
              onClick={(e) => {
                if (s === present) onAgain();
                else onStep();
                goToStep(s);
                if (e.detail > 0) toSheet();
              }}
              className={clsx(
                "rounded-patch px-2.5 py-1 font-medium whitespace-nowrap hover:bg-sunk",
                "aria-[current]:bg-ink aria-[current]:text-paper max-md:px-1.5 max-md:py-2",
                "max-md:text-dense",
              )}
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
      </nav>
      <SearchBox />
      <IconButton label="Go to… (Ctrl+K)" className="max-lg:hidden" icon={<Search size={18} />} onClick={onGoTo} />
      <IconButton label="Keys (?)" className="max-md:hidden" icon={<CircleHelp size={18} />} onClick={onKeys} />
      <PersonMenu me={me} />
    </header>
  );
}

/** briefly is a number in at most five characters, so that what follows it never moves. */
const briefly = (n: number) =>
  n < 10_000 ? n.toLocaleString("en-GB") : n < 1_000_000 ? `${Math.floor(n / 1000)}k` : `${Math.floor(n / 1e6)}M`;

function SearchBox() {
  const place = usePlace();
  const { change } = useGo();
  const filter = place.filter;
  const shown = wordsOf(filter) ?? "";
  const [words, setWords] = useState(shown);
  const field = useRef<HTMLInputElement>(null);
  const typed = useRef(false);
  useEffect(() => {
    if (!typed.current) setWords(shown);
  }, [shown]);
  useEffect(() => {
    if (!typed.current) return;
    const timer = setTimeout(() => {
      typed.current = false;
      const searched = words.trim();
      change({ filter: withCondition(filter, "words", searched ? { names: [searched] } : undefined) });
    }, 250);
    return () => clearTimeout(timer);
  }, [words, change, filter]);
  useKeys("Everywhere", [{ press: "/", does: "search", run: () => field.current?.focus() }]);
  return (
    <input
      ref={field}
      type="search"
      aria-label="Search this place"
      placeholder="Search"
      className="w-40 min-w-20 rounded-patch max-md:ml-auto border border-line bg-paper px-2.5 py-1 placeholder:text-ink-soft max-lg:w-28"
      value={words}
      onChange={(e) => {
        typed.current = true;
        setWords(e.target.value);
      }}
      onKeyDown={(e) => e.key === "Escape" && e.currentTarget.blur()}
    />
  );
}
