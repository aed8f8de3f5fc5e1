import { useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useCallback, useMemo } from "react";
import type { SheetQuery } from "~/api/client";

export type Step = "bring-in" | "file" | "describe" | "choose" | "send-out";
export const steps: Step[] = ["bring-in", "file", "describe", "choose", "send-out"];

/** Place is what the sheet shows, as it stands in the address; item is one to be seen big, as in a link to it. */
export type Place = SheetQuery & { item?: number };

const places: Place["place"][] = ["everything", "unfiled", "folder", "album", "intake", "bin", "undescribed", "unchosen"];
const sorts = ["taken", "added", "changed", "name", "size", "stars", "kind", "hand"] as const;

/** readPlace takes from an address only what can stand there. */
export function readPlace(search: Record<string, unknown>): Place {
  const place: Place = { place: places.find((p) => p === search.place) ?? "everything" };
  if (Number.isInteger(search.id)) place.id = search.id as number;
  if (["folder", "album", "intake"].includes(place.place) && place.id === undefined) place.place = "everything";
  if (search.below === true) place.below = true;
  if (search.filter && typeof search.filter === "object") place.filter = search.filter as Place["filter"];
  const sort = sorts.find((s) => s === search.sort);
  if (sort && (sort !== "hand" || place.place === "album" || (place.place === "folder" && !place.below))) {
    place.sort = sort;
    place.descending = search.descending === true;
  }
  if (Number.isInteger(search.item)) place.item = search.item as number;
  return place;
}

/** usePlace is the present place, with ways to go elsewhere. Going to a place leaves the step as it is, and the other
 * way round: the same pictures stay put while the tool beside them changes. */
export function usePlace() {
  const { brand = "", step } = useParams({ strict: false }) as { brand?: string; step?: string };
  const search = useSearch({ strict: false }) as Record<string, unknown>;
  const text = JSON.stringify(readPlace(search));
  const { item, ...rest } = JSON.parse(text) as Place;
  const shown = JSON.stringify(rest);
  const place = useMemo(() => JSON.parse(shown) as SheetQuery, [shown]);
  const navigate = useNavigate();
  const present = (steps.find((s) => s === step) ?? "file") as Step;
  const goTo = useCallback(
    (to: Place) => void navigate({ to: "/b/$brand/$step", params: { brand, step: present }, search: to as never }),
    [navigate, brand, present],
  );
  const change = useCallback((by: Partial<Place>) => goTo({ ...place, ...by }), [goTo, place]);
  const goToStep = useCallback(
    (to: Step) => void navigate({ to: "/b/$brand/$step", params: { brand, step: to }, search: place as never }),
    [navigate, brand, place],
  );
  return { brand, step: present, place, item, goTo, change, goToStep };
}
