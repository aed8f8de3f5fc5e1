import { useAsset, usePlacedOf, useRuleCounts } from "~/api/queries";
import type { Selection } from "~/api/client";
import { items } from "~/kit/words";
import { ruleOf, useOutside } from "./outside";
import { ShownOutside } from "./ShownOutside";

/** StopsShowing says, before items are removed, where people outside see them now. */
export function StopsShowing({ brand, selection }: { brand: string; selection: Selection }) {
  const ids = selection.ids ?? [];
  const placed = usePlacedOf(brand, selection, ids.length > 1).data;
  const one = useAsset(brand, ids.length === 1 ? ids[0] : undefined).data;
  const open = useOutside(brand).filter((o) => o.open && o.places.some((p) => p.album || p.folder));
  const counts = useRuleCounts(
    brand,
    { place: "everything" },
    ids.length > 1 ? open.map((o) => ({ match: "all" as const, rules: [{ field: "item" as const, ids }, ruleOf(o.places)] })) : [],
  ).data;
  if (one && one.shown.length > 0) {
    const posted = one.shown.filter((s) => s.kind === "page");
    const ends = one.shown.filter((s) => s.kind !== "page");
    return (
      <div className="mb-3 text-dense" data-stops-showing={one.shown.length}>
        {ends.length > 0 && <p>People outside see it now, and no longer after this:</p>}
        <ShownOutside shown={ends} />
        {posted.length > 0 && <p>It stays on these pages until it is taken back there:</p>}
        <ShownOutside shown={posted} />
      </div>
    );
  }
  const seen = open.map((o, i) => ({ o, n: counts?.items[i] ?? 0 })).filter(({ n }) => n > 0);
  const places = seen.length + (placed?.pages.length ?? 0) + (placed?.addresses ? 1 : 0);
  if (ids.length < 2 || places === 0) return null;
  return (
    <div className="mb-3 text-dense" data-stops-showing={places}>
      {seen.length + (placed?.addresses ?? 0) > 0 && <p>People outside see some of them now, and no longer after this:</p>}
      <ul>
        {seen.map(({ o, n }) => (
          <li key={o.key} className="text-plum">
            {items(n)} in the {o.what} “{o.name}”
          </li>
        ))}
        {!!placed?.addresses && <li className="text-plum">{items(placed.addresses)} at a public address</li>}
      </ul>
      {!!placed?.pages.length && <p>What is on pages stays there until it is taken back:</p>}
      <ul>
        {placed?.pages.map((p) => (
          <li key={p.page} className="text-plum">
            {items(p.items)} on the page “{p.name}”
          </li>
        ))}
      </ul>
    </div>
  );
}
