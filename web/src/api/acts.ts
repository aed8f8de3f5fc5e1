import { act, ask, client, told, type Schema, type Selection } from "./client";

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

/** keepByRule makes an album that a rule keeps filled; pick is how many of what it finds are shown at random, 0 for all. It throws what
 * is against it. */
export const keepByRule = async (brand: string, name: string, rule: Schema["Rule"], pick: number) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/albums", { ...at(brand), body: { name, rule, pick } })));

/** changeRule gives such an album another rule. It throws what is against it. */
export const changeRule = async (brand: string, id: number, rule: Schema["Rule"], pick: number) =>
  told(brand, await ask(client.PATCH("/api/brands/{brand}/albums/{id}", { ...on(brand, id), body: { rule, pick } })));

/** signOut ends the session. */
export const signOut = () => ask(client.DELETE("/api/session"));
