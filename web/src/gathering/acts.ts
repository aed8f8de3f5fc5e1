import { act, ask, client, type Selection } from "~/api/client";
import { actingOn, inOrder } from "~/sheet/selection";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** newAlbum makes an album, with a selection in it if there is one. It throws what is against it. */
export const newAlbum = (brand: string, name: string, selection?: Selection) =>
  ask(client.POST("/api/brands/{brand}/albums", { ...at(brand), body: { name, selection } }));

/** renameAlbum throws what is against it. */
export const renameAlbum = (brand: string, id: number, name: string) =>
  ask(client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { name } }));

export const coverAlbum = (brand: string, id: number, cover: number | undefined) =>
  act(brand, client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { cover } }));

export const removeAlbum = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/albums/{id}", on(brand, id)));

/** addTo puts items at the end of an album. */
export const addTo = (brand: string, id: number, selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/albums/{id}/items", { ...on(brand, id), body: selection }));

/** takeOut takes items out of an album; nothing is deleted. */
export const takeOut = (brand: string, id: number, selection: Selection) => {
  actingOn(inOrder());
  return act(brand, client.POST("/api/brands/{brand}/albums/{id}/take-out", { ...on(brand, id), body: selection }));
};
