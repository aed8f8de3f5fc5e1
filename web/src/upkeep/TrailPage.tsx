import { Redo2, Undo2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Me, Schema } from "~/api/client";
import { again } from "~/api/client";
import { useAsset, useFolders, useTrail, type TrailFilter } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice } from "~/kit/Field";
import { dayOf, exactly, timeOf, titleOf } from "~/kit/words";
import { pathName } from "~/sheet/Heading";
import { undoStep } from "~/sheet/Undoing";

type Entry = Schema["TrailEntry"];
type Step = Schema["Step"];

const steps: { value: Step | ""; label: string }[] = [
  { value: "", label: "Everything" },
  { value: "bring_in", label: "Bringing in" },
  { value: "file", label: "Filing" },
  { value: "describe", label: "Describing" },
  { value: "choose", label: "Choosing" },
  { value: "prepare", label: "Preparing" },
  { value: "gather", label: "Gathering" },
  { value: "send_out", label: "Sending out" },
  { value: "people", label: "People" },
  { value: "undo", label: "Undoing" },
];

/** byDay groups entries, which come newest first, by the day on which they were made. */
export function byDay(entries: Entry[]): [string, Entry[]][] {
  const days: [string, Entry[]][] = [];
  for (const e of entries) {
    const day = dayOf(e.at);
    if (days.at(-1)?.[0] === day) days.at(-1)![1].push(e);
    else days.push([day, [e]]);
  }
  return days;
}

/** TrailPage lists who did what and when, day by day; each step can be undone while nobody has changed the thing since. */
export function TrailPage({ brand, me, item }: { brand: string; me: Me; item?: number }) {
  const [filter, setFilter] = useState<TrailFilter>({ item });
  const { data, hasNextPage, fetchNextPage, isFetching, error } = useTrail(brand, filter);
  const folders = useFolders(brand).data ?? [];
  const asset = useAsset(brand, filter.item).data;
  const entries = data?.pages.flatMap((p) => p.entries) ?? [];
  const people = data?.pages[0]?.people ?? [];
  const all = me.can.includes("trail");
  const end = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (!end.current || !hasNextPage || isFetching) return;
    const seen = new IntersectionObserver(([e]) => e?.isIntersecting && void fetchNextPage(), { rootMargin: "600px" });
    seen.observe(end.current);
    return () => seen.disconnect();
  }, [hasNextPage, isFetching, fetchNextPage, entries.length]);
  const filtered = filter.person || filter.step || filter.folder || filter.item;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="trail">
      <div className="stitch-b px-4 py-2">
        <h1 className="text-lg">Trail</h1>
      </div>
      <div className="page-column">
        <div className="mb-4 flex flex-wrap items-end gap-3">
          {people.length > 0 && (
            <div className="w-44">
              <Choice
                label="Who"
                value={filter.person ?? 0}
                options={[
                  { value: 0, label: "Everybody" },
                  { value: me.id, label: "Me" },
                  ...people.filter((p) => p.id !== me.id).map((p) => ({ value: p.id, label: p.name })),
                ]}
                onChange={(person) => setFilter({ ...filter, person: person || undefined })}
              />
            </div>
          )}
          <div className="w-40">
            <Choice
              label="What"
              value={filter.step ?? ""}
              options={steps}
              onChange={(step) => setFilter({ ...filter, step: step || undefined })}
            />
          </div>
          <div className="w-56 max-w-full">
            <Choice
              label="Where"
              value={filter.folder ?? 0}
              options={[
                { value: 0, label: "Anywhere" },
                ...folders.map((f) => ({
                  value: f.id,
                  label: pathName(folders, f.id),
                })),
              ]}
              onChange={(folder) => setFilter({ ...filter, folder: folder || undefined })}
            />
          </div>
          {filter.item !== undefined && <p className="py-2 text-dense">Only what was done to “{asset ? titleOf(asset) : "…"}”</p>}
          {filtered && <Button onClick={() => setFilter({})}>Clear filters</Button>}
        </div>
        {error && (
          <p role="alert" className="text-tomato">
            {error.message}
          </p>
        )}
        <ol>
          {data && entries.length === 0 && (
            <li className="text-ink-soft">
              {filtered
                ? "Nothing was done that passes these filters."
                : "Nothing yet. Everything that is done is listed here, and can be undone."}
            </li>
          )}
          {byDay(entries).map(([day, list]) => (
            <li key={day}>
              <h2 className="stitch-b sticky top-0 z-10 mt-3 bg-paper py-1 text-base">{day}</h2>
              <ol aria-label={day}>
                {list.map((t) => (
                  <Row key={t.id} brand={brand} entry={t} may={all || t.mine} />
                ))}
              </ol>
            </li>
          ))}
          <li ref={end} className="py-3 text-center text-ink-soft">
            {isFetching ? "Loading…" : hasNextPage ? "" : entries.length > 20 ? "That is where it begins." : ""}
          </li>
        </ol>
      </div>
    </div>
  );
}

function Row({ brand, entry: t, may }: { brand: string; entry: Entry; may: boolean }) {
  return (
    <li className="flex min-h-10 items-center gap-3 border-b border-line py-1" data-trail={t.id}>
      <time className="w-11 shrink-0 text-dense text-ink-soft" dateTime={t.at} title={exactly(t.at)}>
        {timeOf(t.at)}
      </time>
      <span className="flex min-w-0 flex-1 items-baseline gap-x-3 max-md:flex-col">
        <span className={`min-w-0 flex-1 break-words ${t.undone ? "text-ink-soft line-through" : ""}`}>{t.said}</span>
        <span className="max-w-60 truncate text-dense text-ink-soft max-md:max-w-full">{t.by}</span>
      </span>
      <span className="w-30 shrink-0 text-right">
        {t.undoable && may && (
          <Button
            tone="quiet"
            className="whitespace-nowrap"
            icon={t.turn === "taken_back" ? <Redo2 size={16} /> : <Undo2 size={16} />}
            onClick={() => void (t.turn === "taken_back" ? again(brand, t.id) : undoStep(brand, t))}
          >
            {t.turn === "taken_back" ? "Do it again" : "Undo"}
          </Button>
        )}
      </span>
    </li>
  );
}
