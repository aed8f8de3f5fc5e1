import { create } from "zustand";
import type { Asset } from "~/api/client";
import { queries } from "~/api/queries";
import { warn } from "~/kit/notes";
import { setRecipe, type Recipe } from "./acts";
import { same } from "./recipe";

/** A Step of the work at one picture: what it was before, and what was done then. */
interface Step {
  recipe: Recipe;
  what: string;
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
  /** The recipes that it had in this sitting, and whether it was asked for anew since the last was saved. */
  mine: Recipe[];
  asked: boolean;
  /** What somebody else did to it meanwhile; nothing is saved until that is decided. */
  meanwhile?: string;
}

export const useWork = create<{ work?: Work }>(() => ({}));

const now = () => useWork.getState().work;
const put = (part: Partial<Work>) => useWork.setState((s) => ({ work: s.work && { ...s.work, ...part } }));

/** workAt begins to work at a picture, or takes note of what became of it elsewhere. */
export function workAt(brand: string, asset: Asset) {
  const w = now();
  if (w?.asset !== asset.id || w.brand !== brand) {
    void save();
    useWork.setState({ work: fresh(brand, asset) });
    return;
  }
  if (same(asset.recipe, w.saved)) put({ base: asset.recipeHash });
  else if (w.mine.some((r) => same(r, asset.recipe)) && !w.asked)
    askAgain(asset.id); // asked for before the last save, however late it comes
  else if (same(w.settled, w.saved) && !saving) useWork.setState({ work: fresh(brand, asset) });
}

/** After how many milliseconds it is asked for anew when an answer is about what one had before one saved. */
const late = 3000;

let asking: number | undefined;

/** askAgain has it told once more what the item is, when no answer can be about earlier. */
function askAgain(asset: number) {
  window.clearTimeout(asking);
  asking = window.setTimeout(() => {
    if (saving) return askAgain(asset);
    const w = now();
    if (w?.asset !== asset) return;
    put({ asked: true });
    void queries.invalidateQueries({ queryKey: ["asset", asset] }).then(() => {
      const came = queries.getQueryData<Asset>(["asset", asset]); // also where it says the same once more
      if (came && now()?.asked) workAt(w.brand, came);
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
  asked: false,
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

/** back undoes the last thing that was done in this sitting. */
export const back = () => travel("past", "future");

/** forth does again what was undone last. */
export const forth = () => travel("future", "past");

function travel(from: "past" | "future", to: "past" | "future") {
  const w = now();
  const step = w?.[from].at(-1);
  if (!w || !step) return;
  put({
    recipe: step.recipe,
    settled: step.recipe,
    [from]: w[from].slice(0, -1),
    [to]: [...w[to], { recipe: w.settled, what: step.what }],
  });
  soon();
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
export async function save(): Promise<void> {
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
    else put({ saved: sent, step: came.done.trail ?? w.step, mine: [...w.mine, w.saved], asked: false });
  })();
  await saving;
  saving = undefined;
  const then = now();
  if (then?.asset === w.asset && same(then.saved, sent) && !same(then.settled, sent)) await save();
}

/** A page that is closed takes what is settled along. */
window.addEventListener("pagehide", () => void save());
