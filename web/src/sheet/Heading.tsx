import { later } from "~/kit/later";
import { ArrowDownNarrowWide, ArrowUpNarrowWide, LayoutGrid, Play, Rows3, Text, X } from "lucide-react";
import type { ReactNode } from "react";
import type { View } from "~/api/preferences";
import {
  type Folder,
  useAlbums,
  useFacets,
  useFolders,
  useIntakes,
  useMe,
  useOutlets,
  useRuleCounts,
  useStages,
  useTags,
} from "~/api/queries";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { type Titles, useSettings } from "~/kit/settings";
import { items, when } from "~/kit/words";
import { useDropTarget } from "./drag";
import {
  conditionOf,
  facetsOf,
  formatNames,
  needNames,
  periodName,
  rightsNames,
  shownNames,
  singles,
  sourceNames,
  starsSaid,
  stateNames,
  unread,
  withCondition,
  withFacets,
  withoutRules,
  without,
  wordsOf,
  wordsSaid,
  type Facet,
  type Field,
} from "./filters";
import { firstIn, useOrder } from "./order";
import { useMeant } from "./reasons";
import { type Place, useBrand, useGo, usePlace } from "./place";
import { openBig, useChosen } from "./selection";
import { startSlides } from "./slides";
import { titleLines } from "./Tile";

const FilterPanel = later(async () => (await import("./FilterPanel")).FilterPanel);

const sorts: { value: NonNullable<Place["sort"]>; label: string }[] = [
  { value: "taken", label: "date taken" },
  { value: "added", label: "date added" },
  { value: "changed", label: "date changed" },
  { value: "name", label: "name" },
  { value: "stars", label: "stars" },
  { value: "size", label: "file size" },
  { value: "kind", label: "kind" },
];
const names: Record<Place["place"], string> = {
  everything: "Library",
  unfiled: "Unfiled",
  bin: "Bin",
  undescribed: "To be described",
  unchosen: "Not looked through",
  folder: "Folder",
  album: "Album",
  intake: "Just in",
};

/** Heading is the line above the sheet: where one is, how much there is, what is filtered, in which order and how large. */
export function Heading({ count, aside }: { count: number | undefined; aside: number | undefined }) {
  const place = usePlace();
  const { change, goTo } = useGo();
  const { rowHeight, titles, set } = useSettings();
  const { sort, descending, view, mayHand, mayFit, order, setView } = useOrder();
  return (
    <div className="stitch-b px-4 py-2">
      <div className="flex min-h-8 flex-wrap items-center gap-x-3 gap-y-1 lg:flex-nowrap">
        <Crumbs place={place} goTo={goTo} />
        <span className="ml-auto shrink-0 text-ink-soft" data-count>
          {count === undefined ? "Counting…" : items(count)}
          {!!aside && (
            <>
              ,{" "}
              <button
                type="button"
                className="text-sea hover:underline"
                title="They are not shown. Show them too"
                onClick={() => change({ filter: withCondition(place.filter, "aside", { missing: true }) })}
              >
                {aside.toLocaleString("en-GB")} aside
              </button>
            </>
          )}
        </span>
        {place.place === "folder" && (
          <label className="flex min-h-8 items-center gap-1.5 text-dense" title="Show everything in the folders below too">
            <input
              type="checkbox"
              className="size-4 accent-sea"
              checked={!!place.below}
              onChange={(e) => change({ below: e.target.checked || undefined })}
            />
            with subfolders
          </label>
        )}
        <FilterPanel />
        <label className="flex items-center gap-1.5">
          <span className="sr-only">Order</span>
          <select
            className="rounded-patch border border-line bg-card px-2 py-1"
            value={sort}
            onChange={(e) => order(e.target.value as typeof sort)}
          >
            {mayHand && <option value="hand">by hand</option>}
            {mayFit && <option value="fit">by fit</option>}
            {sorts.map((s) => (
              <option key={s.value} value={s.value}>
                by {s.label}
              </option>
            ))}
          </select>
        </label>
        {sort !== "hand" && sort !== "fit" && (
          <IconButton
            label={`${firstIn(sort, descending)} first; reverse`}
            icon={descending ? <ArrowDownNarrowWide size={18} /> : <ArrowUpNarrowWide size={18} />}
            onClick={() => order(sort, !descending)}
          />
        )}
        <Menu
          trigger={<IconButton label={`Show as ${viewNames[view]}`} icon={viewIcons[view]} />}
          items={[
            ...(Object.keys(viewNames) as (typeof view)[]).map((v) => ({
              label: viewNames[v][0]!.toUpperCase() + viewNames[v].slice(1),
              icon: viewIcons[v],
              checked: v === view,
              onSelect: () => setView(v),
            })),
            ...(view === "pictures"
              ? [
                  null,
                  ...(Object.keys(titleLines) as Titles[]).map((t) => ({
                    label: `Below them: ${t}`,
                    checked: t === titles,
                    onSelect: () => set({ titles: t }),
                  })),
                ]
              : []),
            null,
            { label: "Slideshow", icon: <Play size={16} />, onSelect: startSlides },
          ]}
        />
        {view === "pictures" && (
          <label className="flex items-center gap-2 max-lg:hidden">
            <span className="sr-only">Picture size</span>
            <input
              type="range"
              min={90}
              max={320}
              step={10}
              value={rowHeight}
              onChange={(e) => set({ rowHeight: Number(e.target.value) })}
              className="w-20 accent-sea"
            />
          </label>
        )}
      </div>
      <Chips />
      <Meant />
    </div>
  );
}

