import { act, ask, client, messageOf, type Schema, type Selection, type SheetQuery } from "~/api/client";
import { queries } from "~/api/queries";
import { rows } from "~/api/rows";
import { hideFromSheets } from "~/api/sheets";
import { warn } from "~/kit/notes";
import { asksForAside } from "~/sheet/filters";
import { actingOn } from "~/sheet/selection";

const at = (brand: string) => ({ params: { path: { brand } } });

/** rate gives stars, or sets aside with -1. The tiles in sight show it at once. */
export async function rate(brand: string, selection: Selection, inSight: number[], stars: number) {
  actingOn(inSight);
  const back = rows.patch(inSight, { stars });
  if (stars < 0)
    hideFromSheets({ ids: new Set(inSight), from: (q) => q.place !== "bin" && q.place !== "album" && !asksForAside(q.filter) });
  const done = await act(brand, client.POST("/api/brands/{brand}/stars", { ...at(brand), body: { selection, stars } }));
  if (!done) tryAgain(back);
}

/** putAtStage puts a selection at a stage; without one it takes the stage away. The tiles in sight show it at once. */
export async function putAtStage(brand: string, selection: Selection, inSight: number[], stage: Schema["Stage"] | undefined) {
  actingOn(inSight);
  const back = rows.patch(inSight, { stage: stage?.name });
  const done = await act(brand, client.POST("/api/brands/{brand}/stage", { ...at(brand), body: { selection, stage: stage?.id } }));
  if (!done) tryAgain(back);
}

/** keep marks keepers of one's own, or takes the mark away. The tiles in sight show it at once. */
export async function keep(brand: string, selection: Selection, inSight: number[], keeper: boolean) {
  actingOn(inSight);
  const back = rows.patch(inSight, { keeper });
  const done = await act(brand, client.POST("/api/brands/{brand}/keepers", { ...at(brand), body: { selection, keep: keeper } }));
  if (!done) tryAgain(back);
}

/** tryAgain shows what there was, and what there is, when the server has refused or was not reached. */
function tryAgain(back: () => void) {
  back();
  rows.refresh();
  void queries.invalidateQueries({ queryKey: ["sheet"] });
}

export type Pile = Schema["Pile"];

/** findPile finds what lies together with an item of a sheet, or the next pile after it. It says what is against it. */
export async function findPile(brand: string, sheet: SheetQuery, asset: number, next: boolean): Promise<Pile | undefined> {
  try {
    return await ask(client.POST("/api/brands/{brand}/piles", { ...at(brand), body: { sheet, asset, next } }));
  } catch (error) {
    warn(messageOf(error));
    return undefined;
  }
}

/** keepOnly sets others aside, or gives each a star less. */
export async function keepOnly(brand: string, others: number[], what: "aside" | "star less") {
  if (what === "aside") return rate(brand, { ids: others }, others, -1);
  actingOn(others);
  const back = others.map((id) => rows.patch([id], { stars: lower(rows.get(id)?.stars ?? 0) }));
  const done = await act(
    brand,
    client.POST("/api/brands/{brand}/stars", { ...at(brand), body: { selection: { ids: others }, stars: 1, fewer: true } }),
  );
  if (!done) tryAgain(() => back.forEach((one) => one()));
}

const lower = (stars: number) => (stars > 0 ? stars - 1 : stars);
