import { useSyncExternalStore } from "react";
import { ask, client, type AssetRow } from "./client";

/** Rows keeps what tiles show, and loads what is wanted in batches. A tile listens to its own item only, so that one
 * change among 100,000 draws one tile. */
class Rows {
  brand = "";
  private known = new Map<number, AssetRow>();
  private listeners = new Map<number, Set<() => void>>();
  private wanted = new Set<number>();
  private timer: ReturnType<typeof setTimeout> | undefined;

  get = (id: number) => this.known.get(id);

  subscribe(id: number, changed: () => void) {
    const set = this.listeners.get(id) ?? new Set();
    this.listeners.set(id, set.add(changed));
    return () => {
      set.delete(changed);
      if (set.size === 0) this.listeners.delete(id);
    };
  }

  /** want loads the rows of items that are not known yet. */
  want(ids: Iterable<number>) {
    for (const id of ids) if (!this.known.has(id)) this.wanted.add(id);
    this.soon();
  }

  /** refresh loads what is on the screen again and forgets the rest. */
  refresh() {
    for (const id of [...this.known.keys()]) if (!this.listeners.has(id)) this.known.delete(id);
    for (const id of this.listeners.keys()) this.wanted.add(id);
    this.soon();
  }

  /** patch shows a change before the server has answered. It returns what shows again what was there, where the server refuses. */
  patch(ids: Iterable<number>, change: Partial<AssetRow>) {
    const was: AssetRow[] = [];
    for (const id of ids) {
      const row = this.known.get(id);
      if (!row) continue;
      was.push(row);
      this.put({ ...row, ...change });
    }
    return () => was.forEach((row) => this.put(row));
  }

  /** loaded is the row of an item, once it is here. */
  loaded(id: number): Promise<AssetRow | undefined> {
    const row = this.known.get(id);
    if (row) return Promise.resolve(row);
    return new Promise((resolve) => {
      const end = this.subscribe(id, () => {
        end();
        clearTimeout(late);
        resolve(this.known.get(id));
      });
      const late = setTimeout(() => {
        end();
        resolve(undefined);
      }, 10_000);
      this.want([id]);
    });
  }

  private put(row: AssetRow) {
    const before = this.known.get(row.id);
    if (before && JSON.stringify(before) === JSON.stringify(row)) return;
    this.known.set(row.id, row);
    this.listeners.get(row.id)?.forEach((changed) => changed());
  }

  private soon() {
    if (this.wanted.size > 0) this.timer ??= setTimeout(() => void this.load(), 20);
  }

  private async load() {
    this.timer = undefined;
    const ids = [...this.wanted].slice(0, 400);
    ids.forEach((id) => this.wanted.delete(id));
    try {
      const loaded = await ask(client.POST("/api/brands/{brand}/rows", { params: { path: { brand: this.brand } }, body: { ids } }));
      loaded.forEach((row) => this.put(row));
    } catch {
      // tiles keep their tint; the next change or scroll asks again
    }
    this.soon();
  }
}

export const rows = new Rows();

/** useRow is what the tile of an item shows, once it is loaded. */
export const useRow = (id: number) =>
  useSyncExternalStore(
    (changed) => rows.subscribe(id, changed),
    () => rows.get(id),
  );
