import { undo, type Me } from "~/api/client";
import { useTrail } from "~/api/queries";
import { tell } from "~/kit/notes";

/** useUndo is the last thing that I did and that can still be undone, as the trail has it: also after a reload. */
export function useUndo(me: Me) {
  const last = useTrail(me.brand).data?.find((e) => e.mine && e.undoable);
  const run = () => {
    if (last) void undo(me.brand, last.id);
    else tell("There is nothing of yours to undo.");
  };
  return { said: last?.said, run };
}
