import { act, client, type Selection } from "~/api/client";
import { rows } from "~/api/rows";

const at = (brand: string) => ({ params: { path: { brand } } });

/** rate gives stars, or sets aside with -1. The tiles in sight show it at once. */
export async function rate(brand: string, selection: Selection, inSight: number[], stars: number) {
  rows.patch(inSight, { stars });
  const done = await act(brand, client.POST("/api/brands/{brand}/stars", { ...at(brand), body: { selection, stars } }));
  if (!done) rows.refresh();
}

/** keep marks keepers of one's own, or takes the mark away. The tiles in sight show it at once. */
export async function keep(brand: string, selection: Selection, inSight: number[], keeper: boolean) {
  rows.patch(inSight, { keeper });
  const done = await act(brand, client.POST("/api/brands/{brand}/keepers", { ...at(brand), body: { selection, keep: keeper } }));
  if (!done) rows.refresh();
}
