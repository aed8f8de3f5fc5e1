import { useQuery } from "@tanstack/react-query";
import { ask, client, messageOf, type SheetQuery } from "./client";
import { warn } from "~/kit/notes";
import { queries, type ThingKind } from "./queries";

export type View = "pictures" | "list" | "names";

/** What somebody set for themselves in a brand; it is theirs on every screen. */
export interface Preferences {
  /** Where one begins, or the last place if none is chosen. */
  start?: SheetQuery;
  last?: SheetQuery;
  recent?: SheetQuery[];
  /** Folders that are unfolded in the cabinet. */
  unfolded?: number[];
  /** Folders that something was moved to, the last one first. */
  targets?: number[];
  /** Albums that something was put into, the last one first. */
  albums?: number[];
  /** The album that one key adds to. */
  quickAlbum?: number;
  /** Albums in which those that are in them are shown in the list. */
  unfoldedAlbums?: number[];
  /** Searches that one kept, by name. */
  searches?: { name: string; query: SheetQuery }[];
  /** How each place is ordered and looked at. */
  places?: Record<string, { sort?: SheetQuery["sort"]; descending?: boolean; view?: View }>;
  /** The columns of the list, with their widths in pixels. */
  columns?: Record<string, number>;
  /** Where one looked last at the things of each kind that are kept in folders. */
  thingsAt?: Partial<Record<ThingKind, "open" | "parked" | number>>;
  shown?: string[];
}

export const usePreferences = (brand: string): Preferences => usePreferencesOnce(brand) ?? none;
const none: Preferences = {};

/** usePreferencesOnce is usePreferences, and undefined until they are known. */
export const usePreferencesOnce = (brand: string): Preferences | undefined =>
  useQuery({
    queryKey: ["preferences"],
    staleTime: Infinity,
    queryFn: () => ask(client.GET("/api/brands/{brand}/preferences", { params: { path: { brand } } })) as Promise<Preferences>,
  }).data;

let waiting: Preferences = {};
let timer: ReturnType<typeof setTimeout> | undefined;

/** prefer sets something at once, and tells the server a moment later. */
export function prefer(brand: string, change: Preferences) {
  queries.setQueryData<Preferences>(["preferences"], (old) => ({ ...old, ...change }));
  waiting = { ...waiting, ...change };
  clearTimeout(timer);
  send = () => {
    clearTimeout(timer);
    if (Object.keys(waiting).length === 0) return;
    // null takes it away
    const body = Object.fromEntries(Object.entries(waiting).map(([key, value]) => [key, value ?? null])) as Record<string, never>;
    waiting = {};
    ask(client.PATCH("/api/brands/{brand}/preferences", { params: { path: { brand } }, body, keepalive: true })).catch((error: unknown) =>
      warn(messageOf(error)),
    );
  };
  timer = setTimeout(send, 400);
}

let send: (() => void) | undefined;
window.addEventListener("pagehide", () => send?.());

/** preferences is what is set now, outside of what is drawn. */
export const preferences = () => queries.getQueryData<Preferences>(["preferences"]) ?? none;

/** placeKey names a place whatever its filters and order. */
export const placeKey = (place: SheetQuery) => `${place.place}${place.id ?? ""}`;
