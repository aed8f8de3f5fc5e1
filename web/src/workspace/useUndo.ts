import { messageOf, settled, undo, type Me } from "~/api/client";
import { useConnection } from "~/api/outbox";
import { lastStepQuery, queries, useLastStep } from "~/api/queries";
import { tell, warn } from "~/kit/notes";

let underway = Promise.resolve();

/** useUndo is the last thing that I did and that can still be undone, as the trail has it: also after a reload. Each time
 * the trail is asked anew, one undo after the other, so that it is never a step before or the same twice. */
export function useUndo(me: Me) {
  const present = useLastStep(me.brand, me.id).data;
  const run = () => {
    if (useConnection.getState().away) return warn("There is no connection to the server. Undo when it is back.");
    underway = underway.then(async () => {
      try {
        await settled();
        const asked = lastStepQuery(me.brand, me.id);
        await queries.cancelQueries({ queryKey: asked.queryKey }); // a question that is under way may have been asked before the act
        const last = await queries.fetchQuery({ ...asked, staleTime: 0 });
        if (last) await undo(me.brand, last.id);
        else tell("There is nothing of yours to undo.");
      } catch (error) {
        warn(messageOf(error));
      }
    });
  };
  return { id: present?.id, said: present?.said, run };
}
