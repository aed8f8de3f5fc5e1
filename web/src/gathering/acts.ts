import { act, ask, client, sendFile, told, type Schema, type Selection } from "~/api/client";
import { actingOn, inOrder } from "~/sheet/selection";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** newAlbum makes an album, with a selection in it if there is one, and remembers by what that was chosen. It throws what is against it. */
export const newAlbum = (brand: string, name: string, more: Partial<Schema["NewAlbum"]> = {}) =>
  ask(client.POST("/api/brands/{brand}/albums", { ...at(brand), body: { name, ...more } }));

/** renameAlbum throws what is against it. */
export const renameAlbum = (brand: string, id: number, name: string) =>
  ask(client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { name } }));

export const coverAlbum = (brand: string, id: number, cover: number | undefined) =>
  act(brand, client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { cover } }));

/** ownCover gives an album the picture in a file as its cover; it throws what is against it. */
export const ownCover = async (brand: string, id: number, file: File) =>
  told(brand, await ask(sendFile<Schema["Done"]>(`/api/brands/${brand}/albums/${id}/cover`, file)));

/** describeAlbum throws what is against it. */
export const describeAlbum = (brand: string, id: number, description: string) =>
  ask(client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { description } }));

/** putAlbum puts an album into another one, or to the top. */
export const putAlbum = (brand: string, id: number, parent: number | undefined) =>
  act(brand, client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { parent: parent ?? 0 } }));

export const parkAlbum = (brand: string, id: number, parked: boolean) =>
  act(brand, client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { parked } }));

export const duplicateAlbum = (brand: string, id: number, below: boolean) =>
  act(brand, client.POST("/api/brands/{brand}/albums/{id}/duplicate", { params: { path: { brand, id }, query: { below } } }));

/** removeAlbum removes an album, or with all that are in it; the items stay. */
export const removeAlbum = (brand: string, id: number, below: boolean) =>
  act(brand, client.DELETE("/api/brands/{brand}/albums/{id}", { params: { path: { brand, id }, query: { below } } }));

/** albumsFromFolder makes an album of a folder, with one for each folder below it if wanted. */
export const albumsFromFolder = (brand: string, folder: number, below: boolean) =>
  act(brand, client.POST("/api/brands/{brand}/albums/from-folder", { ...at(brand), body: { folder, below } }));

/** followChoice has an album hold what its choice shows now. */
export const followChoice = (brand: string, id: number) => act(brand, client.POST("/api/brands/{brand}/albums/{id}/choice", on(brand, id)));

export const forgetChoice = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/albums/{id}/choice", on(brand, id)));

/** keepOrder makes an order by a sort the hand-made one. */
export const keepOrder = (brand: string, id: number, sort: Schema["Sort"], descending: boolean) =>
  act(brand, client.POST("/api/brands/{brand}/albums/{id}/order-by", { ...on(brand, id), body: { sort, descending } }));

/** moveToPlace moves items of an album to a place in it, counted from 1. */
export const moveToPlace = (brand: string, id: number, ids: number[], place: number) =>
  act(brand, client.POST("/api/brands/{brand}/albums/{id}/order", { ...on(brand, id), body: { ids, place } }));

/** addToAlbums puts items at the end of several albums, in one step. */
export const addToAlbums = (brand: string, albums: number[], selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/albums/add", { ...at(brand), body: { albums, selection } }));

/** moveBetween takes items out of one album and puts them at the end of another one. */
export const moveBetween = (brand: string, id: number, to: number, selection: Selection) => {
  actingOn(inOrder());
  return act(brand, client.POST("/api/brands/{brand}/albums/{id}/move-items", { ...on(brand, id), body: { to, selection } }));
};

/** addTo puts items at the end of an album. */
export const addTo = (brand: string, id: number, selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/albums/{id}/items", { ...on(brand, id), body: selection }));

/** takeOut takes items out of an album; nothing is deleted. */
export const takeOut = (brand: string, id: number, selection: Selection) => {
  actingOn(inOrder());
  return act(brand, client.POST("/api/brands/{brand}/albums/{id}/take-out", { ...on(brand, id), body: selection }));
};
