import { clsx } from "clsx";
import { useColours } from "~/api/queries";
import { conditionOf, withCondition } from "./filters";
import { useBrand, useGo, usePlace } from "./place";

/** Colours finds what a colour dominates: one of the brand's own, or any other. */
export function Colours() {
  const brand = useBrand();
  const { filter } = usePlace();
  const { change } = useGo();
  const own = useColours(brand).data ?? [];
  const chosen = conditionOf(filter, "colour")?.names?.[0];
  const choose = (colour: string | undefined) =>
    change({ filter: withCondition(filter, "colour", colour ? { names: [colour] } : undefined), sort: undefined });
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 font-medium">Colour</legend>
      <div className="flex flex-wrap items-center gap-2">
        {own.map((c) => (
          <button
            key={c.id}
            type="button"
            aria-pressed={c.colour === chosen}
            className={clsx(
              "inline-flex items-center gap-1.5 rounded-full border py-0.5 pr-2.5 pl-1 text-dense",
              c.colour === chosen ? "border-saffron bg-saffron-wash" : "border-line bg-card hover:bg-sunk",
            )}
            onClick={() => choose(c.colour === chosen ? undefined : c.colour)}
          >
            <span className="size-5 rounded-full border border-line" style={{ backgroundColor: c.colour }} />
            {c.name}
          </button>
        ))}
        <label className="inline-flex items-center gap-1.5 text-dense">
          <input
            type="color"
            aria-label="Another colour"
            className="h-7 w-9 cursor-pointer rounded border border-line bg-card p-0.5"
            value={chosen ?? "#808080"}
            onChange={(e) => choose(e.target.value)}
          />
          another
        </label>
        {chosen && (
          <button type="button" className="text-dense text-sea hover:underline" onClick={() => choose(undefined)}>
            any colour
          </button>
        )}
      </div>
    </fieldset>
  );
}
