import { act, ask, client, type Schema } from "~/api/client";
import { queries } from "~/api/queries";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** download begins to make a ZIP; it throws what is against it. */
export async function download(brand: string, wanted: Schema["NewDownload"]) {
  await ask(client.POST("/api/brands/{brand}/downloads", { ...at(brand), body: wanted }));
  await queries.invalidateQueries({ queryKey: ["downloads"] });
}

/** previewDownload asks which files a ZIP would have. */
export const previewDownload = (brand: string, wanted: Schema["NewDownload"]) =>
  ask(client.POST("/api/brands/{brand}/downloads/preview", { ...at(brand), body: wanted }));

/** makeAgain makes what failed of a ZIP; it throws what is against it. */
export const makeAgain = (brand: string, id: number) => ask(client.POST("/api/brands/{brand}/downloads/{id}/retry", on(brand, id)));

/** newGallery throws what is against it. */
export const newGallery = (brand: string, gallery: Schema["NewGallery"]) =>
  ask(client.POST("/api/brands/{brand}/galleries", { ...at(brand), body: gallery }));

export const changeGallery = (brand: string, id: number, change: Partial<Schema["GalleryChange"]>) =>
  act(brand, client.PATCH("/api/brands/{brand}/galleries/{id}", { ...on(brand, id), body: change }));

/** setGallery writes one field of a gallery, which says by itself that it is saved; it throws what is against it. */
export const setGallery = (brand: string, id: number, change: Partial<Schema["GalleryChange"]>) =>
  ask(client.PATCH("/api/brands/{brand}/galleries/{id}", { ...on(brand, id), body: change }));
