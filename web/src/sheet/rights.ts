import type { Action, Me } from "~/api/client";
import { useFolders, type Folder } from "~/api/queries";
import { rows } from "~/api/rows";
import { useBrand, usePlace } from "./place";
import { useChosen } from "./selection";

/** From so many on a selection is judged by the place that it was made in. */
const judgedOneByOne = 500;

/** mayAll says whether an action is possible in all of some folders; undefined stands for Unfiled, or one that is not seen. */
export function mayAll(me: Me, folders: Folder[], where: Iterable<number | undefined>, action: Action) {
  if (me.everywhere.includes(action)) return true;
  const those = new Set(where);
  return [...those].every((id) => id !== undefined && folders.find((f) => f.id === id)?.may.includes(action));
}

/** useMay says what one may do to what is selected, so that nothing is offered that would be refused. While nothing is
 * selected it says what one may do somewhere. */
export function useMay(me: Me): (action: Action) => boolean {
  const folders = useFolders(useBrand()).data ?? [];
  const place = usePlace();
  const selected = useChosen((s) => s.selected);
  return (action) => {
    if (!me.can.includes(action) || selected.size === 0) return me.can.includes(action);
    if (selected.size > judgedOneByOne) return place.place !== "folder" || mayAll(me, folders, [place.id], action);
    return mayAll(
      me,
      folders,
      [...selected].flatMap((id) => (rows.get(id) ? [rows.get(id)!.folder] : [])),
      action,
    );
  };
}
