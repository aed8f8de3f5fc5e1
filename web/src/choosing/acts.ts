import { act, client, type Schema, type Selection } from "~/api/client";
import { queries } from "~/api/queries";
import { rows } from "~/api/rows";
import { hideFromSheets } from "~/api/sheets";
import { asksForAside } from "~/sheet/filters";
import { actingOn } from "~/sheet/selection";

const at = (brand: string) => ({ params: { path: { brand } } });

/** rate gives stars, or sets aside with -1. The tiles in sight show it at once. */
export async function rate(brand: string, selection: Selection, inSight: number[], stars: number) {
  actingOn(inSight);
  rows.patch(inSight, { stars });
  if (stars < 0)
    hideFromSheets({ ids: new Set(inSight), from: (q) => q.place !== "bin" && q.place !== "album" && !asksForAside(q.filter) });
  const done = await act(brand, client.POST("/api/brands/{brand}/stars", { ...at(brand), body: { selection, stars } }));
  if (!done) tryAgain();
}

/** putAtStage puts a selection at a stage; without one it takes the stage away. The tiles in sight show it at once. */
export async function putAtStage(brand: string, selection: Selection, inSight: number[], stage: Schema["Stage"] | undefined) {
  actingOn(inSight);
  rows.patch(inSight, { stage: stage?.name });
  const done = await act(brand, client.POST("/api/brands/{brand}/stage", { ...at(brand), body: { selection, stage: stage?.id } }));
  if (!done) rows.refresh();
}

/** keep marks keepers of one's own, or takes the mark away. The tiles in sight show it at once. */
export async function keep(brand: string, selection: Selection, inSight: number[], keeper: boolean) {
  actingOn(inSight);
  rows.patch(inSight, { keeper });
  const done = await act(brand, client.POST("/api/brands/{brand}/keepers", { ...at(brand), body: { selection, keep: keeper } }));
  if (!done) rows.refresh();
}

/** tryAgain shows what there is when the server has refused. */
function tryAgain() {
  rows.refresh();
  void queries.invalidateQueries({ queryKey: ["sheet"] });
}
