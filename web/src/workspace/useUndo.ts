import { undo, type Me, type Schema } from "~/api/client";
import { queries, useTrail } from "~/api/queries";
import { tell } from "~/kit/notes";

type Entry = Schema["TrailEntry"];

const lastOf = (trail: Entry[] | undefined) => trail?.find((e) => e.mine && e.undoable);

/** useUndo is the last thing that I did and that can still be undone, as the trail has it: also after a reload. */
export function useUndo(me: Me) {
  const present = lastOf(useTrail(me.brand).data);
  const run = () => {
    const last = lastOf(queries.getQueryData<Entry[]>(["trail"]));
    if (!last) {
      tell("There is nothing of yours to undo.");
      return;
    }
    // so that pressed again at once it takes back the step before
    queries.setQueryData<Entry[]>(["trail"], (old) => old?.map((e) => (e.id === last.id ? { ...e, undoable: false } : e)));
    void undo(me.brand, last.id).finally(() => void queries.invalidateQueries({ queryKey: ["trail"] }));
  };
  return { id: present?.id, said: present?.said, run };
}
