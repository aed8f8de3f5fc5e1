import { act, ask, client, type Schema, type SheetQuery } from "~/api/client";
import { queries } from "~/api/queries";
import { actingOn, inOrder } from "./selection";

const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** lookForFile looks for the file of an item that was left where it was, and has gone from there. */
export const lookForFile = (brand: string, id: number) =>
  act(brand, client.POST("/api/brands/{brand}/assets/{id}/left/find", on(brand, id)));

/** takeChangedFile makes what is in the place of such a file now the newest version of its item. */
export const takeChangedFile = (brand: string, id: number) =>
  act(brand, client.POST("/api/brands/{brand}/assets/{id}/left/take", on(brand, id)));

/** chooseFront makes an item the one that stands for its stack; it takes the place of the one before. */
export const chooseFront = (brand: string, id: number) => {
  actingOn(inOrder(), id);
  return act(brand, client.POST("/api/brands/{brand}/assets/{id}/front", on(brand, id)));
};

/** whyFound says of items why a search for words found them. */
export const whyFound = (brand: string, words: string, ids: number[]) =>
  ask(client.POST("/api/brands/{brand}/search/reasons", { params: { path: { brand } }, body: { words, ids } }));

/** missed says what may have been meant by a query that shows nothing. */
export const missed = (brand: string, query: SheetQuery) =>
  ask(client.POST("/api/brands/{brand}/search/miss", { params: { path: { brand } }, body: query }));

type Region = Schema["Region"];
const onFace = (brand: string, id: number, face: number) => ({ params: { path: { brand, id, face } } });

/** drawFace outlines a face on an item, in fractions of the picture as it is shown. */
export const drawFace = (brand: string, id: number, region: Region) =>
  act(brand, client.POST("/api/brands/{brand}/assets/{id}/faces", { ...on(brand, id), body: region }));

/** placeFace puts an outline elsewhere. */
export const placeFace = (brand: string, id: number, face: number, { x, y, width, height }: Region) =>
  act(brand, client.PUT("/api/brands/{brand}/assets/{id}/faces/{face}", { ...onFace(brand, id, face), body: { x, y, width, height } }));

/** nameFace says whose face it is, or with nothing that this is open. */
export const nameFace = (brand: string, id: number, face: number, name: string) =>
  act(brand, client.PATCH("/api/brands/{brand}/assets/{id}/faces/{face}", { ...onFace(brand, id, face), body: { name } }));

/** dropFace takes an outline away, which is no face. */
export const dropFace = (brand: string, id: number, face: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/assets/{id}/faces/{face}", onFace(brand, id, face)));

/** makeFiles begins to make files of items, after a step that goes on if there is one; it throws what is against it. They are known as
 * being made before the server is asked again, by when they may be there: whoever watches says then that they are. */
export async function makeFiles(brand: string, wanted: Schema["NewDownload"]) {
  const begun = await ask(client.POST("/api/brands/{brand}/downloads", { params: { path: { brand } }, body: wanted }));
  queries.setQueryData<Schema["Download"][]>(["downloads"], (all = []) => [
    { ...begun, state: "making" },
    ...all.filter((d) => d.id !== begun.id),
  ]);
  await queries.invalidateQueries({ queryKey: ["downloads"] });
}
