import type { Schema } from "~/api/client";

/** The sizes of public addresses, as core/embeds has them. */
export const sizes = [
  { name: "small", width: 640 },
  { name: "medium", width: 1280 },
  { name: "large", width: 1920 },
] as const;
export type Size = (typeof sizes)[number]["name"];

/** Chosen is an item that an editor chose, with the alt text for their page. */
export interface Chosen {
  id: number;
  alt: string;
}

/** Picked is what a website gets of each item. */
export interface Picked {
  src: string;
  srcset: string;
  width: number;
  height: number;
  alt: string;
  title: string;
  credit: string;
}

const fill = (address: string, width: string | number, format: string) =>
  address.replace("{width}", String(width)).replace("{format}", format);

/** pickedOf tells of what was chosen, in its order, at a size. */
export function pickedOf(chosen: Chosen[], addresses: Schema["PublicAddress"][], size: Size): Picked[] {
  const widest = sizes.find((s) => s.name === size)!.width;
  return chosen.flatMap(({ id, alt }) => {
    const p = addresses.find((a) => a.item === id)?.picture;
    if (!p) return [];
    const format = p.formats.at(-1)!;
    const width = Math.min(p.width, widest, p.widths.filter((w) => w <= widest).at(-1) ?? widest);
    return {
      src: fill(p.picture, size, format),
      srcset: p.widths
        .filter((w) => w <= widest)
        .map((w) => `${fill(p.picture, w, format)} ${Math.min(w, p.width)}w`)
        .join(", "),
      width,
      height: Math.max(1, Math.round((p.height * width) / p.width)),
      alt,
      title: p.title,
      credit: p.caption,
    };
  });
}

/** handOver gives what was chosen to the window that opened this one, if that is a page of the website, and closes. */
export function handOver(origin: string, state: string | undefined, chosen: Chosen[], addresses: Schema["PublicAddress"][], size: Size) {
  const opener = window.opener as Window | null;
  if (!opener) throw new Error("The page that opened this window is closed. Open the picker there again.");
  const from = document.referrer ? new URL(document.referrer).origin : "";
  if (from && from !== origin && from !== window.location.origin)
    throw new Error(
      `This window was opened by ${from}, and pictures are handed to ${origin} only. Open the picker there, or have a steward add it.`,
    );
  opener.postMessage({ type: "satchel-picked", state, pictures: pickedOf(chosen, addresses, size) }, origin); // no other origin gets it
  window.close();
}
