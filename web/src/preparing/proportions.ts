import type { Schema } from "~/api/client";

/** Box is a width and a height, in pixels or as a proportion. */
export type Box = { width: number; height: number };

/** Named is a proportion as it is offered. */
export type Named = Box & { label: string };

/** usual are the proportions that everybody is offered. */
export const usual: Named[] = [
  { label: "1 : 1", width: 1, height: 1 },
  { label: "4 : 5", width: 4, height: 5 },
  { label: "3 : 2", width: 3, height: 2 },
  { label: "2 : 3", width: 2, height: 3 },
  { label: "16 : 9", width: 16, height: 9 },
  { label: "9 : 16", width: 9, height: 16 },
];

/** proportionOf names the proportions of a box by the smallest whole numbers: 1080 × 1080 is 1:1. */
export function proportionOf({ width, height }: Box) {
  let [a, b] = [width, height];
  while (b) [a, b] = [b, a % b];
  return `${width / a}:${height / a}`;
}

/** boundsOf are the narrowest and the widest proportions that connected pages take, each once, beside those that everybody is offered. */
export function boundsOf(pages: Pick<Schema["PageCrop"], "name" | "narrowest" | "widest">[]): Named[] {
  const known = usual.map(proportionOf);
  const out: Named[] = [];
  for (const page of pages)
    for (const [bound, words] of [
      [page.narrowest, "the narrowest"],
      [page.widest, "the widest"],
    ] as const) {
      if (!bound || known.includes(proportionOf(bound))) continue;
      known.push(proportionOf(bound));
      out.push({ ...bound, label: `${bound.width} : ${bound.height}, ${words} on ${page.name}` });
    }
  return out;
}
