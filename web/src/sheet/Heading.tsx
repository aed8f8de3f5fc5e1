import { ArrowDownNarrowWide, ArrowUpNarrowWide, X } from "lucide-react";
import type { Schema } from "~/api/client";
import { useAlbums, useFolders, useIntakes, useOutlets, useTags } from "~/api/queries";
import { IconButton } from "~/kit/Button";
import { useSettings } from "~/kit/settings";
import { items, when } from "~/kit/words";
import { useDropTarget } from "./drag";
import { usePlace, type Place } from "./place";
import { openBig, useChosen } from "./selection";

const sorts: { value: NonNullable<Place["sort"]>; label: string }[] = [
  { value: "taken", label: "date taken" },
  { value: "added", label: "date added" },
  { value: "changed", label: "date changed" },
  { value: "name", label: "name" },
  { value: "stars", label: "stars" },
  { value: "size", label: "file size" },
  { value: "kind", label: "kind" },
];
const sources = { upload: "from people’s own devices", server: "from the server", watched: "from a watched folder", outlet: "from an outlet" };
const names: Record<Place["place"], string> = {
  everything: "Library",
  unfiled: "Unfiled",
  bin: "Bin",
  keepers: "My keepers",
  undescribed: "Without title or alt text",
  unchosen: "Not looked through",
  folder: "Folder",
  album: "Album",
  intake: "Just in",
};

/** Heading is the line above the sheet: where one is, how much there is, in which order and how large. */
export function Heading({ count }: { count: number | undefined }) {
  const { brand, place, change, goTo } = usePlace();
  const { rowHeight, set } = useSettings();
  const tags = useTags(brand).data;
  const outlets = useOutlets(brand, place.outlet !== undefined).data;
  const sort = place.sort ?? (place.place === "album" ? "hand" : place.place === "intake" ? "added" : "taken");
  const descending = place.sort ? !!place.descending : sort === "taken";
  const chips: { label: string; off: Partial<Place> }[] = [];
  if (place.words) chips.push({ label: `“${place.words}”`, off: { words: undefined } });
  if (place.stars) chips.push({ label: `${place.stars} ★ or more`, off: { stars: undefined } });
  if (place.tag) chips.push({ label: tags?.find((t) => t.id === place.tag)?.name ?? "tag", off: { tag: undefined } });
  if (place.source || place.outlet) chips.push({ label: outlets?.find((o) => o.id === place.outlet)?.name ?? sources[place.source ?? "outlet"], off: { source: undefined, outlet: undefined } });
  if (place.setAside) chips.push({ label: "with set aside", off: { setAside: undefined } });
  return (
    <div className="stitch-b px-4 py-2">
      <div className="flex min-h-8 flex-wrap items-center gap-x-3 gap-y-1">
        <Crumbs place={place} goTo={goTo} />
        <span className="ml-auto shrink-0 text-ink-soft" data-count>
          {count === undefined ? "Counting…" : items(count)}
        </span>
        <label className="flex items-center gap-1.5">
          <span className="sr-only">Order</span>
          <select className="rounded-patch border border-line bg-card px-2 py-1" value={sort} onChange={(e) => change({ sort: e.target.value as Place["sort"], descending: e.target.value !== "name" && e.target.value !== "hand" })}>
            {place.place === "album" && <option value="hand">by hand</option>}
            {sorts.map((s) => (
              <option key={s.value} value={s.value}>
                by {s.label}
              </option>
            ))}
          </select>
        </label>
        {sort !== "hand" && (
          <IconButton
            label={descending ? "Falling; turn round" : "Rising; turn round"}
            icon={descending ? <ArrowDownNarrowWide size={18} /> : <ArrowUpNarrowWide size={18} />}
            onClick={() => change({ sort, descending: !descending })}
          />
        )}
        <label className="flex items-center gap-2 max-md:hidden">
          <span className="sr-only">Picture size</span>
          <input type="range" min={90} max={320} step={10} value={rowHeight} onChange={(e) => set({ rowHeight: Number(e.target.value) })} className="w-24 accent-sea" />
        </label>
      </div>
      {chips.length > 0 && (
        <div className="flex flex-wrap gap-1.5 pt-1.5">
          {chips.map((c) => (
            <button key={c.label} type="button" onClick={() => change(c.off)} className="inline-flex items-center gap-1 rounded-full bg-sunk px-2.5 py-0.5 text-dense hover:bg-line">
              {c.label}
              <X size={14} aria-label="remove this filter" />
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

function Crumbs({ place, goTo }: { place: Place; goTo: (to: Place) => void }) {
  const { brand } = usePlace();
  const folders = useFolders(brand).data;
  const albums = useAlbums(brand).data;
  const intakes = useIntakes(brand).data;
  const open = useChosen((s) => s.open);
  const trail: { label: string; to?: Place }[] = [];
  if (place.place !== "everything") trail.push({ label: "Library", to: { place: "everything" } });
  if (place.place === "folder") for (const f of pathOf(folders, place.id)) trail.push({ label: f.name, to: { place: "folder", id: f.id } });
  else if (place.place === "album") trail.push({ label: albums?.find((a) => a.id === place.id)?.name ?? names.album });
  else if (place.place === "intake") {
    const intake = intakes?.find((i) => i.id === place.id);
    trail.push({ label: intake ? `Brought in ${when(intake.started)}` : names.intake });
  } else trail.push({ label: names[place.place] });
  return (
    <nav aria-label="Place" className="flex min-w-0 flex-wrap items-center gap-x-1.5">
      {trail.map((c, i) =>
        i === trail.length - 1 ? (
          <h1 key={i} className="max-w-80 truncate text-lg leading-tight">
            {open !== undefined ? (
              <button type="button" className="max-w-full truncate hover:underline" onClick={() => openBig(undefined)}>
                {c.label}
              </button>
            ) : (
              c.label
            )}
          </h1>
        ) : (
          <span key={i} className="flex items-center gap-1.5 text-ink-soft">
            <Crumb label={c.label} folder={c.to?.place === "folder" && folders?.find((f) => f.id === c.to!.id)?.may.includes("bring_in") ? c.to.id : undefined} onOpen={() => c.to && goTo(c.to)} />
            <span aria-hidden="true">/</span>
          </span>
        ),
      )}
    </nav>
  );
}

/** Crumb is a place above: it opens on a click and takes files from outside. */
function Crumb({ label, folder, onOpen }: { label: string; folder: number | undefined; onOpen: () => void }) {
  const { ref, over } = useDropTarget<HTMLButtonElement>(undefined, folder === undefined ? undefined : { folder });
  return (
    <button ref={ref} type="button" data-crumb={label} className={`max-w-48 truncate rounded px-0.5 hover:text-ink hover:underline ${over ? "drop-here" : ""}`} onClick={onOpen}>
      {label}
    </button>
  );
}

/** pathOf is a folder with everything above it, from the top. */
export function pathOf(folders: Schema["Folder"][] | undefined, id: number | undefined) {
  const path: Schema["Folder"][] = [];
  for (let f = folders?.find((x) => x.id === id); f; f = folders?.find((x) => x.id === f!.parent)) path.unshift(f);
  return path;
}
