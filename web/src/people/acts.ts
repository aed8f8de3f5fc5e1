import { act, ask, client, told, type Schema } from "~/api/client";
import { queries } from "~/api/queries";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** signIn throws what is against it. */
export const signIn = (email: string, password: string) => ask(client.POST("/api/session", { body: { email, password } }));

/** setRole makes somebody something else; it throws what is against it. */
export async function setRole(brand: string, person: number, role: Schema["Role"]) {
  queries.setQueryData(["rights"], await ask(client.PUT("/api/brands/{brand}/people/{id}/role", { ...on(brand, person), body: { role } })));
}

/** addColour and changeColour throw what is against them. */
export const addColour = async (brand: string, body: Schema["ColourName"]) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/colours", { ...at(brand), body })));
export const changeColour = async (brand: string, id: number, body: Schema["ColourName"]) =>
  told(brand, await ask(client.PUT("/api/brands/{brand}/colours/{id}", { ...on(brand, id), body })));
export const removeColour = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/colours/{id}", on(brand, id)));

export const giveGrant = (brand: string, grant: Schema["NewGrant"]) =>
  act(brand, client.POST("/api/brands/{brand}/grants", { ...at(brand), body: grant }));

export const takeGrant = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/grants/{id}", on(brand, id)));

/** newBrand throws what is against it. */
export const newBrand = (brand: string, name: string) => ask(client.POST("/api/brands/{brand}/brands", { ...at(brand), body: { name } }));

/** invite throws what is against it. */
export async function invite(brand: string, body: Schema["NewMember"]) {
  const invited = await ask(client.POST("/api/brands/{brand}/people", { ...at(brand), body }));
  void queries.invalidateQueries({ queryKey: ["rights"] });
  return invited;
}

/** newLink throws what is against it. */
export async function newLink(brand: string, person: number) {
  const invited = await ask(client.POST("/api/brands/{brand}/people/{id}/link", on(brand, person)));
  void queries.invalidateQueries({ queryKey: ["rights"] });
  return invited;
}

/** leaveBrand throws what is against it. */
export async function leaveBrand(brand: string, person: number) {
  await ask(client.DELETE("/api/brands/{brand}/people/{id}", on(brand, person)));
  void queries.invalidateQueries({ queryKey: ["rights"] });
}

/** changeBrand throws what is against it. */
export async function changeBrand(brand: string, body: Schema["BrandChange"]) {
  queries.setQueryData(["brand-settings"], await ask(client.PATCH("/api/brands/{brand}/settings", { ...at(brand), body })));
  void queries.invalidateQueries({ queryKey: ["me"] });
}

/** renameMe throws what is against it. */
export async function renameMe(name: string) {
  await ask(client.PATCH("/api/me", { body: { name } }));
  await queries.invalidateQueries({ queryKey: ["me"] });
}

/** changePassword throws what is against it. */
export async function changePassword(present: string, next: string, keepDrive: boolean) {
  await ask(client.POST("/api/me/password", { body: { present, next, keepDrive } }));
  void queries.invalidateQueries({ queryKey: ["drive-passwords"] });
  void queries.invalidateQueries({ queryKey: ["sessions"] });
}

export const endSession = (session: string) => ask(client.DELETE("/api/me/sessions/{session}", { params: { path: { session } } }));

export const viewInvitation = (token: string) => ask(client.GET("/api/join/{token}", { params: { path: { token } } }));

/** join throws what is against it. */
export const join = (token: string, password: string) =>
  ask(client.POST("/api/join/{token}", { params: { path: { token } }, body: { password } }));

/** makeStage throws what is against it. */
export const makeStage = async (brand: string, name: string) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/stages", { ...at(brand), body: { name } })));

/** changeStage throws what is against it. */
export const changeStage = async (brand: string, id: number, change: Schema["StageChange"]) =>
  told(brand, await ask(client.PATCH("/api/brands/{brand}/stages/{id}", { ...on(brand, id), body: change })));

export const removeStage = (brand: string, id: number) => act(brand, client.DELETE("/api/brands/{brand}/stages/{id}", on(brand, id)));

/** forgotPassword has a link sent to choose another password; it throws what is against it. */
export const forgotPassword = (email: string) => ask(client.POST("/api/session/forgotten", { body: { email } }));

/** makeDrivePassword gives a new password for the drive, which is shown this once; it throws what is against it. */
export async function makeDrivePassword(brand: string, name: string, present: string, days: number) {
  const made = await ask(client.POST("/api/brands/{brand}/drive-passwords", { ...at(brand), body: { name, present, days } }));
  void queries.invalidateQueries({ queryKey: ["drive-passwords"] });
  return made.password;
}

export async function endDrivePassword(brand: string, id: number) {
  await act(brand, client.DELETE("/api/brands/{brand}/drive-passwords/{id}", on(brand, id)));
  void queries.invalidateQueries({ queryKey: ["drive-passwords"] });
}
