import { useState } from "react";
import type { Schema } from "~/api/client";
import { useDays, useEmbeds, useFacets, useLogos, useMe, usePlaced, useRuleCounts, useWebsites } from "~/api/queries";
import { facetsOf, periodName, sourceNames, whoBrought, withFacets } from "~/sheet/filters";
import { ruleOf, useCovers, useOutside } from "~/sheet/outside";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { CabinetRow } from "./CabinetRow";

/** ByDate opens years into months and those into the days on which something was taken, each with its count. */
export function ByDate() {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const days = useDays(brand, true).data;
  const [open, setOpen] = useState<Record<string, boolean>>({});
  if (!days) return <p className="pl-8 text-dense text-ink-soft">Counting…</p>;
  const present = place.place === "everything" ? facetsOf(place.filter).taken?.values : undefined;
  const row = (period: string, name: string, count: number, indent: number, folds: boolean) => (
    <CabinetRow
      key={period || "undated"}
      name={name}
      count={count}
      indent={indent}
      here={present?.length === 1 && present[0] === period}
      onOpen={() => goTo({ place: "everything", filter: withFacets(undefined, { taken: { how: "any", values: [period] } }) })}
      fold={folds ? { open: !!open[period], toggle: () => setOpen({ ...open, [period]: !open[period] }) } : undefined}
    />
  );
  const rows = [];
  for (const [year, inYear] of grouped(
    days.filter((d) => d.date),
    4,
  )) {
    rows.push(row(year, year, sum(inYear), 1, true));
    if (!open[year]) continue;
    for (const [month, inMonth] of grouped(inYear, 7)) {
      rows.push(row(month, periodName(month).split(" ")[0]!, sum(inMonth), 2, true));
      if (open[month]) for (const d of inMonth) rows.push(row(d.date, periodName(d.date), d.items, 3, false));
    }
  }
  const undated = days.find((d) => !d.date);
  if (undated) rows.push(row("", "Undated", undated.items, 1, false));
  return <>{rows}</>;
}

type Counted = { date: string; items: number };
const sum = (days: Counted[]) => days.reduce((n, d) => n + d.items, 0);

/** grouped puts days together that begin alike, keeping their order. */
function grouped(days: Counted[], letters: number) {
  const out = new Map<string, Counted[]>();
  for (const d of days) {
    const key = d.date.slice(0, letters);
    const list = out.get(key);
    if (list) list.push(d);
    else out.set(key, [d]);
  }
  return out;
}

/** BySource opens what came from where. */
export function BySource() {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const found = useFacets(brand, { place: "everything" }, true).data;
  const me = useMe().data;
  const origins = usePlaced(brand).data?.origins ?? [];
  const fromAlbums = new Map<number, typeof origins>();
  for (const o of origins) fromAlbums.set(o.outlet, [...(fromAlbums.get(o.outlet) ?? []), o]);
  const isHere = (rule: Schema["Rule"]) => place.place === "everything" && JSON.stringify(place.filter) === JSON.stringify(rule);
  const row = (key: string, name: string, count: number, indent: number, rule: Schema["Rule"]) => (
    <CabinetRow
      key={key}
      name={name}
      count={count}
      indent={indent}
      here={isHere(rule)}
      onOpen={() => goTo({ place: "everything", filter: rule })}
    />
  );
  if (!found) return <p className="pl-8 text-dense text-ink-soft">Counting…</p>;
  return (
    <>
      {found.sources.map((s) => (
        <CabinetRow
          key={s.name}
          name={`From ${sourceNames[s.name] ?? s.name}`}
          count={s.items}
          indent={1}
          here={place.place === "everything" && facetsOf(place.filter).source?.values[0] === s.name}
          onOpen={() => goTo({ place: "everything", filter: withFacets(undefined, { source: { how: "any", values: [s.name] } }) })}
        />
      ))}
      {whoBrought(found.by, me?.id).map((p) => (
        <CabinetRow
          key={p.value}
          name={p.value === me?.id ? "Mine" : `By ${p.name}`}
          count={p.items}
          indent={1}
          here={place.place === "everything" && facetsOf(place.filter).by?.values[0] === p.value}
          onOpen={() => goTo({ place: "everything", filter: withFacets(undefined, { by: { how: "any", values: [p.value] } }) })}
        />
      ))}
      {[...fromAlbums].flatMap(([outlet, albums]) => [
        row(
          `outlet-${outlet}`,
          albums[0]!.name,
          albums.reduce((n, a) => n + a.items, 0),
          2,
          { field: "outlet", ids: [outlet] },
        ),
        ...albums.map((a) => row(`outlet-${outlet}-${a.album}`, a.album, a.items, 3, { field: "item", ids: a.ids })),
      ])}
    </>
  );
}

/**
 * ByUse opens what is shown outside now, by where, the newest or the oldest first, on which websites it was seen, and what stands for
 * albums and galleries or is a logo.
 */
export function ByUse() {
  const brand = useBrand();
  const place = usePlace();
  const { goTo } = useGo();
  const covers = useCovers(brand);
  const [oldest, setOldest] = useState(false);
  const logos = (useLogos(brand).data ?? []).map((l) => l.id);
  const pages = usePlaced(brand).data?.pages ?? [];
  const sites = useWebsites(brand, true).data ?? [];
  const embeds = useEmbeds(brand).data ?? [];
  const onSite = (w: Schema["Website"]): Schema["Rule"] => ({
    match: "any",
    rules: [
      ...embeds.filter((e) => w.embeds.includes(e.id)).flatMap((e) => ruleOf(e.sources).rules ?? []),
      ...(w.items.length ? [{ field: "item" as const, ids: w.items }] : []),
    ],
  });
  const inOrder = <T,>(all: T[]) => (oldest ? all.toReversed() : all);
  const open = useOutside(brand).filter((o) => o.open && o.places.some((p) => p.album || p.folder));
  const uses = [
    ...inOrder(open).map((o) => ({
      key: o.key,
      name: o.what === "gallery" ? o.name : `${o.name}, on websites`,
      rule: ruleOf(o.places),
    })),
    ...inOrder(sites)
      .filter((w) => onSite(w).rules!.length > 0)
      .map((w) => ({ key: `site-${w.host}`, name: `On ${w.host}`, rule: onSite(w) })),
    ...pages.map((p) => ({ key: `page-${p.page}`, name: `On ${p.name}`, rule: { field: "item" as const, ids: p.ids ?? [] } })),
    ...(covers.length ? [{ key: "covers", name: "Covers of albums and galleries", rule: { field: "item" as const, ids: covers } }] : []),
    ...(logos.length ? [{ key: "logos", name: "Logos", rule: { field: "item" as const, ids: logos } }] : []),
  ];
  const counts = useRuleCounts(
    brand,
    { place: "everything" },
    uses.map((u) => u.rule),
  ).data;
  if (uses.length === 0) return <p className="pl-8 text-dense text-ink-soft">Nothing is shown outside.</p>;
  return (
    <>
      {uses.length > 1 && (
        <button type="button" className="pl-8 text-small text-sea underline" onClick={() => setOldest(!oldest)}>
          {oldest ? "The newest first" : "The oldest first"}
        </button>
      )}
      {uses.map((u, i) => (
        <CabinetRow
          key={u.key}
          name={u.name}
          count={counts?.items[i]}
          indent={1}
          here={place.place === "everything" && JSON.stringify(place.filter) === JSON.stringify(u.rule)}
          onOpen={() => goTo({ place: "everything", filter: u.rule })}
        />
      ))}
    </>
  );
}
