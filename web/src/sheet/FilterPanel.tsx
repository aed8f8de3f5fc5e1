import { clsx } from "clsx";
import { later } from "~/kit/later";
import { ListFilter } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useMe } from "~/api/queries";
import { facetsOf } from "./filters";
import { usePlace } from "./place";

const Builder = later(async () => (await import("./builder/Builder")).Builder);
const Facets = later(async () => (await import("./Facets")).Facets);

/** FilterPanel filters what a place shows, saying beforehand how many there are of each. */
export function FilterPanel() {
  const place = usePlace();
  const [open, setOpen] = useState(false);
  const filters = facetsOf(place.filter);
  const [building, setBuilding] = useState(false);
  const me = useMe().data;
  const mayGather = me?.can.includes("gather") ?? false;
  const build = () => {
    setOpen(false);
    setBuilding(true);
  };
  const active = Object.values(filters).reduce((n, c) => n + c.values.length, 0);
  return (
    <>
      {building && <Builder from={place.filter} mayKeep={mayGather} onClose={() => setBuilding(false)} />}
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <button
            type="button"
            className="flex items-center gap-1.5 rounded-patch border border-line bg-card px-2 py-1 hover:bg-sunk"
            data-filter
          >
            <ListFilter size={16} aria-hidden="true" />
            Filter
            {active > 0 && <span className="rounded-full bg-saffron px-1.5 text-small font-semibold text-on-saffron">{active}</span>}
          </button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={6}
            aria-label="Filter"
            className={clsx(
              "z-40 max-h-[min(640px,76vh)] w-[min(560px,calc(100vw-24px))] overflow-y-auto rounded-xl",
              "border border-line bg-card p-4 shadow-2xl",
            )}
          >
            <Facets onBuild={build} />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}
