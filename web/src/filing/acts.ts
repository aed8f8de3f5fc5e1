import { queries } from "~/api/queries";
import { act, ask, client, told, type Schema, type Selection } from "~/api/client";

/** What is done to folders and to where items live; moving and the bin, which take items out of sight, are in moving.ts. */

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** makeFolders makes folders, one for each line; it throws what is against it. */
export const makeFolders = async (brand: string, name: string, parent: number | undefined) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/folders", { ...at(brand), body: { name, parent } })));

/** renameFolder throws what is against it. */
export const renameFolder = async (brand: string, id: number, name: string) =>
  told(brand, await ask(client.PATCH("/api/brands/{brand}/folders/{id}", { ...on(brand, id), body: { name } })));

/** setFolder writes one field of a folder's card; it throws what is against it. */
export const setFolder = (brand: string, id: number, change: Partial<Schema["FolderChange"]>) =>
  ask(client.PATCH("/api/brands/{brand}/folders/{id}", { ...on(brand, id), body: change }));

export const moveFolder = (brand: string, id: number, parent: number | undefined) =>
  act(brand, client.PATCH("/api/brands/{brand}/folders/{id}", { ...on(brand, id), body: { move: true, parent } }));

export const parkFolder = (brand: string, id: number, parked: boolean) =>
  act(brand, client.PATCH("/api/brands/{brand}/folders/{id}", { ...on(brand, id), body: { parked } }));

export const removeFolder = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/folders/{id}", on(brand, id)));

/** orderFolders puts folders before another one of the same parent, or at the end. */
export const orderFolders = (brand: string, parent: number | undefined, ids: number[], before: number | undefined) =>
  act(brand, client.POST("/api/brands/{brand}/folders/order", { ...at(brand), body: { parent, ids, before } }));

export const orderFoldersByName = (brand: string, parent?: number) =>
  act(brand, client.POST("/api/brands/{brand}/folders/order", { ...at(brand), body: { parent, byName: true } }));

/** copyStructure makes the folders below one once more, with nothing in them; it throws what is against it. */
export const copyStructure = async (brand: string, id: number, name: string) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/folders/{id}/duplicate", { ...on(brand, id), body: { name } })));

/** copyTo makes second items on the same files. */
export const copyTo = (brand: string, selection: Selection, folder: number | undefined) =>
  act(brand, client.POST("/api/brands/{brand}/copy", { ...at(brand), body: { selection, folder } }));

export const fileByDate = (
  brand: string,
  selection: Selection,
  gapMinutes: number,
  parent: number | undefined,
  shoots: { first: string; items: number; name: string }[],
) => act(brand, client.POST("/api/brands/{brand}/shoots/file", { ...at(brand), body: { selection, gapMinutes, parent, shoots } }));

/** proposeShoots asks how a selection would be filed by date. */
export const proposeShoots = (brand: string, selection: Selection, gapMinutes: number) =>
  ask(client.POST("/api/brands/{brand}/shoots", { ...at(brand), body: { selection, gapMinutes } }));

export const stack = (brand: string, selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/stacks", { ...at(brand), body: { selection } }));

export const takeApart = (brand: string, selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/stacks/take-apart", { ...at(brand), body: selection }));

export const emptyBin = (brand: string) => act(brand, client.POST("/api/brands/{brand}/bin/empty", at(brand)));

/** extentOf says how far a step of the trail reaches that changed an item; it throws what is against it. */
export const extentOf = (brand: string, step: number, item: number) =>
  ask(client.GET("/api/brands/{brand}/trail/{id}/extent", { params: { path: { brand, id: step }, query: { item } } }));

/** makeStage makes a stage of what files say as their label, and puts those files at it. */
export async function makeStage(brand: string, name: string) {
  await act(brand, client.POST("/api/brands/{brand}/stages", { ...at(brand), body: { name } }));
  void queries.invalidateQueries({ queryKey: ["stages"] });
}

/** showVersion makes a file that an item had what everybody sees again. */
export const showVersion = (brand: string, id: number, version: number) =>
  act(brand, client.POST("/api/brands/{brand}/assets/{id}/versions/{version}", { params: { path: { brand, id, version } } }));
