import type { Schema } from "~/api/client";

type Album = Schema["Album"];

export interface AlbumTree {
  all: Album[];
  /** Some are in others. */
  nested: boolean;
  byId: Map<number, Album>;
  /** Those at the top, or in an album. */
  in: (parent: number | undefined) => Album[];
  /** The names from the top down to an album. */
  path: (id: number) => string;
  /** Whether an album is another one or in it, however deep. */
  within: (id: number, other: number) => boolean;
}

/** albumTree puts albums into each other; what is in one that is not known is at the top. */
export function albumTree(all: Album[]): AlbumTree {
  const byId = new Map(all.map((a) => [a.id, a]));
  const inside = new Map<number | undefined, Album[]>();
  for (const a of all) {
    const parent = a.parent !== undefined && byId.has(a.parent) ? a.parent : undefined;
    inside.set(parent, [...(inside.get(parent) ?? []), a]);
  }
  const up = (id: number): Album[] => {
    const way: Album[] = [];
    for (let a = byId.get(id); a && !way.includes(a); a = a.parent === undefined ? undefined : byId.get(a.parent)) way.unshift(a);
    return way;
  };
  return {
    all,
    nested: inside.size > (inside.has(undefined) ? 1 : 0),
    byId,
    in: (parent) => inside.get(parent) ?? [],
    path: (id) =>
      up(id)
        .map((a) => a.name)
        .join(" / "),
    within: (id, other) => up(id).some((a) => a.id === other),
  };
}
