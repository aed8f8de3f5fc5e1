import { create } from "zustand";
import { tell } from "~/kit/notes";
import { compare, comparedHere, mostCompared, useChosen } from "~/sheet/selection";
import { findPile, type Pile } from "./acts";

/** usePile is what is compared, with the one that is proposed and why. */
export const usePile = create<{ pile: Pile | undefined }>(() => ({ pile: undefined }));

function see(pile: Pile) {
  usePile.setState({ pile });
  compare(pile.ids, pile.best !== undefined && pile.ids.slice(0, mostCompared).includes(pile.best) ? pile.best : undefined);
  if (pile.ids.length > mostCompared) tell(`The first ${mostCompared} of ${pile.ids.length} are shown.`);
}

/** compareSelected sees what is selected side by side; of one item what lies together with it. */
export async function compareSelected(brand: string) {
  const { selected, cursor, query, ids } = useChosen.getState();
  if (selected.size > 1) {
    see({ ids: ids.filter((id) => selected.has(id)) });
    return;
  }
  const one = [...selected][0] ?? cursor;
  const pile = one === undefined ? undefined : await findPile(brand, query, one, false);
  if (!pile) return;
  if (pile.ids.length > 1) see(pile);
  else tell("Nothing beside it is like it. Select two to six to compare them.");
}

/** compareNext goes on to the next pile after those that are compared. */
export async function compareNext(brand: string) {
  const { compared, query, cursor } = useChosen.getState();
  const last = comparedHere(useChosen.getState()).at(-1) ?? cursor ?? compared.at(-1);
  const next = last === undefined ? undefined : await findPile(brand, query, last, true);
  if (!next) return;
  if (next.ids.length > 0) see(next);
  else tell("No more pictures that lie together come in this sheet.");
}
