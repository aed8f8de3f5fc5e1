import type { Schema } from "~/api/client";
import { plural } from "~/kit/words";

type Intake = Schema["Intake"];

/** settledOf counts the files of an intake that have their outcome. */
export const settledOf = (i: Intake) => i.added + i.versions + i.skipped + i.refused + i.cancelled;

/** sumOf says what came of an intake in numbers that add up. */
export function sumOf(i: Intake) {
  const files = plural(i.total, "file") + (i.joined ? ` and ${plural(i.joined, "sidecar")}` : "");
  if (i.added === i.total) return `${files}, ${i.total === 1 && !i.joined ? "added" : "all added"}`;
  const parts = [`${i.added} added`];
  if (i.versions) parts.push(plural(i.versions, "new version"));
  if (i.skipped) parts.push(`${i.skipped} skipped`);
  if (i.refused) parts.push(`${i.refused} refused`);
  if (i.cancelled) parts.push(`${i.cancelled} cancelled`);
  const open = i.total - settledOf(i);
  if (open) parts.push(`${open} on the way`);
  return `${files}: ${parts.join(", ")}`;
}

/** sourceOf says where an intake came from, when it did not come from somebody's own device. */
export function sourceOf(i: Intake) {
  if (i.source === "upload") return "";
  return i.source === "watched" ? `landed in ${i.sourceName}` : `from ${i.sourceName}`;
}
