import { useState } from "react";
import type { Schema } from "~/api/client";
import { useFacets, useMe } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Colours } from "./Colours";
import {
  facetsOf,
  formatNames,
  needNames,
  periodName,
  rightsNames,
  shownNames,
  sourceNames,
  stateNames,
  toggled,
  whoBrought,
  withFacets,
  type Facet,
  type Filters,
  type How,
} from "./filters";
import { useOrder } from "./order";
import { useBrand, useGo, usePlace } from "./place";

interface Value {
  value: string | number;
  name: string;
  items?: number;
}

const facets: { facet: Facet; label: string }[] = [
  { facet: "tag", label: "Tags" },
  { facet: "kind", label: "Kind" },
  { facet: "format", label: "Kind of file" },
  { facet: "by", label: "Brought in by" },
  { facet: "stars", label: "Stars" },
  { facet: "taken", label: "Year taken" },
  { facet: "stage", label: "Stage" },
  { facet: "camera", label: "Camera" },
  { facet: "place", label: "Place" },
  { facet: "source", label: "Where from" },
  { facet: "rights", label: "Rights" },
  { facet: "consent", label: "Shows" },
  { facet: "lacks", label: "Without" },
  { facet: "state", label: "Prepared, sent out" },
];
const hows: { how: How; label: string }[] = [
  { how: "any", label: "any of" },
  { how: "all", label: "all of" },
  { how: "none", label: "none of" },
];
const fewest = 8;

/** Facets are the values that what is shown has, each with how many there are. */
export function Facets({ onBuild }: { onBuild: () => void }) {
  const brand = useBrand();
  const place = usePlace();
  const { change } = useGo();
  const { query } = useOrder();
  const filters = facetsOf(place.filter);
  const found = useFacets(brand, { ...query, filter: withFacets(place.filter, {}) }, true).data;
  const me = useMe().data;
  const set = (next: Filters) => change({ filter: withFacets(place.filter, next) });
  const values = (facet: Facet): Value[] => {
    if (!found) return [];
    switch (facet) {
      case "tag":
        return found.tags.map((t) => ({ value: t.id, name: t.name ?? "", items: t.items }));
      case "stage":
        return found.stages.map((t) => ({ value: t.id, name: t.name ?? "", items: t.items }));
      case "stars":
        return found.stars
          .map((s) => ({ value: s.id, name: s.id < 0 ? "set aside" : s.id ? `${s.id} ★` : "no stars", items: s.items }))
          .sort((a, b) => b.value - a.value);
      case "kind":
        return found.kinds.map((k) => ({ value: k.name, name: k.name, items: k.items }));
      case "camera":
        return found.cameras.map((k) => ({ value: k.name, name: k.name, items: k.items }));
      case "place":
        return found.places.map((p) => ({ value: p.name, name: p.name, items: p.items }));
      case "format":
        return found.formats.map((k) => ({ value: k.name, name: formatNames[k.name] ?? k.name, items: k.items }));
      case "by":
        return whoBrought(found.by, me?.id);
      case "source":
        return found.sources.map((k) => ({ value: k.name, name: sourceNames[k.name] ?? k.name, items: k.items }));
      case "lacks":
        return found.lacks.map((l) => ({ value: l.name, name: needNames[l.name as Schema["Need"]], items: l.items }));
      case "state":
        return found.states.map((s) => ({ value: s.name, name: stateNames[s.name as keyof typeof stateNames], items: s.items }));
      case "rights":
        return Object.entries(rightsNames).map(([value, name]) => ({ value, name }));
      case "consent":
        return Object.entries(shownNames).map(([value, name]) => ({ value, name }));
      case "taken":
        return found.years
          .map((y) => ({ value: y.name, name: periodName(y.name), items: y.items }))
          .sort((a, b) => String(b.value).localeCompare(String(a.value)));
    }
  };
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-2">
        <Button onClick={onBuild}>{place.filter ? "Mix it further…" : "Build a filter…"}</Button>
        {place.filter && <span className="text-dense text-ink-soft">or keep it as an album that fills itself</span>}
      </div>
      <Colours />
      {!found && <p className="text-ink-soft">Counting…</p>}
      <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2">
        {facets.map(({ facet, label }) => {
          const all = values(facet);
          if (all.length === 0) return null;
          return (
            <FacetPart
              key={facet}
              label={label}
              values={all}
              chosen={filters[facet]?.values ?? []}
              how={filters[facet]?.how ?? "any"}
              onHow={(how) => set({ ...filters, [facet]: { how, values: filters[facet]?.values ?? [] } })}
              onToggle={(v) => set(toggled(filters, facet, v))}
            />
          );
        })}
      </div>
    </>
  );
}

function FacetPart({
  label,
  values,
  chosen,
  how,
  onHow,
  onToggle,
}: {
  label: string;
  values: Value[];
  chosen: (string | number)[];
  how: How;
  onHow: (how: How) => void;
  onToggle: (value: string | number) => void;
}) {
  const [words, setWords] = useState("");
  const [all, setAll] = useState(false);
  const matching = values.filter((v) => v.name.toLowerCase().includes(words.toLowerCase()));
  const shown =
    all || words
      ? matching.slice(0, 200)
      : [...matching.filter((v) => chosen.includes(v.value)), ...matching.filter((v) => !chosen.includes(v.value))].slice(
          0,
          Math.max(fewest, chosen.length),
        );
  return (
    <fieldset className="min-w-0">
      <legend className="mb-1 flex w-full items-center gap-2 font-medium">
        <span className="flex-1">{label}</span>
        {chosen.length > 0 && (
          <select
            aria-label={`How ${label} go together`}
            className="rounded border border-line bg-card px-1 text-small"
            value={how}
            onChange={(e) => onHow(e.target.value as How)}
          >
            {hows.map((h) => (
              <option key={h.how} value={h.how}>
                {h.label}
              </option>
            ))}
          </select>
        )}
      </legend>
      {values.length > fewest && (
        <input
          type="search"
          aria-label={`Find in ${label}`}
          placeholder="Find"
          className="mb-1 w-full rounded-patch border border-line bg-card px-2 py-0.5 text-dense"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {shown.map((v) => (
        <label key={v.value} className="flex min-h-7 items-center gap-2 text-dense">
          <input type="checkbox" className="size-4 accent-sea" checked={chosen.includes(v.value)} onChange={() => onToggle(v.value)} />
          <span className="min-w-0 flex-1 truncate">{v.name}</span>
          <span className="text-ink-soft">{v.items?.toLocaleString("en-GB")}</span>
        </label>
      ))}
      {!words && !all && values.length > fewest && (
        <button type="button" className="text-dense text-sea hover:underline" onClick={() => setAll(true)}>
          all {values.length}
        </button>
      )}
    </fieldset>
  );
}
