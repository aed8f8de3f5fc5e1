import { act, ask, client, told, type Schema } from "~/api/client";
import { queries } from "~/api/queries";

const at = (brand: string) => ({ params: { path: { brand } } });
const on = (brand: string, id: number) => ({ params: { path: { brand, id } } });

/** begin makes an intake of something; the list of intakes shows it at once. */
async function begin<T>(intake: Promise<T>) {
  const begun = await intake;
  await queries.invalidateQueries({ queryKey: ["intakes"] });
  return begun;
}

/** beginIntake opens an intake for files that the browser sends; it throws what is against it. */
export const beginIntake = (brand: string, intake: Schema["NewIntake"]) =>
  ask(client.POST("/api/brands/{brand}/intakes", { ...at(brand), body: intake }));

/** loadIntake reads an intake with its files. */
export const loadIntake = (brand: string, id: number) => ask(client.GET("/api/brands/{brand}/intakes/{id}", on(brand, id)));

/** announceFiles says which files these are, by their sums; what is here already is settled with that. */
export const announceFiles = (brand: string, id: number, files: { code: string; sum: string }[]) =>
  ask(client.POST("/api/brands/{brand}/intakes/{id}/announce", { ...on(brand, id), body: { files } }));

/** steerIntake pauses an intake, lets it go on, moves it ahead, or changes where it goes; it throws what is against it. */
export const steerIntake = (brand: string, id: number, change: Schema["IntakeChange"]) =>
  begin(ask(client.PATCH("/api/brands/{brand}/intakes/{id}", { ...on(brand, id), body: change })));

/** cancelIntake throws what is against it. */
export const cancelIntake = (brand: string, id: number) => ask(client.POST("/api/brands/{brand}/intakes/{id}/cancel", on(brand, id)));

/** undoIntake takes an intake back of which nobody has asked for anything else, without a word. It throws what is against it. */
export const undoIntake = (brand: string, trail: number) =>
  ask(client.POST("/api/brands/{brand}/trail/{id}/undo", { params: { path: { brand, id: trail } } }));

/** describeIntake sets words on files of an intake; it throws what is against it. */
export const describeIntake = async (brand: string, id: number, words: Schema["IntakeWords"]) =>
  told(brand, await ask(client.POST("/api/brands/{brand}/intakes/{id}/describe", { ...on(brand, id), body: words })));

export const decideDuplicate = (brand: string, intake: number, code: string, policy: Schema["Policy"]) =>
  act(brand, client.POST("/api/brands/{brand}/intakes/{id}/decide", { ...on(brand, intake), body: { code, policy } }));

export const decideTwins = (brand: string, pair: Schema["TwinDecision"]) =>
  act(brand, client.POST("/api/brands/{brand}/twins", { ...at(brand), body: pair }));

/** bringInFromServer throws what is against it. */
export const bringInFromServer = (brand: string, folder: number, what: Schema["NewServerIntake"]) =>
  begin(ask(client.POST("/api/brands/{brand}/server-folders/{id}/intakes", { ...on(brand, folder), body: what })));

export const watchFolder = (brand: string, what: Schema["NewWatchedFolder"]) =>
  act(brand, client.POST("/api/brands/{brand}/watched-folders", { ...at(brand), body: what }));

export const stopWatching = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/watched-folders/{id}", on(brand, id)));

export const allowServerFolder = (brand: string, path: string, name: string | undefined) =>
  act(brand, client.POST("/api/brands/{brand}/server-folders", { ...at(brand), body: { path, name } }));

/** letServerFolderTake allows that files are put into a server folder, or no longer. */
export const letServerFolderTake = (brand: string, id: number, takes: boolean) =>
  act(brand, client.PATCH("/api/brands/{brand}/server-folders/{id}", { ...on(brand, id), body: { takes } }));

export const removeServerFolder = (brand: string, id: number) =>
  act(brand, client.DELETE("/api/brands/{brand}/server-folders/{id}", on(brand, id)));

/** bringInFromOutlet throws what is against it. */
export const bringInFromOutlet = (brand: string, outlet: number, what: Schema["NewOutletIntake"]) =>
  begin(ask(client.POST("/api/brands/{brand}/outlets/{id}/intakes", { ...on(brand, outlet), body: what })));

/** setLimits throws what is against it. */
export async function setLimits(brand: string, limits: Schema["Limits"]) {
  queries.setQueryData(["limits"], await ask(client.PUT("/api/brands/{brand}/limits", { ...at(brand), body: limits })));
}

export const lookAgain = (brand: string, what: "likeness" | "sharpness" | "tint" | "focal" | "faces" | "film" | undefined) =>
  act(brand, client.POST("/api/brands/{brand}/looking", { ...at(brand), body: { what } }));
