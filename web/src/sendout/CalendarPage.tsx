import { draggable, dropTargetForElements } from "@atlaskit/pragmatic-drag-and-drop/element/adapter";
import { Link } from "@tanstack/react-router";
import { clsx } from "clsx";
import { CalendarPlus, ChevronLeft, ChevronRight } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useCalendar, usePages } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice } from "~/kit/Field";
import { clockIn, items } from "~/kit/words";
import { movePost } from "./acts";
import { addDays, byDay, dayKey, daysOf, fromKey, otherMonth, type CalendarPost } from "./calendar";
import { CalendarFeed } from "./CalendarFeed";
import { CalendarYear } from "./CalendarYear";
import { PostDialog, standingInBrief } from "./PostDialog";

type View = "year" | "month" | "week" | "list";

/** CalendarPage shows what goes out and went out: by month, by week or as a list, on the days that clocks of each page show. */
export function CalendarPage({ brand }: { brand: string }) {
  const today = dayKey(new Date());
  const [view, setView] = useState<View>(() => (window.innerWidth < 768 ? "list" : "month"));
  const [day, setDay] = useState(today);
  const [page, setPage] = useState(0);
  const [open, setOpen] = useState<number>();
  const [feed, setFeed] = useState(false);
  const days = useMemo(() => daysOf(view === "week" ? "week" : "month", day), [view, day]);
  // A day more at both sides: elsewhere it may be another day already.
  const { data, error } = useCalendar(brand, `${addDays(days[0]!, -1)}T00:00:00Z`, `${addDays(days.at(-1)!, 2)}T00:00:00Z`);
  const pages = usePages(brand).data ?? [];
  const shown = useMemo(() => data?.filter((p) => page === 0 || p.page === page) ?? [], [data, page]);
  const laid = useMemo(() => byDay(shown), [shown]);
  const go = (by: number) => setDay(view === "week" ? addDays(day, by * 7) : otherMonth(day, view === "year" ? by * 12 : by));
  const opened = data?.find((p) => p.id === open);
  const title =
    view === "year"
      ? day.slice(0, 4)
      : view === "week"
        ? `Week of ${fromKey(days[0]!).toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" })}`
        : fromKey(day).toLocaleDateString("en-GB", { month: "long", year: "numeric" });
  const inMonth = days.filter((d) => d.slice(0, 7) === day.slice(0, 7) && laid.has(d));
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col" data-page="calendar">
      <div className="stitch-b flex flex-wrap items-center gap-2 px-4 py-2">
        <h1 className="text-lg">Calendar</h1>
        <div className="flex items-center gap-2 max-md:w-full max-md:justify-between">
          <Button tone="quiet" icon={<ChevronLeft size={18} />} onClick={() => go(-1)}>
            Earlier
          </Button>
          <span className="w-52 text-center max-md:w-auto" aria-live="polite" data-span>
            {title}
          </span>
          <Button tone="quiet" icon={<ChevronRight size={18} />} onClick={() => go(1)}>
            Later
          </Button>
        </div>
        {day !== today && <Button onClick={() => setDay(today)}>Today</Button>}
        <span className="flex-1" />
        <div className="flex flex-wrap items-end gap-2 max-md:w-full [&_select]:max-w-44">
          <Choice
            label="Show"
            value={view}
            options={[
              { value: "year", label: "a year" },
              { value: "month", label: "a month" },
              { value: "week", label: "a week" },
              { value: "list", label: "a list" },
            ]}
            onChange={setView}
          />
          {view !== "year" && (
            <Choice
              label="Page"
              value={page}
              options={[{ value: 0, label: "all pages" }, ...pages.map((p) => ({ value: p.id, label: p.name }))]}
              onChange={setPage}
            />
          )}
          <Button icon={<CalendarPlus size={18} />} onClick={() => setFeed(true)}>
            Subscribe…
          </Button>
        </div>
        <Link to="/b/$brand/dispatches" params={{ brand }} className="text-sea underline">
          Dispatches
        </Link>
      </div>
      {error && <p className="p-4 text-tomato">{error.message}</p>}
      {view === "year" ? (
        <CalendarYear
          brand={brand}
          day={day}
          onDay={(d) => {
            setDay(d);
            setView("week");
          }}
        />
      ) : view === "list" ? (
        <div className="min-h-0 flex-1 overflow-y-auto p-4">
          {data && inMonth.length === 0 && <p className="text-ink-soft">Nothing goes out, and nothing went out, in this month.</p>}
          <ol className="max-w-[760px] space-y-4">
            {inMonth.map((d) => (
              <li key={d}>
                <h2 className="mb-1 text-base">
                  {fromKey(d).toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" })}
                </h2>
                <ul className="space-y-1">
                  {laid.get(d)!.map((p) => (
                    <Entry key={p.id} post={p} wide onOpen={() => setOpen(p.id)} />
                  ))}
                </ul>
              </li>
            ))}
          </ol>
        </div>
      ) : (
        <div className="relative flex min-h-0 min-w-0 flex-1 flex-col overflow-auto">
          {data && days.every((d) => !laid.get(d)?.length) && (
            <p className="px-4 py-2 text-ink-soft">
              Nothing goes out, and nothing went out, in these days. Select items in the library and choose “Send to pages…”, under More.
            </p>
          )}
          <div className="grid min-w-[640px] flex-1 grid-cols-7 auto-rows-[minmax(min-content,1fr)]" role="group" aria-label={title}>
            {days.map((d) => (
              <Day
                key={d}
                day={d}
                today={d === today}
                outside={view === "month" && d.slice(0, 7) !== day.slice(0, 7)}
                posts={laid.get(d) ?? []}
                most={view === "week" ? 200 : 6}
                onOpen={setOpen}
                onMore={() => {
                  setDay(d);
                  setView("week");
                }}
                onDrop={(p) => void movePost(brand, p.id, d + p.wall.slice(10))}
              />
            ))}
          </div>
        </div>
      )}
      {opened && <PostDialog brand={brand} post={opened} onClose={() => setOpen(undefined)} />}
      {feed && <CalendarFeed brand={brand} onClose={() => setFeed(false)} />}
    </div>
  );
}

