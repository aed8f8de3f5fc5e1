import { act, client, type Selection } from "~/api/client";

const at = (brand: string) => ({ params: { path: { brand } } });

export const carry = (brand: string, selection: Selection) =>
  act(brand, client.POST("/api/brands/{brand}/satchel", { ...at(brand), body: selection }));

export const putDown = (brand: string, ids: number[]) =>
  act(brand, client.POST("/api/brands/{brand}/satchel/take-out", { ...at(brand), body: { ids } }));

export const orderSatchel = (brand: string, ids: number[], before: number | undefined) =>
  act(brand, client.POST("/api/brands/{brand}/satchel/order", { ...at(brand), body: { ids, before } }));
