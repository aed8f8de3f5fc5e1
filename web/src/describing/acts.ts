import { act, ask, client, type Selection } from "~/api/client";
import { queries } from "~/api/queries";

const at = (brand: string) => ({ params: { path: { brand } } });

export const addTags = (brand: string, selection: Selection, tags: string) =>
  act(brand, client.POST("/api/brands/{brand}/tags", { ...at(brand), body: { selection, add: tags } }));

export const takeTagOff = (brand: string, selection: Selection, tag: number) =>
  act(brand, client.POST("/api/brands/{brand}/tags", { ...at(brand), body: { selection, remove: [tag] } }));

export type FieldName = "title" | "description" | "alt" | "credit" | "copyright";

/** describe writes one text of an item; revision is the one that the person saw. It throws what is against it. */
export async function describe(brand: string, id: number, revision: number, name: FieldName, text: string) {
  const shown = { queryKey: ["asset", id] };
  try {
    await ask(client.PATCH("/api/brands/{brand}/assets/{id}", { params: { path: { brand, id } }, body: { revision, [name]: text } }));
  } catch (error) {
    void queries.invalidateQueries(shown); // what is shown may be old: somebody else may have written
    throw error;
  }
  await queries.invalidateQueries(shown);
}
