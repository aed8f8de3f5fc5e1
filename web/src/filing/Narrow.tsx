import { X } from "lucide-react";
import { useState } from "react";
import { useFacets, useTags } from "~/api/queries";
import { IconButton } from "~/kit/IconButton";
import { foundBy } from "~/kit/completion";
import { facetsOf, withFacets, without, withRule, type Rule } from "~/sheet/filters";
import { peopleGroup } from "~/sheet/NameEntry";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { CabinetRow } from "./CabinetRow";

export type Way = "tag" | "person" | "place";

const fewest = 12;
const most = 200;
const none: Record<Way, string> = {
  tag: "Nothing else here has a tag.",
  person: "Nobody else is tagged here.",
  place: "Nothing here says where it was taken.",
};

interface Value {
  value: string | number;
  name: string;
  items: number;
  rule: Rule;
}

/** Narrow goes from what there is to fewer and fewer: one chooses a tag, person or place, and sees which others occur among its items. */
export function Narrow({ way }: { way: Way }) {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const [words, setWords] = useState("");
  const [all, setAll] = useState(false);
  const filter = place.place === "everything" ? place.filter : undefined;
  const found = useFacets(brand, { place: "everything", filter }, true).data;
  const tags = useTags(brand).data;
  if (!found || !tags) return <p className="pl-8 text-dense text-ink-soft">Counting…</p>;
  const facet = way === "place" ? "place" : "tag";
  const filters = facetsOf(filter);
  const chosen = filters[facet]?.how === "none" ? [] : (filters[facet]?.values ?? []);
  const group = new Map(tags.map((t) => [t.id, t.group]));
  const values: Value[] =
    way === "place"
      ? found.places.map((p) => ({ value: p.name, name: p.name, items: p.items, rule: { field: "place", names: [p.name] } }))
      : found.tags
          .filter((t) => (group.get(t.id) === peopleGroup) === (way === "person"))
          .map((t) => ({ value: t.id, name: t.name ?? "", items: t.items, rule: { field: "tag", ids: [t.id] } }));
  const [on, off] = [values.filter((v) => chosen.includes(v.value)), values.filter((v) => !chosen.includes(v.value))];
  const matching = foundBy(words, off, (v) => v.name);
  const shown = matching.slice(0, all || words ? most : fewest);
  const leave = (v: Value) => goTo({ place: "everything", filter: withFacets(filter, without(filters, facet, v.value)) });
  return (
    <>
      {on.map((v) => (
        <CabinetRow
          key={v.value}
          name={v.name}
          count={v.items}
          indent={1}
          here
          onOpen={() => leave(v)}
          menu={<IconButton label={`No longer only ${v.name}`} className="size-7" icon={<X size={14} />} onClick={() => leave(v)} />}
        />
      ))}
      {off.length > fewest && (
        <input
          type="search"
          aria-label={`Find by ${way}`}
          placeholder="Find"
          className="my-1 ml-8 w-[calc(100%-2rem)] rounded-patch border border-line bg-card px-2 py-0.5 text-dense"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {shown.map((v) => (
        <CabinetRow
          key={v.value}
          name={v.name}
          count={v.items}
          indent={1}
          onOpen={() => goTo({ place: "everything", filter: withRule(filter, v.rule) })}
        />
      ))}
      {off.length === 0 && <p className="pl-8 text-dense text-ink-soft">{none[way]}</p>}
      {off.length > 0 && matching.length === 0 && <p className="pl-8 text-dense text-ink-soft">None is called that.</p>}
      {!all && !words && off.length > fewest && (
        <button type="button" className="ml-8 min-h-7 text-dense text-sea hover:underline" onClick={() => setAll(true)}>
          all {off.length.toLocaleString("en-GB")}
        </button>
      )}
      {matching.length > shown.length && (all || !!words) && (
        <p className="pl-8 text-dense text-ink-soft">
          and {(matching.length - shown.length).toLocaleString("en-GB")} more; type to find them
        </p>
      )}
    </>
  );
}
