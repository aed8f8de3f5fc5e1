import type { Schema } from "~/api/client";

/** lastTakenBack is, among what somebody did (the newest first), the undoing that doing again is about: the last one that stands, as long
 * as nothing else was done since. */
export function lastTakenBack<T extends Pick<Schema["TrailEntry"], "turn" | "undone" | "undoable">>(entries: T[]): T | undefined {
  for (const entry of entries) {
    if (entry.turn === "done") return undefined;
    if (entry.turn === "taken_back" && !entry.undone && entry.undoable) return entry;
  }
  return undefined;
}
