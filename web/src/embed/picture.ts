import type { Schema } from "~/api/client";

export type Shown = Schema["Embedded"];
type Picture = Shown["pictures"][number];

export const make = <K extends keyof HTMLElementTagNameMap>(tag: K) => document.createElement(tag);

const types: Record<string, string> = { avif: "image/avif", webp: "image/webp" };

/** pictureOf is a picture that the browser takes in the best format and width; sizes says how wide it is shown. */
export function pictureOf(p: Picture, sizes: string, lazy: boolean) {
  const address = (width: number, format: string) => p.picture.replace("{width}", String(width)).replace("{format}", format);
  const set = (format: string) => p.widths.map((w) => `${address(w, format)} ${Math.min(w, p.width)}w`).join(", ");
  const picture = make("picture");
  const last = p.formats.at(-1)!;
  for (const format of p.formats) {
    if (format === last) break;
    const source = make("source");
    source.type = types[format] ?? "";
    source.srcset = set(format);
    source.sizes = sizes;
    picture.append(source);
  }
  const img = make("img");
  if (lazy) img.loading = "lazy";
  img.decoding = "async";
  img.alt = p.alt;
  img.width = p.width;
  img.height = p.height;
  img.sizes = sizes;
  img.srcset = set(last);
  img.src = address(p.widths.at(Math.floor(p.widths.length / 2)) ?? p.widths[0]!, last);
  img.style.setProperty("--tint", `#${p.tint.toString(16).padStart(6, "0")}`);
  img.style.setProperty("--focal", `${p.focalX * 100}% ${p.focalY * 100}%`);
  picture.append(img);
  return picture;
}
