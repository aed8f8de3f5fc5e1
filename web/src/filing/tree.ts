import type { Folder } from "~/api/queries";

/** Tree is the folders with what is in which, made once for all rows. */
export interface Tree {
  all: Folder[];
  byId: Map<number, Folder>;
  parked: Folder[];
  /** The folders in one, or at the top. */
  inside: (id: number | undefined) => Folder[];
  /** The names from the top down to a folder. */
  path: (id: number | undefined) => string;
  /** A folder with those above it, from the top level. */
  up: (id: number | undefined) => Folder[];
  /** Whether one folder is another or is below it. */
  within: (id: number, above: number) => boolean;
}

const isYear = (f: Folder) => /^\d{4}$/.test(f.name);

/** keeperOfYears is the folder in which a place keeps its years, to propose where more of them go: itself or one above it that
 * has folders of years, else the one of the library that has most of them. Undefined is the top level. */
export function keeperOfYears(tree: Tree, place: number | undefined): number | undefined {
  const years = (id: number | undefined) => tree.inside(id).filter(isYear).length;
  for (const f of tree.up(place).reverse()) if (!isYear(f) && years(f.id) > 0) return f.id;
  let best: number | undefined;
  for (const f of tree.all) if (!f.parked && years(f.id) > years(best)) best = f.id;
  return best;
}

export function treeOf(all: Folder[]): Tree {
  const byId = new Map(all.map((f) => [f.id, f]));
  const children = new Map<number | undefined, Folder[]>();
  for (const f of all) {
    const list = children.get(f.parent);
    if (list) list.push(f);
    else children.set(f.parent, [f]);
  }
  const up = (id: number | undefined) => {
    const out: Folder[] = [];
    for (
      let f = id === undefined ? undefined : byId.get(id);
      f && out.length < 100;
      f = f.parent === undefined ? undefined : byId.get(f.parent)
    )
      out.unshift(f);
    return out;
  };
  return {
    all,
    byId,
    up,
    parked: all.filter((f) => f.parked),
    inside: (id) => children.get(id) ?? [],
    path: (id) =>
      up(id)
        .map((f) => f.name)
        .join(" / "),
    within: (id, above) => up(id).some((f) => f.id === above),
  };
}
