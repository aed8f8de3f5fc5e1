import { ArrowLeft, ArrowRight, Download, X } from "lucide-react";
import { Dialog as Radix } from "radix-ui";
import { useEffect, useRef } from "react";
import type { Schema } from "~/api/client";
import { IconButton } from "~/kit/Button";
import { pictureAddress } from "./pictureAddress";

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
                <Download size={16} /> Take it along
              </a>
            )}
            <IconButton label="Close" className="text-[var(--card-on-night)]" icon={<X size={20} />} onClick={() => setAt(undefined)} />
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
          <div className="flex justify-center gap-6 p-3">
            <IconButton
              label="Picture before"
              className="text-[var(--card-on-night)]"
              icon={<ArrowLeft size={22} />}
              disabled={at === 0}
              onClick={() => turn(-1)}
            />
            <IconButton
              label="Next picture"
              className="text-[var(--card-on-night)]"
              icon={<ArrowRight size={22} />}
              disabled={at === last}
              onClick={() => turn(1)}
            />
          </div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
