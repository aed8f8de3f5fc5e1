import type { Schema } from "~/api/client";

type Parking = Schema["Parking"];

/** Where the things of a kind are looked at: those that lie open, those that are parked, or those in a folder by its id. */
export type ThingsAt = "open" | "parked" | number;

export const emptyParking: Parking = { folders: [], things: [] };

/** placeOfThing says in which folder of its kind a thing is, if in any, and whether it is parked, by itself or with its folder. */
export function placeOfThing(p: Parking, id: number) {
  const place = p.things.find((t) => t.id === id);
  const folder = p.folders.find((f) => f.id === place?.folder);
  return { folder, parked: !!place?.parked || !!folder?.parked, own: !!place?.parked };
}

/** thingsAt are the things at a place; of those that match words all, wherever they are. */
export function thingsAt<T extends { id: number }>(all: T[], p: Parking, at: ThingsAt, words: string, nameOf: (thing: T) => string): T[] {
  const wanted = words.trim().toLocaleLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length > 0)
    return all.filter((t) => {
      const name = nameOf(t).toLocaleLowerCase();
      return wanted.every((w) => name.includes(w));
    });
  return all.filter((t) => {
    const place = placeOfThing(p, t.id);
    if (at === "parked") return place.parked;
    if (at === "open") return !place.parked && !place.folder;
    return place.folder?.id === at && (!place.own || place.folder.parked);
  });
}
