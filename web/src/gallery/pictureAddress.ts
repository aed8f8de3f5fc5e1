/** pictureAddress is where a guest's browser finds a picture; there is none for originals. */
export const pictureAddress = (
  code: string,
  p: { code: string; version: string },
  size: "small" | "medium" | "large" | "download" | "film",
) => `/g/${code}/media/${p.code}/${size}?v=${p.version}`;
