import { act, client } from "~/api/client";

/** addTo puts items into an album. */
export const addTo = (brand: string, id: number, ids: number[]) => act(brand, client.POST("/api/brands/{brand}/albums/{id}/items", { params: { path: { brand, id } }, body: { ids } }));
