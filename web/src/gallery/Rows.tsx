import { clsx } from "clsx";
import { Play } from "lucide-react";
import { memo, useEffect, useMemo, useRef, useState, type RefObject } from "react";
import type { Schema } from "~/api/client";
import { layOut, type Layout } from "~/kit/layout";
import { duration, tint } from "~/kit/words";
import { pictureAddress } from "./pictureAddress";
import { fill, words } from "./words";

type Picture = Schema["GuestPicture"];

/** How high the rows of a gallery are, about, and the line of words below a picture. */
const rowHeight = 240;
const captionLine = 24;
/** So many rows are drawn, or left out, together. */
const together = 8;

/** Rows fill the width with pictures, each with its own proportions. Rows that are far from what is seen are not drawn. */
export const Rows = memo(function Rows({
  code,
  pictures,
  width,
  label,
  onBig,
}: {
  code: string;
  pictures: Picture[];
  width: number;
  label: string;
  onBig: (code: string) => void;
}) {
  const layout = useMemo(
    () =>
      layOut(
        pictures.map((p) => (1000 * p.width) / Math.max(1, p.height)),
        width,
        Math.min(rowHeight, Math.max(120, width / 2.2)),
        captionLine,
      ),
    [pictures, width],
  );
  const parts = Array.from({ length: Math.ceil(layout.rows / together) }, (_, i) => i * together);
  return parts.map((row) => <Part key={row} code={code} pictures={pictures} layout={layout} row={row} label={label} onBig={onBig} />);
});

/** How far beyond what is seen, in CSS pixels, rows are drawn. */
const ahead = 2500;

/** useNear says whether an element was ever near to what is seen. What is not stays empty, at its height, so that the first row of
 * 2,000 pictures does not wait for the last. */
function useNear(element: RefObject<HTMLElement | null>, first: boolean) {
  const [near, setNear] = useState(first);
  useEffect(() => {
    if (near || !element.current) return;
    const look = new IntersectionObserver((seen) => seen.some((s) => s.isIntersecting) && setNear(true), { rootMargin: `${ahead}px 0px` });
    look.observe(element.current);
    return () => look.disconnect();
  }, [near, element]);
  return near;
}

function Part({
  code,
  pictures,
  layout,
  row,
  label,
  onBig,
}: {
  code: string;
  pictures: Picture[];
  layout: Layout;
  row: number;
  label: string;
  onBig: (code: string) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  const near = useNear(list, row === 0);
  const last = Math.min(layout.rows, row + together);
  const top = layout.tops[row]!;
  const height = layout.tops[last]! - top;
  const rowOfItem: number[] = [];
  for (let r = row; r < last && near; r++) for (let i = layout.first[r]!; i < layout.first[r + 1]!; i++) rowOfItem.push(r);
  return (
    <ul
      ref={list}
      className="relative"
      style={{ height, contentVisibility: "auto", containIntrinsicSize: `auto ${height}px` }}
      aria-label={row === 0 ? label : `${label}, ${fill(words.of, { at: layout.first[row]! + 1, n: pictures.length })}`}
      data-pictures={layout.first[last]! - layout.first[row]!}
    >
      {rowOfItem.map((r, at) => {
        const i = layout.first[row]! + at;
        const p = pictures[i]!;
        return (
          <li key={p.code} className="absolute" style={{ left: layout.left[i], top: layout.tops[r]! - top, width: layout.width[i] }}>
            <button
              type="button"
              className="relative block w-full overflow-hidden rounded-[3px]"
              aria-label={fill(words.big, { title: p.title || words.picture })}
              onClick={() => onBig(p.code)}
              style={{ height: layout.heights[r], backgroundColor: tint(p.tint) }}
            >
              <img
                src={pictureAddress(code, p, "medium")}
                srcSet={[
                  `${pictureAddress(code, p, "small")} 600w`,
                  `${pictureAddress(code, p, "medium")} 1000w`,
                  `${pictureAddress(code, p, "large")} 2000w`,
                ].join(", ")}
                sizes={`${Math.round(layout.width[i]!)}px`}
                alt={p.alt || p.title}
                loading="lazy"
                decoding="async"
                className="size-full object-cover"
              />
              {p.kind === "clip" && (
                <span
                  className={clsx(
                    "absolute right-2 bottom-2 inline-flex items-center gap-1 rounded-full bg-ink px-2 py-0.5",
                    "text-small text-paper",
                  )}
                >
                  <Play size={12} /> {duration(p.seconds ?? 0)}
                </span>
              )}
            </button>
            <p className="h-6 truncate pt-1 text-dense text-ink-soft" title={p.title}>
              {p.title}
            </p>
          </li>
        );
      })}
    </ul>
  );
}