const viewNames: Record<View, string> = { pictures: "pictures", list: "a list", names: "names only" };
const viewIcons: Record<View, ReactNode> = { pictures: <LayoutGrid size={18} />, list: <Rows3 size={18} />, names: <Text size={18} /> };
const hows = { any: "", all: "also ", none: "not " };

/** Chips are the filters of the place; each can be taken away by itself. */
function Chips() {
  const brand = useBrand();
  const place = usePlace();
  const { change } = useGo();
  const tags = useTags(brand).data;
  const stages = useStages(brand).data;
  const outlet = conditionOf(place.filter, "outlet");
  const outlets = useOutlets(brand, outlet !== undefined).data;
  const filters = facetsOf(place.filter);
  const me = useMe().data;
  const who = useFacets(brand, { place: "everything" }, !!filters.by?.values.some((id) => id !== me?.id)).data?.by;
  const chips: { label: string; off: Partial<Place> }[] = [];
  const single = (field: Field, label: string | undefined) =>
    label && chips.push({ label, off: { filter: withCondition(place.filter, field) } });
  const words = wordsOf(place.filter);
  single("words", words && wordsSaid(words));
  const stars = conditionOf(place.filter, "stars");
  single("stars", stars && starsSaid(stars));
  single(
    "tag",
    conditionOf(place.filter, "tag") && (tags?.find((t) => t.id === conditionOf(place.filter, "tag")?.ids?.[0])?.name ?? "tag"),
  );
  single("outlet", outlet && (outlets?.find((o) => o.id === outlet.ids?.[0])?.name ?? "an outlet"));
  single("keeper", conditionOf(place.filter, "keeper") && "my keepers");
  single("aside", conditionOf(place.filter, "aside") && (conditionOf(place.filter, "aside")!.missing ? "with set aside" : "set aside"));
  const say = (facet: Facet, value: string | number) => {
    if (facet === "tag") return value === 0 ? "without tags" : (tags?.find((t) => t.id === value)?.name ?? "tag");
    if (facet === "stars") return Number(value) > 0 ? `${value} ★` : Number(value) < 0 ? "set aside" : "no stars";
    if (facet === "taken") return value === "" ? "undated" : `taken ${periodName(String(value))}`;
    if (facet === "stage") return value === 0 ? "no stage" : (stages?.find((s) => s.id === value)?.name ?? "stage");
    if (facet === "place") return `at ${value}`;
    if (facet === "lacks") return `without ${needNames[value as keyof typeof needNames]}`;
    if (facet === "state") return stateNames[value as keyof typeof stateNames];
    if (facet === "consent") return `shows ${shownNames[value as keyof typeof shownNames]}`;
    if (facet === "rights") return `rights: ${rightsNames[value]}`;
    if (facet === "source") return `from ${sourceNames[value]}`;
    if (facet === "format") return formatNames[value]!;
    if (facet === "by")
      return value === me?.id ? "brought in by me" : `brought in by ${who?.find((p) => p.id === value)?.name ?? "somebody"}`;
    return String(value);
  };
  for (const [facet, chosen] of Object.entries(filters) as [Facet, NonNullable<(typeof filters)[Facet]>][])
    for (const value of chosen.values)
      chips.push({
        label: `${hows[chosen.how]}${say(facet, value)}`,
        off: { filter: withFacets(place.filter, without(filters, facet, value)) },
      });
  const rest = unread(place.filter, singles);
  const said = useRuleCounts(brand, { place: "everything" }, rest).data?.said;
  rest.forEach((rule, i) => chips.push({ label: said?.[i] ?? "filtered", off: { filter: withoutRules(place.filter, [rule]) } }));
  if (chips.length === 0) return null;
  return (
    <div className="flex flex-wrap gap-1.5 pt-1.5" data-chips>
      {chips.map((c) => (
        <button
          key={c.label}
          type="button"
          onClick={() => change(c.off)}
          className="inline-flex min-h-6 items-center gap-1 rounded-full bg-sunk px-2.5 py-0.5 text-dense hover:bg-line"
        >
          {c.label}
          <X size={14} aria-label="remove this filter" />
        </button>
      ))}
      {chips.length > 1 && (
        <button type="button" className="min-h-6 px-1 text-dense text-sea hover:underline" onClick={() => change({ filter: undefined })}>
          Clear filters
        </button>
      )}
    </div>
  );
}

