import { ArrowLeft, ArrowRight, Download, X } from "lucide-react";
import { Dialog as Radix } from "radix-ui";
import { useEffect, useRef } from "react";
import type { Schema } from "~/api/client";
import { pictureAddress } from "./pictureAddress";

/** Controls on the dark ground of the big view. */
const control =
  "inline-flex min-h-9 items-center gap-1.5 rounded-patch border border-[var(--card-on-night)] px-3 py-1 font-medium " +
  "text-[var(--card-on-night)] hover:bg-[var(--card-on-night)] hover:text-night disabled:opacity-40";

const swipe = 50; // pixels sideways that turn the page

/** GuestBigView shows one picture large: arrows, keys and swipes turn the page. */
export function GuestBigView({
  code,
  gallery,
  at,
  setAt,
}: {
  code: string;
  gallery: Schema["GuestGallery"];
  at: number;
  setAt: (at: number | undefined) => void;
}) {
  const picture = gallery.pictures[at]!;
  const last = gallery.pictures.length - 1;
  const from = useRef<number>(undefined);
  const turn = (by: number) => setAt(Math.max(0, Math.min(last, at + by)));
  useEffect(() => {
    for (const near of [gallery.pictures[at + 1], gallery.pictures[at - 1]])
      if (near) new Image().src = pictureAddress(code, near, "large");
  }, [at, code, gallery]);
  return (
    <Radix.Root open onOpenChange={(open) => !open && setAt(undefined)}>
      <Radix.Portal>
        <Radix.Content
          aria-describedby={undefined}
          data-guest-big={picture.code}
          className="fixed inset-0 z-40 flex touch-pan-y flex-col bg-night outline-none"
          onKeyDown={(e) => {
            if (e.key === "ArrowRight") turn(1);
            else if (e.key === "ArrowLeft") turn(-1);
          }}
          onTouchStart={(e) => (from.current = e.changedTouches[0]!.clientX)}
          onTouchEnd={(e) => {
            const moved = e.changedTouches[0]!.clientX - (from.current ?? 0);
            if (Math.abs(moved) > swipe) turn(moved < 0 ? 1 : -1);
          }}
        >
          <div className="flex items-center gap-2 p-2">
            <Radix.Title className="min-w-0 flex-1 truncate px-2 text-base text-[var(--card-on-night)]">
              {picture.title || "Picture"} · {at + 1} of {last + 1}
            </Radix.Title>
            {gallery.downloads && (
              <a
                href={pictureAddress(code, picture, "download")}
                download
                className="inline-flex items-center gap-1.5 rounded-patch bg-saffron px-3 py-1.5 font-medium text-on-saffron"
                data-one
              >
                <Download size={16} /> Download
              </a>
            )}
            <button type="button" className={control} onClick={() => setAt(undefined)}>
              <X size={20} aria-hidden="true" /> Close
            </button>
          </div>
          <div className="grid min-h-0 flex-1 place-items-center px-2">
            {picture.kind === "clip" ? (
              <video
                key={picture.code}
                controls
                src={pictureAddress(code, picture, "film")}
                poster={pictureAddress(code, picture, "large")}
                className="max-h-full max-w-full"
              />
            ) : (
              <img
                key={picture.code}
                src={pictureAddress(code, picture, "large")}
                alt={picture.alt || picture.title}
                className="max-h-full max-w-full min-h-0 object-contain"
              />
            )}
          </div>
          {picture.caption && (
            <p className="mx-auto max-h-24 max-w-2xl overflow-y-auto px-4 pt-2 text-center text-[var(--card-on-night)]" data-caption>
              {picture.caption}
            </p>
          )}
          <div className="flex justify-center gap-4 p-3">
            <button type="button" className={control} disabled={at === 0} onClick={() => turn(-1)}>
              <ArrowLeft size={20} aria-hidden="true" /> Before
            </button>
            <button type="button" className={control} disabled={at === last} onClick={() => turn(1)}>
              Next <ArrowRight size={20} aria-hidden="true" />
            </button>
          </div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