/** movable says whether a post can still be given another moment. */
const movable = (p: CalendarPost) => p.phase === "planned" || p.phase === "preparing";

function Day({
  day,
  today,
  outside,
  posts,
  most,
  onOpen,
  onMore,
  onDrop,
}: {
  day: string;
  today: boolean;
  outside: boolean;
  posts: CalendarPost[];
  most: number;
  onOpen: (id: number) => void;
  onMore: () => void;
  onDrop: (post: CalendarPost) => void;
}) {
  const ref = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState(false);
  const drop = useRef(onDrop);
  useEffect(() => {
    drop.current = onDrop;
  });
  useEffect(
    () =>
      dropTargetForElements({
        element: ref.current!,
        canDrop: ({ source }) => source.data.kind === "calendar-post",
        onDragEnter: () => setOver(true),
        onDragLeave: () => setOver(false),
        onDrop: ({ source }) => {
          setOver(false);
          const post = source.data.post as CalendarPost;
          if (post.wall.slice(0, 10) !== day) drop.current(post);
        },
      }),
    [day],
  );
  useEffect(() => {
    if (today) ref.current?.scrollIntoView({ block: "nearest" });
  }, [today]);
  const date = fromKey(day);
  return (
    <div
      ref={ref}
      role="group"
      aria-label={fromKey(day).toLocaleDateString("en-GB", { dateStyle: "full" })}
      data-day={day}
      className={clsx(
        "min-h-24 min-w-0 border-r border-b border-line p-1",
        outside && "bg-sunk",
        over && "outline-2 -outline-offset-2 outline-saffron outline-dashed",
      )}
    >
      <p className={`mb-1 text-small ${today ? "font-bold text-sea" : "text-ink-soft"}`}>
        <span aria-hidden="true">
          {date.toLocaleDateString("en-GB", { weekday: "short" })} {date.getDate()}
          {today && ", today"}
        </span>
      </p>
      <ul className="space-y-1">
        {posts.slice(0, most).map((p) => (
          <Entry key={p.id} post={p} onOpen={() => onOpen(p.id)} />
        ))}
      </ul>
      {posts.length > most && (
        <button type="button" className="text-small text-sea underline" onClick={onMore}>
          {posts.length - most} more
        </button>
      )}
    </div>
  );
}

/** Entry is a post in the calendar. One that has not left can be dragged to another day. */
function Entry({ post: p, wide, onOpen }: { post: CalendarPost; wide?: boolean; onOpen: () => void }) {
  const ref = useRef<HTMLButtonElement>(null);
  const can = movable(p);
  useEffect(() => {
    if (!can) return;
    return draggable({ element: ref.current!, getInitialData: () => ({ kind: "calendar-post", post: p }) });
  }, [can, p]);
  const live = p.phase === "out" && !p.withdrawn;
  const bad = p.phase === "refused" || p.phase === "unsure" || p.ends;
  // Stitched is what is still to come, as everywhere; the dot says that it is live outside.
  const edge = bad ? "border-tomato" : can ? "border-dashed border-saffron" : "border-line";
  return (
    <li>
      <button
        ref={ref}
        type="button"
        data-entry={p.id}
        className={clsx(
          "block w-full rounded-patch border bg-card px-1.5 py-0.5 text-left text-small break-words hover:bg-sunk",
          wide && "truncate",
          edge,
        )}
        title={`${clockIn(p.wall, p.zone)}: ${items(p.items)} on ${p.pageName}. ${standingInBrief(p)}`}
        onClick={onOpen}
      >
        {live && <span className="mr-1 inline-block size-2 rounded-full bg-plum" />}
        <span className="tabular-nums">{p.wall.slice(11)}</span> {wide ? `${p.pageName}: ${items(p.items)}` : p.pageName}
        {wide && ` · ${standingInBrief(p)}`}
        {wide && p.crowded && " · another within the hour"}
        {p.ends && <span className="text-tomato">{wide ? " · rights end before" : " !"}</span>}
        {!wide && p.crowded && <span className="text-tomato"> !</span>}
        <span className="sr-only">, {standingInBrief(p)}</span>
      </button>
    </li>
  );
}
