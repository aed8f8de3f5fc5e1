import { useEffect } from "react";
import type { Schema } from "./client";
import { queries } from "./queries";
import { lost } from "./outbox";
import { hurry, whenHurried } from "./hurry";
import { Renewing } from "./renewing";
import { rows } from "./rows";

type Topic = Schema["Topic"];

/** What is to be loaded again when something changed; what is on no screen names nothing. */
const shownBy: Record<Topic, string[]> = {
  items: [
    "sheet",
    "facets",
    "days",
    "size",
    "overview",
    "asset",
    "satchel",
    "shared-words",
    "texts",
    "recipes",
    "album-choice",
    "sending-check",
    "embedded",
  ],
  "items-looked": ["asset", "looking", "twins"],
  "items-counted": ["folders", "albums", "limits", "looking", "twins", "embedded"],
  "items-shown": ["albums", "limits", "twins"],
  folders: ["folders", "sheet", "asset", "rights"],
  "folder-tags": ["folders", "sheet", "facets"],
  "large-acts": ["pieces"],
  albums: ["albums", "asset", "galleries", "album-choice"],
  "album-items": ["albums", "sheet", "asset", "galleries", "album-choice", "facets", "embedded"],
  "item-tags": ["asset", "facets", "album-choice", "selection-tags", "tags", "tag", "suggested-tags"],
  colours: ["colours"],
  looks: ["looks"],
  stages: ["stages", "facets", "asset"],
  tags: ["tags", "asset", "selection-tags", "tag", "tag-groups", "tag-spellings", "people-shown"],
  "tag-groups": ["tags", "tag", "tag-groups"],
  "own-stars": ["asset"],
  keepers: ["asset", "sheet", "facets"],
  satchel: ["satchel"],
  galleries: ["galleries", "asset"],
  chapters: ["galleries", "asset", "sending-check"],
  guests: ["gallery-inside"],
  letters: ["gallery-inside"],
  "drive-passwords": ["drive-passwords"],
  "gallery-events": ["gallery-inside"],
  "guest-lists": ["gallery-inside"],
  "guest-marks": ["gallery-inside"],
  remarks: ["gallery-inside"],
  contributions: ["contributions", "sending-check"],
  embeds: ["embeds", "embedded", "asset"],
  "embed-sources": ["embeds", "embedded", "sending-check"],
  sightings: ["embeds", "websites", "embed-seen", "public-addresses", "address-seen"],
  sites: ["sites"],
  logos: ["logos"],
  pages: ["pages"],
  "page-feeds": ["page-feeds"],
  dispatches: ["dispatches", "calendar", "page-feeds", "rehearsals"],
  posts: ["dispatches", "calendar"],
  drafts: ["drafts"],
  screens: ["screens"],
  "screens-seen": ["screens"],
  rehearsals: ["rehearsals"],
  "rehearsal-variants": ["rehearsals"],
  "rehearsal-remarks": ["rehearsals"],
  shelves: ["parking"],
  "shelf-places": ["parking"],
  placements: ["asset", "placed"],
  "public-addresses": ["public-addresses", "asset", "placed"],
  intakes: ["intakes", "trail"], // it can be undone from its first file on
  "intake-files": ["intakes", "contributions"],
  "server-folders": ["server-folders"],
  "watched-folders": ["watched-folders"],
  outlets: ["outlets", "outlet-albums", "outlet-media"],
  twins: ["twins", "intakes"],
  faces: ["asset", "people-shown", "next-face"],
  "people-shown": ["people-shown", "asset", "sheet", "sending-check"],
  sizes: ["sizes", "size-costs"],
  downloads: ["downloads", "size-costs", "taken-along"],
  "download-items": ["downloads"],
  trail: ["trail"],
  members: ["me", "rights"],
  brand: ["brand-settings", "overview", "sheet"],
  grants: ["me", "folders", "albums", "sheet", "rights", "overview"],
  preferences: [],
  everything: [],
};
/** What can change what is in an album that a rule keeps filled. */
const filling = new Set<Topic>(["items", "items-counted", "item-tags", "keepers", "folders", "folder-tags", "people-shown", "album-items"]);

/** toAskAgain is what a change concerns. An empty satchel shows no item that could have changed. */
function toAskAgain(topic: Topic): string[] {
  const keys = new Set(shownBy[topic]);
  if (queries.getQueryData<{ rule?: unknown }[]>(["albums"])?.some((a) => a.rule)) {
    if (filling.has(topic)) keys.add("albums");
    if (topic === "albums") keys.add("sheet"); // it may have another rule
  }
  const carried = queries.getQueryData<unknown[]>(["satchel"]);
  if (topic === "items" && carried?.length === 0) keys.delete("satchel");
  return [...keys];
}

const showsTiles = new Set<Topic>([
  "items",
  "stages",
  "items-looked",
  "keepers",
  "galleries",
  "chapters",
  "embeds",
  "embed-sources",
  "public-addresses",
  "album-items",
  "everything",
]);

const everything = "everything there is";
const tiles = "the rows of the sheet";

const renewing = new Renewing((key) => {
  if (key === tiles) rows.refresh();
  else void queries.invalidateQueries(key === everything ? undefined : { queryKey: [key] });
});
whenHurried(() => renewing.hurry());

/** How soon, in milliseconds, changes must be listened to for none to have been missed by what was loaded meanwhile. */
const promptly = 500;

/** useLiveChanges loads again what is on the screen whenever somebody, on whichever screen, changed it. */
export function useLiveChanges(brand: string | undefined) {
  useEffect(() => {
    if (!brand) return;
    const source = new EventSource(`/api/brands/${brand}/events`);
    let broken = false;
    const began = performance.now();
    let first = true;
    source.addEventListener("ready", () => {
      const late = first && performance.now() - began > promptly; // what is shown was asked for before, and pictures came first
      if (broken || late) void queries.invalidateQueries(); // changes may have been missed
      broken = first = false;
    });
    source.addEventListener("error", () => {
      broken = true;
      lost();
    });
    source.addEventListener("changed", (event) => {
      const told: unknown = JSON.parse(event.data);
      if (!Array.isArray(told)) return;
      const changed = told.filter((t): t is Topic => typeof t === "string" && t in shownBy);
      if (changed.includes("everything")) renewing.renew(everything);
      for (const key of new Set(changed.flatMap(toAskAgain))) renewing.renew(key);
      if (changed.some((t) => showsTiles.has(t))) renewing.renew(tiles);
    });
    const look = () => !document.hidden && hurry();
    document.addEventListener("visibilitychange", look);
    return () => {
      source.close();
      document.removeEventListener("visibilitychange", look);
    };
  }, [brand]);
}
