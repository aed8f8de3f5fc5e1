import { create } from "zustand";
import { again, undo, type Asset } from "~/api/client";
import { queries } from "~/api/queries";
import { warn } from "~/kit/notes";
import { setRecipe, type Recipe } from "./acts";
import { alike, same } from "./recipe";

/** A Step of the work at one picture: what it was before, and what was done then. */
interface Step {
  recipe: Recipe;
  what: string;
  /** It is no change of the recipe, but an act of its own, which this entry of the trail takes back, or does again. */
  trail?: Promise<number | undefined>;
}

/** Work is one sitting at a picture. What is let go of is saved by itself; all of it is one step of the trail. */
interface Work {
  brand: string;
  asset: number;
  /** What is shown: while something is dragged, ahead of what is settled. */
  recipe: Recipe;
  settled: Recipe;
  saved: Recipe;
  base: string;
  step?: number;
  past: Step[];
  future: Step[];
  /** The recipes that it had in this sitting. */
  mine: Recipe[];
  /** What somebody else did to it meanwhile; nothing is saved until that is decided. */
  meanwhile?: string;
}

export const useWork = create<{ work?: Work }>(() => ({}));

const now = () => useWork.getState().work;
const put = (part: Partial<Work>) => useWork.setState((s) => ({ work: s.work && { ...s.work, ...part } }));

/** workAt begins to work at a picture, or takes note of what became of it elsewhere; sure says that this is of after the last save. */
export function workAt(brand: string, asset: Asset, sure = false) {
  const w = now();
  if (w?.asset !== asset.id || w.brand !== brand) {
    void save();
    useWork.setState({ work: fresh(brand, asset) });
    return;
  }
  if (alike(asset.recipe, w.saved)) put({ base: asset.recipeHash });
  else if (!sure && w.mine.some((r) => alike(r, asset.recipe)))
    askAgain(asset.id); // asked for before the last save, however late it comes
  else if (same(w.settled, w.saved) && !saving) useWork.setState({ work: fresh(brand, asset) });
}

/** After how many milliseconds it is asked for anew when an answer is about what one had before one saved. */
const late = 3000;

let asking: number | undefined;

/** askAgain has it told once more what the item is, when no answer can be about earlier. An answer that was broken off for a later one, or
 * that a save has overtaken, says nothing: it is asked for once more. */
function askAgain(asset: number) {
  window.clearTimeout(asking);
  asking = window.setTimeout(() => {
    const w = now();
    if (w?.asset !== asset) return;
    if (saving) return askAgain(asset);
    const began = Date.now();
    void queries.invalidateQueries({ queryKey: ["asset", asset] }).then(() => {
      const came = queries.getQueryState<Asset>(["asset", asset]);
      if (now()?.asset !== asset || !came?.data) return;
      if (saving || now()?.saved !== w.saved || came.fetchStatus !== "idle" || came.dataUpdatedAt < began) return askAgain(asset);
      workAt(w.brand, came.data, true);
    });
  }, late);
}

const fresh = (brand: string, asset: Asset): Work => ({
  brand,
  asset: asset.id,
  recipe: asset.recipe,
  settled: asset.recipe,
  saved: asset.recipe,
  base: asset.recipeHash,
  past: [],
  future: [],
  mine: [],
});

/** endWork saves what is left and forgets the picture. */
export function endWork() {
  void save();
  useWork.setState({ work: undefined });
}

/** move shows a recipe without settling for it. */
export const move = (recipe: Recipe) => put({ recipe });

/** settle takes a recipe for what the picture becomes, and saves it. */
export function settle(recipe: Recipe, what: string) {
  const w = now();
  if (!w) return;
  if (same(recipe, w.settled)) {
    put({ recipe });
    return;
  }
  put({ recipe, settled: recipe, past: [...w.past, { recipe: w.settled, what }], future: [] });
  soon();
}

/** noteAct takes an act of its own, such as another focal point, among what was done in this sitting. */
export function noteAct(asset: number, what: string, trail: number | undefined) {
  const w = now();
  if (w?.asset !== asset || trail === undefined) return;
  put({ past: [...w.past, { recipe: w.settled, what, trail: Promise.resolve(trail) }], future: [] });
}

/** back undoes the last thing that was done in this sitting; false where nothing was. What is undone elsewhere then is not taken for an
 * answer that comes late. */
export function back() {
  if (travel("past", "future")) return true;
  put({ mine: [] });
  return false;
}

/** forth does again what was undone last; false where nothing was. */
export const forth = () => travel("future", "past");

function travel(from: "past" | "future", to: "past" | "future"): boolean {
  const w = now();
  const step = w?.[from].at(-1);
  if (!w || !step) return false;
  if (step.trail !== undefined) {
    const act = from === "past" ? undo : again;
    const trail = step.trail.then((entry) => (entry === undefined ? undefined : act(w.brand, entry).then((done) => done?.trail)));
    put({ [from]: w[from].slice(0, -1), [to]: [...w[to], { ...step, trail }] });
    return true;
  }
  put({
    recipe: step.recipe,
    settled: step.recipe,
    [from]: w[from].slice(0, -1),
    [to]: [...w[to], { recipe: w.settled, what: step.what }],
  });
  soon();
  return true;
}

/** keepMine puts what one has over what somebody else did; keepTheirs takes theirs. */
export function keepMine(asset: Asset) {
  put({ meanwhile: undefined, base: asset.recipeHash, saved: asset.recipe, step: undefined });
  soon();
}
export const keepTheirs = (brand: string, asset: Asset) => useWork.setState({ work: fresh(brand, asset) });

const pause = 250; // milliseconds in which one who steps by keys presses the next
let timer: number | undefined;
let saving: Promise<void> | undefined;

function soon() {
  window.clearTimeout(timer);
  timer = window.setTimeout(() => void save(), pause);
}

/** save brings what is settled to the server, one after the other. */
async function save(): Promise<void> {
  window.clearTimeout(timer);
  while (saving) await saving;
  const w = now();
  if (!w || w.meanwhile || same(w.settled, w.saved)) return;
  const sent = w.settled;
  saving = (async () => {
    const came = await setRecipe(w.brand, w.asset, sent, w.base, w.step);
    const still = now()?.asset === w.asset;
    if ("wrong" in came) warn(`${came.wrong} What you did to the picture is still here.`);
    else if (!still) {
      if ("meanwhile" in came) warn(came.meanwhile);
    } else if ("meanwhile" in came) put({ meanwhile: came.meanwhile });
    else put({ saved: sent, step: came.done.trail ?? w.step, mine: [...w.mine, w.saved] });
  })();
  await saving;
  saving = undefined;
  const then = now();
  if (then?.asset === w.asset && same(then.saved, sent) && !same(then.settled, sent)) await save();
}

/** A page that is closed takes what is settled along. */
window.addEventListener("pagehide", () => void save());
