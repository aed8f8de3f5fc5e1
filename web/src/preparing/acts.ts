import { act, ask, client, messageOf, ProblemError, type Done, type Schema, type Selection } from "~/api/client";
import { warn } from "~/kit/notes";
import { actingOn } from "~/sheet/selection";

export type Recipe = Schema["Recipe"];
export type Control = Schema["Control"];
export type Look = Schema["Look"];
export type Part = Schema["RecipePart"];

const at = (brand: string) => ({ params: { path: { brand } } });
const of = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** Saved is what came of saving a recipe: done, or what is against it, or why it could not be reached. */
export type Saved = { done: Done } | { meanwhile: string } | { wrong: string };

/** setRecipe gives an item a recipe, going on with a step of the trail. */
export async function setRecipe(brand: string, id: number, recipe: Recipe, base: string, step: number | undefined): Promise<Saved> {
  try {
    return {
      done: await ask(
        client.PUT("/api/brands/{brand}/assets/{id}/recipe", {
          ...of(brand, id),
          body: { recipe, base, step },
          keepalive: true, // also when the page is closed meanwhile
        }),
      ),
    };
  } catch (error) {
    if (error instanceof ProblemError && error.problem.status === 409) return { meanwhile: messageOf(error) };
    return { wrong: messageOf(error) };
  }
}

/** propose asks what a recipe should become by itself. It says what is against it. */
export async function propose(
  brand: string,
  id: number,
  what: Schema["ProposalWanted"]["what"],
  recipe: Recipe,
  place?: { x: number; y: number },
): Promise<Schema["Proposal"] | undefined> {
  try {
    const body = { what, recipe, ...place };
    const found = await ask(client.POST("/api/brands/{brand}/assets/{id}/recipe/propose", { ...of(brand, id), body }));
    if (found.note) warn(found.note);
    return found.note ? undefined : found;
  } catch (error) {
    warn(messageOf(error));
    return undefined;
  }
}

export type Change = Omit<Schema["RecipeChange"], "selection">;

/** changeMany changes the recipes of a selection. */
export async function changeMany(brand: string, selection: Selection, inSight: number[], change: Change) {
  actingOn(inSight);
  return act(brand, client.POST("/api/brands/{brand}/recipes", { ...at(brand), body: { selection, ...change } }));
}

/** likenessTo asks by how much a selection differs from one item. */
export async function likenessTo(brand: string, selection: Selection, model: number) {
  try {
    return await ask(client.POST("/api/brands/{brand}/recipes/alike/preview", { ...at(brand), body: { selection, model } }));
  } catch (error) {
    warn(messageOf(error));
    return undefined;
  }
}

/** makeAlike gives a selection the exposure and white of one item. */
export const makeAlike = (brand: string, selection: Selection, model: number) =>
  act(brand, client.POST("/api/brands/{brand}/recipes/alike", { ...at(brand), body: { selection, model } }));

/** saveLook saves adjustments under a name. */
export const saveLook = (brand: string, look: Schema["LookWanted"]) =>
  act(brand, client.POST("/api/brands/{brand}/looks", { ...at(brand), body: look }));

/** removeLook removes a look; items keep it. */
export const removeLook = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/looks/{id}", of(brand, id)));

/** planReplacing says what would change if items got the files of others; it throws what is against it. */
export const planReplacing = (brand: string, wanted: Schema["ReplacingWanted"]) =>
  ask(client.POST("/api/brands/{brand}/replacements/plan", { ...at(brand), body: wanted }));

/** replace gives items the files of others, everywhere at once. */
export const replace = (brand: string, replacing: Schema["Replacing"]) =>
  act(brand, client.POST("/api/brands/{brand}/replacements", { ...at(brand), body: replacing }));

/** filmState asks how far the film of a clip is, and has it made. */
export const filmState = (brand: string, id: number) => ask(client.GET("/api/brands/{brand}/assets/{id}/film", of(brand, id)));

/** setFocal says where the focal point is, in fractions of what is shown, or that of one proportion; without a place it is found by itself
 * again, or follows that of all. */
export const setFocal = (brand: string, id: number, place?: Schema["FocalPoint"]) =>
  act(brand, client.PUT("/api/brands/{brand}/assets/{id}/focal", { ...of(brand, id), body: place ?? {} }));

/** A frame is a picture as a recipe makes it, and the part of it that its crop really leaves. */
export interface Frame {
  address: string;
  cut: { x: number; y: number; width: number; height: number };
}

interface WantedFrame {
  recipe: Recipe;
  width: number;
  height: number;
  lossless?: boolean;
}

/** drawn asks for something of a picture as it is drawn by a recipe, to fit into a box. */
async function drawn(brand: string, id: number, what: "frame" | "tone" | "base-map", body: WantedFrame) {
  const answer = await fetch(`/api/brands/${brand}/assets/${id}/${what}`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ ...body, width: Math.round(body.width), height: Math.round(body.height) }),
  });
  if (!answer.ok) throw new ProblemError((await answer.json()) as Schema["Problem"]);
  return answer;
}

/** loadTone gives the numbers by which a browser draws the tone of a recipe. */
export const loadTone = async (brand: string, id: number, recipe: Recipe, width: number, height: number) =>
  new Float32Array(await (await drawn(brand, id, "tone", { recipe, width, height })).arrayBuffer());

/** loadBaseMap gives the base map of a picture that is drawn by a recipe. */
export const loadBaseMap = async (brand: string, id: number, recipe: Recipe, width: number, height: number) =>
  (await drawn(brand, id, "base-map", { recipe, width, height })).arrayBuffer();

/** loadLossless gives a picture as it is drawn by a recipe, with nothing lost. */
export const loadLossless = async (brand: string, id: number, recipe: Recipe, width: number, height: number) =>
  (await drawn(brand, id, "frame", { recipe, width, height, lossless: true })).blob();

/** drawFrame has the server draw a picture by a recipe, to fit into a box. Whoever asked frees its address. */
export async function drawFrame(brand: string, id: number, recipe: Recipe, width: number, height: number): Promise<Frame> {
  const answer = await drawn(brand, id, "frame", { recipe, width, height });
  const [x = 0, y = 0, w = 1, h = 1] = (answer.headers.get("Satchel-Cut") ?? "").split(" ").map(Number);
  return { address: URL.createObjectURL(await answer.blob()), cut: { x, y, width: w, height: h } };
}
