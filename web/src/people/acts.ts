import { act, ask, client, type Schema } from "~/api/client";
import { queries } from "~/api/queries";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** signIn throws what is against it. */
export const signIn = (email: string, password: string) => ask(client.POST("/api/session", { body: { email, password } }));

/** setRole makes somebody something else; it throws what is against it. */
export async function setRole(brand: string, person: number, role: Schema["Role"]) {
  queries.setQueryData(["rights"], await ask(client.PUT("/api/brands/{brand}/people/{id}/role", { ...on(brand, person), body: { role } })));
}

export const giveGrant = (brand: string, grant: Schema["NewGrant"]) =>
  act(brand, client.POST("/api/brands/{brand}/grants", { ...at(brand), body: grant }));

export const takeGrant = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/grants/{id}", on(brand, id)));

/** newBrand throws what is against it. */
export const newBrand = (brand: string, name: string) => ask(client.POST("/api/brands/{brand}/brands", { ...at(brand), body: { name } }));
