import { again, messageOf, settled, type Me } from "~/api/client";
import { useConnection } from "~/api/outbox";
import { lastStepQuery, latestQuery, queries, useLastStep } from "~/api/queries";
import { tell, warn } from "~/kit/notes";
import { undoStep } from "~/sheet/Undoing";
import { lastTakenBack } from "./turns";

let underway = Promise.resolve();

/** inTurn does something about what was done last, one press after the other, once everything that is under way is done. */
function inTurn(does: string, run: () => Promise<void>) {
  if (useConnection.getState().away) return warn(`There is no connection to the server. ${does} when it is back.`);
  underway = underway.then(async () => {
    try {
      await settled();
      await run();
    } catch (error) {
      warn(messageOf(error));
    }
  });
}

/** useUndo is the last thing that I did and that can still be undone, as the trail has it: also after a reload. Each time
 * the trail is asked anew, one undo after the other, so that it is never a step before or the same twice. */
export function useUndo(me: Me) {
  const present = useLastStep(me.brand, me.id).data;
  const run = () =>
    inTurn("Undo", async () => {
      const asked = lastStepQuery(me.brand, me.id);
      await queries.cancelQueries({ queryKey: asked.queryKey }); // a question that is under way may have been asked before the act
      const last = await queries.fetchQuery({ ...asked, staleTime: 0 });
      if (last) await undoStep(me.brand, last);
      else tell("There is nothing of yours to undo.");
    });
  const redo = () =>
    inTurn("Do it again", async () => {
      const taken = lastTakenBack((await queries.fetchQuery({ ...latestQuery(me.brand, me.id), staleTime: 0 })).entries);
      if (taken) await again(me.brand, taken.id);
      else tell("There is nothing of yours that was undone last.");
    });
  return { id: present?.id, said: present?.said, run, redo };
}
