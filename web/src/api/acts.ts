import { act, ask, client, type Selection } from "./client";

/** Acts that more than one step offers. */

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** newFolder makes a folder, or several: one for each line. */
export const newFolder = (brand: string, name: string, parent?: number) =>
  act(brand, client.POST("/api/brands/{brand}/folders", { ...at(brand), body: { name, parent } }));

/** putBack takes items out of the bin. */
export const putBack = (brand: string, selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/bin/restore", { ...at(brand), body: selection }));

/** placeByHand puts items of an album or a folder before another one, or at the end. */
export const placeByHand = (brand: string, where: "album" | "folder", id: number, ids: number[], before: number | undefined) =>
  act(
    brand,
    where === "album"
      ? client.POST("/api/brands/{brand}/albums/{id}/order", { ...on(brand, id), body: { ids, before } })
      : client.POST("/api/brands/{brand}/folders/{id}/order", { ...on(brand, id), body: { ids, before } }),
  );

/** signOut ends the session. */
export const signOut = () => ask(client.DELETE("/api/session"));
