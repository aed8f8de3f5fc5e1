import { useEffect } from "react";
import { queries } from "./queries";
import { lost } from "./outbox";
import { hurry, whenHurried } from "./hurry";
import { Renewing } from "./renewing";
import { rows } from "./rows";

/** What shows rows of a table and is to be loaded again when one changes. */
const shownBy: Record<string, string[]> = {
  asset: [
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
  asset_looked: ["asset", "looking", "twins"],
  asset_place: ["folders", "albums", "limits", "looking", "twins", "embedded"],
  asset_face: ["albums", "limits", "twins"],
  folder: ["folders", "sheet", "asset", "rights"],
  folder_tag: ["folders", "sheet", "facets"],
  bulk: ["pieces"],
  album: ["albums", "asset", "galleries", "album-choice"],
  album_item: ["albums", "sheet", "asset", "galleries", "album-choice", "facets", "embedded"],
  asset_tag: ["asset", "facets", "album-choice", "selection-tags", "tags", "tag", "suggested-tags"],
  brand_colour: ["colours"],
  look: ["looks"],
  stage: ["stages", "facets", "asset"],
  tag: ["tags", "asset", "selection-tags", "tag", "tag-groups", "tag-spellings", "people-shown"],
  tag_group: ["tags", "tag", "tag-groups"],
  beside_stars: ["asset"],
  keeper: ["asset", "sheet", "facets"],
  satchel_item: ["satchel"],
  gallery: ["galleries", "asset"],
  gallery_chapter: ["galleries", "asset", "sending-check"],
  guest: ["gallery-inside"],
  letter: ["gallery-inside"],
  drive_password: ["drive-passwords"],
  gallery_event: ["gallery-inside"],
  guest_list: ["gallery-inside"],
  guest_mark: ["gallery-inside"],
  remark: ["gallery-inside"],
  contribution: ["contributions", "sending-check"],
  embed: ["embeds", "embedded", "asset"],
  embed_source: ["embeds", "embedded", "sending-check"],
  sighting: ["embeds", "websites", "embed-seen", "public-addresses", "address-seen"],
  site: ["sites"],
  logo: ["logos"],
  page: ["pages"],
  page_feed: ["page-feeds"],
  dispatch: ["dispatches", "calendar", "page-feeds", "rehearsals"],
  dispatch_post: ["dispatches", "calendar"],
  dispatch_draft: ["drafts"],
  screen: ["screens"],
  screen_seen: ["screens"],
  rehearsal: ["rehearsals"],
  rehearsal_variant: ["rehearsals"],
  rehearsal_remark: ["rehearsals"],
  thing_folder: ["parking"],
  thing_place: ["parking"],
  placement: ["asset", "placed"],
  public_address: ["public-addresses", "asset", "placed"],
  intake: ["intakes", "trail"], // it can be undone from its first file on
  intake_file: ["intakes", "contributions"],
  server_folder: ["server-folders"],
  watched_folder: ["watched-folders"],
  outlet: ["outlets", "outlet-albums", "outlet-media"],
  twin: ["twins", "intakes"],
  face: ["asset", "people-shown", "next-face"],
  person_shown: ["people-shown", "asset", "sheet", "sending-check"],
  output_size: ["sizes", "size-costs"],
  download: ["downloads", "size-costs", "taken-along"],
  download_item: ["downloads"],
  trail: ["trail"],
  membership: ["me", "rights"],
  brand: ["brand-settings", "overview", "sheet"],
  access_grant: ["me", "folders", "albums", "sheet", "rights", "overview"],
};
/** What can change what is in an album that a rule keeps filled. */
const filling = new Set(["asset", "asset_place", "asset_tag", "keeper", "folder", "folder_tag", "person_shown", "album_item"]);

/** toAskAgain is what a change to a table concerns. An empty satchel shows no item that could have changed. */
function toAskAgain(table: string): string[] {
  const keys = new Set(shownBy[table]);
  if (queries.getQueryData<{ rule?: unknown }[]>(["albums"])?.some((a) => a.rule)) {
    if (filling.has(table)) keys.add("albums");
    if (table === "album") keys.add("sheet"); // it may have another rule
  }
  const carried = queries.getQueryData<unknown[]>(["satchel"]);
  if (table === "asset" && carried?.length === 0) keys.delete("satchel");
  return [...keys];
}

const showsTiles = new Set([
  "asset",
  "stage",
  "asset_looked",
  "keeper",
  "gallery",
  "gallery_chapter",
  "embed",
  "embed_source",
  "public_address",
  "album_item",
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
      const tables = told.map(String);
      if (tables.includes("everything")) renewing.renew(everything);
      for (const key of new Set(tables.flatMap(toAskAgain))) renewing.renew(key);
      if (tables.some((t) => showsTiles.has(t))) renewing.renew(tiles);
    });
    const look = () => !document.hidden && hurry();
    document.addEventListener("visibilitychange", look);
    return () => {
      source.close();
      document.removeEventListener("visibilitychange", look);
    };
  }, [brand]);
}
