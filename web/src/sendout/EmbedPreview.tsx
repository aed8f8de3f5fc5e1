import { useEffect, useRef, useState, type MouseEvent } from "react";
import type { Schema } from "~/api/client";
import { useEmbedded } from "~/api/queries";
import { SatchelPictures } from "~/embed/element";
import { plural } from "~/kit/words";

const widths = [
  { label: "On a phone", pixels: 360 },
  { label: "On a tablet", pixels: 768 },
  { label: "On a desktop", pixels: 1200 },
];

/** EmbedPreview shows an embed as it will be on a page, at three widths, by the same script that pages load. */
export function EmbedPreview({ brand, id }: { brand: string; id: number }) {
  const shown = useEmbedded(brand, id).data;
  const [pixels, setPixels] = useState(1200);
  return (
    <section aria-label="As it will be" className="rounded-xl border border-line bg-card p-4">
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <h2 className="flex-1 text-base">As it will be</h2>
        <span
          role="radiogroup"
          aria-label="Width of the page"
          className="inline-flex overflow-hidden rounded-patch border border-line-strong"
        >
          {widths.map((w) => (
            <button
              key={w.pixels}
              type="button"
              role="radio"
              aria-checked={pixels === w.pixels}
              className={`px-2.5 py-1 text-dense ${pixels === w.pixels ? "bg-saffron text-on-saffron" : "hover:bg-sunk"}`}
              onClick={() => setPixels(w.pixels)}
            >
              {w.label}
            </button>
          ))}
        </span>
      </div>
      {shown?.pictures.length === 0 ? (
        <p className="text-ink-soft">Nothing of what you chose can be shown yet. Whatever comes into it will be.</p>
      ) : (
        shown && <Framed shown={shown} pixels={pixels} />
      )}
      {shown && shown.pictures.length > 0 && (
        <p className="mt-2 text-small text-ink-soft">
          {plural(shown.pictures.length, "picture")} of {shown.total.toLocaleString("en-GB")}. What was set aside, and whose rights or
          consents have ended, is left out by itself.
        </p>
      )}
    </section>
  );
}

/** Framed is the embed in a page of some width, made smaller to have room. */
function Framed({ shown, pixels }: { shown: Schema["Embedded"]; pixels: number }) {
  const frame = useRef<HTMLDivElement>(null);
  const element = useRef<SatchelPictures>(undefined);
  const [room, setRoom] = useState(0);
  useEffect(() => {
    const made = (element.current = new SatchelPictures());
    frame.current!.append(made);
    const watch = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width));
    watch.observe(frame.current!.parentElement!);
    return () => {
      watch.disconnect();
      made.remove();
    };
  }, []);
  useEffect(() => element.current?.show(shown), [shown]);
  const stay = (e: MouseEvent) => {
    if (e.nativeEvent.composedPath().some((n) => n instanceof HTMLAnchorElement)) e.preventDefault();
  };
  return (
    <div className="max-h-[60vh] overflow-auto rounded-patch border border-line bg-white p-2 text-black" onClickCapture={stay} tabIndex={0}>
      <div ref={frame} data-embed-frame={pixels} style={{ width: pixels, zoom: room ? Math.min(1, (room - 4) / pixels) : 1 }} />
    </div>
  );
}
