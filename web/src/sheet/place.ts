import { useParams, useRouter, useSearch } from "@tanstack/react-router";
import { useMemo } from "react";
import type { SheetQuery } from "~/api/client";

export type Step = "bring-in" | "file" | "describe" | "choose" | "prepare" | "gather" | "send-out";
const steps: Step[] = ["bring-in", "file", "describe", "choose", "prepare", "gather", "send-out"];

/** Place is what the sheet shows, as it is in the address; item is one to be seen big, as in a link to it. */
export type Place = SheetQuery & { item?: number };

const places: Place["place"][] = ["everything", "unfiled", "folder", "album", "intake", "bin", "undescribed", "unchosen"];
const sorts = ["taken", "added", "changed", "name", "size", "stars", "kind", "hand", "fit"] as const;

/** readPlace takes from an address only what can stand there. */
export function readPlace(search: Record<string, unknown>): Place {
  const place: Place = { place: places.find((p) => p === search.place) ?? "everything" };
  if (Number.isInteger(search.id)) place.id = search.id as number;
  if (["folder", "album", "intake"].includes(place.place) && place.id === undefined) place.place = "everything";
  if (search.below === true) place.below = true;
  if (search.piled === true) place.piled = true;
  if (search.filter && typeof search.filter === "object") place.filter = search.filter as Place["filter"];
  const sort = sorts.find((s) => s === search.sort);
  if (sort && (sort !== "hand" || (!place.below && (place.place === "album" || place.place === "folder")))) {
    place.sort = sort;
    place.descending = search.descending === true;
  }
  if (Number.isInteger(search.item)) place.item = search.item as number;
  return place;
}

interface At {
  place: SheetQuery;
  item?: number;
}

const readAlready = new WeakMap<object, At>();
let last: SheetQuery | undefined;

/** placeAt reads an address once, however many ask what stands there. A place that is the same as before is the same object. */
function placeAt(search: Record<string, unknown>): At {
  let at = readAlready.get(search);
  if (!at) {
    const { item, ...place } = readPlace(search);
    last = last && JSON.stringify(last) === JSON.stringify(place) ? last : place;
    at = { place: last, item };
    readAlready.set(search, at);
  }
  return at;
}

const whole = (place: SheetQuery): unknown => place;

/** usePlace is the present place, or what is selected of it: then one renders anew only when that changes. */
export function usePlace(): SheetQuery;
export function usePlace<T>(select: (place: SheetQuery) => T): T;
export function usePlace(select = whole): unknown {
  return useSearch({ strict: false, select: (search) => select(placeAt(search).place) });
}

/** useItem is the item that the address asks to see big. */
export function useItem(): number | undefined {
  return useSearch({ strict: false, select: (search) => placeAt(search).item });
}

export function useBrand(): string {
  return useParams({ strict: false, select: (p: { brand?: string }) => p.brand ?? "" });
}

export function useStep(): Step {
  return useParams({ strict: false, select: (p: { step?: string }) => stepOf(p.step) });
}

const stepOf = (text: string | undefined): Step => steps.find((s) => s === text) ?? "file";

/** useGo are the ways elsewhere from the place that is present when one goes. Going to a place leaves the step as it is, and
 * the other way round: the same pictures stay put while the tool beside them changes. */
export function useGo() {
  const router = useRouter();
  return useMemo(() => {
    const now = () => {
      const { search, pathname } = router.state.location;
      const [, , brand = "", step] = pathname.split("/");
      const { place, item } = placeAt(search);
      return { place: { ...place, item }, brand: decodeURIComponent(brand), step: stepOf(step) };
    };
    const go = (brand: string, step: Step, place: Place) =>
      void router.navigate({ to: "/b/$brand/$step", params: { brand, step }, search: place as never });
    const goTo = (to: Place) => go(now().brand, now().step, to);
    const change = (by: Partial<Place>) => goTo({ ...now().place, ...by });
    const goToStep = (to: Step) => go(now().brand, to, now().place);
    return { goTo, change, goToStep };
  }, [router]);
}
