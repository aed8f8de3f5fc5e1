import type { Schema } from "~/api/client";
import { useAlbums, useEmbeds, useFolders, useGalleries } from "~/api/queries";

type Rule = Schema["Rule"];
type Shown = Pick<Schema["EmbedSource"], "folder" | "album" | "below">;

/** Outside is something that shows albums and folders to people outside. */
export interface Outside {
  key: string;
  what: "gallery" | "embed";
  name: string;
  /** People outside see it now. */
  open: boolean;
  path: string;
  places: Shown[];
}

/** useOutside lists the galleries and embeds of a brand, the newest first. */
export function useOutside(brand: string): Outside[] {
  const galleries = useGalleries(brand).data ?? [];
  const embeds = useEmbeds(brand).data ?? [];
  return [
    ...galleries.map((g): Outside => ({
      key: `gallery-${g.id}`,
      what: "gallery",
      name: g.title,
      open: g.open,
      path: g.path,
      places: g.chapters,
    })),
    ...embeds.map((e): Outside => ({
      key: `embed-${e.id}`,
      what: "embed",
      name: e.name,
      open: e.live,
      path: `/e/${e.code}`,
      places: e.sources,
    })),
  ];
}

/** ruleOf is being in one of some places. */
export const ruleOf = (places: Shown[]): Rule => ({
  match: "any",
  rules: places
    .filter((p) => p.album || p.folder)
    .map((p): Rule => ({ field: p.album ? "album" : "folder", ids: [(p.album ?? p.folder)!], below: p.below })),
});

/** useCovers are the items that stand for albums or galleries. */
export function useCovers(brand: string): number[] {
  const albums = useAlbums(brand).data ?? [];
  const galleries = useGalleries(brand).data ?? [];
  return [...new Set([...albums, ...galleries].flatMap((a) => (a.cover && a.cover.id !== 0 ? [a.cover.id] : [])))];
}

/** useAbove are a folder and all above it. */
export function useAbove(brand: string, folder: number): Set<number> {
  const folders = useFolders(brand).data ?? [];
  const above = new Set<number>();
  for (let at: number | undefined = folder; at !== undefined && !above.has(at); at = folders.find((f) => f.id === at)?.parent)
    above.add(at);
  return above;
}
