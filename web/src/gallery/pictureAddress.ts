/** pictureAddress is where a guest's browser finds a picture; there is none for originals. */
export const pictureAddress = (code: string, p: { code: string; version: string }, size: "small" | "medium" | "large" | "film") =>
  `/g/${code}/media/${p.code}/${size}?v=${p.version}`;

/** takeAddress is where it is had in an output size; 0 is the original. */
export const takeAddress = (code: string, p: { code: string }, size: number) => `/g/${code}/take/${p.code}?size=${size}`;

/** zipAddress is where all of a gallery is had, or one chapter, by its number from 1, or what this guest put into a list. */
export const zipAddress = (code: string, size: number, only: { chapter?: number; list?: number } = {}) =>
  `/g/${code}/all.zip?size=${size}${only.chapter ? `&chapter=${only.chapter}` : ""}${only.list ? `&list=${only.list}` : ""}`;
