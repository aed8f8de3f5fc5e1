import { useMemo } from "react";
import type { SheetQuery } from "~/api/client";
import { placeKey, prefer, preferences, usePreferences, type View } from "~/api/preferences";
import { useAlbums } from "~/api/queries";
import { fits } from "./filters";
import { useUnfolded } from "./piles";
import { useBrand, useGo, usePlace } from "./place";

type Sort = NonNullable<SheetQuery["sort"]>;

/** firstIn says what comes first in an order. */
export function firstIn(sort: Sort, descending: boolean): string {
  const ends: Partial<Record<Sort, [falling: string, rising: string]>> = {
    taken: ["Newest", "Oldest"],
    added: ["Newest", "Oldest"],
    changed: ["Newest", "Oldest"],
    size: ["Largest", "Smallest"],
    stars: ["Most stars", "Fewest stars"],
  };
  return (ends[sort] ?? ["Z", "A"])[descending ? 0 : 1];
}

/** What a place is ordered by if nobody chose anything. */
const usual = (place: SheetQuery): { sort: Sort; descending: boolean } => {
  if (place.place === "album" && !place.below) return { sort: "hand", descending: false };
  if (place.place === "intake") return { sort: "added", descending: false };
  return { sort: "taken", descending: true };
};

/** risesAtFirst says which orders one wants from the beginning. */
const risesAtFirst = (sort: Sort) => sort === "name" || sort === "hand" || sort === "kind";

const bestFirst = { sort: "fit" as const, descending: false };

/** useOrder is the order and the view of the present place, which are remembered for it. */
export function useOrder() {
  const brand = useBrand();
  const place = usePlace();
  const { change } = useGo();
  const remembered = usePreferences(brand).places?.[placeKey(place)];
  const byRule = useAlbums(brand).data?.some((a) => a.rule && place.place === "album" && a.id === place.id) ?? false;
  const mayHand = !place.below && ((place.place === "album" && !byRule) || place.place === "folder");
  const mayFit = fits(place.filter);
  const first =
    mayFit && !place.filter?.rules?.some((r) => r.field === "words") ? bestFirst : byRule ? usual({ place: "everything" }) : usual(place);
  const sort =
    (place.sort === "fit" && !mayFit ? undefined : place.sort) ??
    ((remembered?.sort === "hand" && !mayHand) || remembered?.sort === "fit" ? undefined : remembered?.sort) ??
    first.sort;
  const descending = place.sort ? !!place.descending : remembered?.sort === sort ? !!remembered.descending : first.descending;
  const view: View = remembered?.view ?? "pictures";
  const unfolded = useUnfolded((s) => s.ids);
  const query = useMemo<SheetQuery>(
    () => ({ ...place, sort, descending, ...(place.piled && unfolded.length > 0 ? { unfolded } : {}) }),
    [place, sort, descending, unfolded],
  );
  const remember = (by: { sort?: Sort; descending?: boolean; view?: View }) => {
    const places = preferences().places ?? {};
    prefer(brand, { places: { ...places, [placeKey(place)]: { ...places[placeKey(place)], ...by } } });
  };
  const order = (to: Sort, falling = !risesAtFirst(to)) => {
    if (to === "fit") return change({ sort: "fit", descending: false }); // of this search only
    remember({ sort: to, descending: falling });
    if (place.sort) change({ sort: undefined, descending: undefined });
  };
  return { query, sort, descending, view, mayHand, mayFit, order, setView: (to: View) => remember({ view: to }) };
}
