import type { OnScreen } from "./playing";

const store = "screen";

/** keep has all stored that a screen shows, and drops what it shows no more. Whenever something was stored, it says so. */
export async function keep(show: OnScreen, stored: () => void) {
  if (!("caches" in window) || !show.items) return;
  const cache = await caches.open(store);
  const wanted = new Set(show.items.flatMap((i) => [i.picture, ...(i.film ? [i.film] : [])]));
  for (const request of await cache.keys()) {
    const path = new URL(request.url).pathname;
    if (path.startsWith("/s/") && !wanted.has(path)) await cache.delete(request);
  }
  void fill(cache, [...wanted], stored);
}

/** kept is how many items of what a screen shows are stored. */
export async function kept(show: OnScreen | undefined): Promise<number> {
  if (!("caches" in window) || !show?.items) return 0;
  const here = new Set((await (await caches.open(store)).keys()).map((r) => new URL(r.url).pathname));
  return show.items.filter((i) => here.has(i.film ?? i.picture)).length;
}

/** keepPage stores this page with its parts: the keeper was not there yet when it was loaded first. */
export async function keepPage() {
  if (!("caches" in window)) return;
  const cache = await caches.open(store);
  const parts = performance.getEntriesByType("resource").map((e) => new URL(e.name).pathname);
  for (const path of ["/screen", ...parts.filter((p) => p.startsWith("/assets/"))])
    if (!(await cache.match(path))) await cache.add(path).catch(() => undefined);
}

let filling: string[] | undefined;

/** fill fetches what is not stored yet, in the background, one at a time: the screen itself comes first. */
async function fill(cache: Cache, wanted: string[], stored: () => void) {
  const busy = filling !== undefined;
  filling = wanted;
  if (busy) return;
  while (filling && filling.length > 0) {
    const path: string = filling.shift()!;
    if (await cache.match(path)) continue;
    try {
      const answer = await fetch(path, { credentials: "omit" });
      if (answer.status !== 200) continue;
      await cache.put(path, answer);
      stored();
    } catch {
      break; // without a network, or without room: at the next change it is tried again
    }
  }
  filling = undefined;
  stored();
}
