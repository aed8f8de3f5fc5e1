import { useCalendarDays } from "~/api/queries";
import { plural } from "~/kit/words";
import { addDays, dayKey, fromKey, monday } from "./calendar";

/** CalendarYear shows twelve months with how many posts are due on each day; a day opens its week. */
export function CalendarYear({ brand, day, onDay }: { brand: string; day: string; onDay: (day: string) => void }) {
  const year = Number(day.slice(0, 4));
  const { data, error } = useCalendarDays(brand, `${year - 1}-12-31T00:00:00Z`, `${year + 1}-01-02T00:00:00Z`);
  const on = new Map(data?.map((d) => [d.day, d]));
  const today = dayKey(new Date());
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4" data-year={year}>
      {error && <p className="text-tomato">{error.message}</p>}
      <div className="grid grid-cols-4 gap-6 max-md:grid-cols-1 max-lg:grid-cols-2">
        {Array.from({ length: 12 }, (_, m) => {
          const first = `${year}-${String(m + 1).padStart(2, "0")}-01`;
          return (
            <section key={first} aria-label={fromKey(first).toLocaleDateString("en-GB", { month: "long", year: "numeric" })}>
              <h2 className="mb-1 text-dense">{fromKey(first).toLocaleDateString("en-GB", { month: "long" })}</h2>
              <div className="grid grid-cols-7 gap-px">
                {Array.from({ length: 42 }, (_, i) => addDays(monday(first), i)).map((d) => {
                  const there = on.get(d);
                  if (d.slice(0, 7) !== first.slice(0, 7)) return <span key={d} />;
                  const tone = there?.wrong ? "border-tomato" : there?.planned ? "border-dashed border-saffron" : "border-transparent";
                  return (
                    <button
                      key={d}
                      type="button"
                      data-count={there?.posts ?? 0}
                      className={`rounded border px-0.5 py-1 text-center text-small hover:bg-sunk ${tone} ${
                        d === today ? "font-bold text-sea" : there ? "bg-card" : "text-ink-soft"
                      }`}
                      aria-label={`${fromKey(d).toLocaleDateString("en-GB", { dateStyle: "long" })}: ${plural(there?.posts ?? 0, "post")}`}
                      onClick={() => onDay(d)}
                    >
                      {fromKey(d).getDate()}
                      <span className="block text-plum">{there?.posts ?? "\u00a0"}</span>
                    </button>
                  );
                })}
              </div>
            </section>
          );
        })}
      </div>
    </div>
  );
}