/** Meant says that a search was taken for another one, and goes back to what was typed. */
function Meant() {
  const { typed, meant, asTyped } = useMeant();
  const filter = usePlace().filter;
  const { change } = useGo();
  if (!meant || wordsOf(filter) !== meant) return null;
  const asItIs = () => {
    useMeant.setState({ typed: "", meant: "", asTyped: new Set([...asTyped, typed]) });
    change({ filter: withCondition(filter, "words", { names: [typed] }) });
  };
  return (
    <p className="pt-1.5 text-dense" role="status" data-meant>
      Nothing says “{typed}”. Showing “{meant}” instead.{" "}
      <button type="button" className="text-sea underline" onClick={asItIs}>
        Search for “{typed}” as it is
      </button>
    </p>
  );
}

function Crumbs({ place, goTo }: { place: Place; goTo: (to: Place) => void }) {
  const brand = useBrand();
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
    <nav aria-label="Place" className="flex min-w-0 items-center gap-x-1.5 max-lg:flex-wrap lg:flex-1">
      {trail.map((c, i) =>
        i === trail.length - 1 ? (
          <h1 key={i} className="min-w-20 max-w-80 truncate text-lg leading-tight">
            {open !== undefined ? (
              <button type="button" className="max-w-full truncate hover:underline" onClick={() => openBig(undefined)}>
                {c.label}
              </button>
            ) : (
              c.label
            )}
          </h1>
        ) : (
          <span key={i} className="flex min-w-8 items-center gap-1.5 text-ink-soft">
            <Crumb
              label={c.label}
              folder={c.to?.place === "folder" && folders?.find((f) => f.id === c.to!.id)?.may.includes("bring_in") ? c.to.id : undefined}
              onOpen={() => c.to && goTo(c.to)}
            />
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
    <button
      ref={ref}
      type="button"
      data-crumb={label}
      className={`max-w-48 min-w-0 truncate rounded px-0.5 hover:text-ink hover:underline ${over ? "drop-here" : ""}`}
      onClick={onOpen}
    >
      {label}
    </button>
  );
}

/** pathOf is a folder with everything above it, from the top. */
function pathOf(folders: Folder[] | undefined, id: number | undefined) {
  const path: Folder[] = [];
  if (!folders) return path;
  let byId = known.get(folders);
  if (!byId) known.set(folders, (byId = new Map(folders.map((f) => [f.id, f]))));
  for (let f = byId.get(id ?? -1); f && path.length <= folders.length; f = byId.get(f.parent ?? -1)) path.unshift(f);
  return path;
}

/** Folders by their ids, for each list that was loaded: with 5,000 of them looking through the list takes too long. */
const known = new WeakMap<Folder[], Map<number, Folder>>();

/** pathName is the names of a folder and of those above it, from the top level. */
export const pathName = (folders: Folder[] | undefined, id: number | undefined) =>
  pathOf(folders, id)
    .map((f) => f.name)
    .join(" / ");
