import { ArrowLeft, ArrowRight, Maximize, MessageSquare, Pause, Play, Share2, X } from "lucide-react";
import { Dialog as Radix } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import type { Schema } from "~/api/client";
import { ListButtons } from "./Lists";
import { Pinched } from "./Pinched";
import { pictureAddress, takeAddress } from "./pictureAddress";
import { pointsOf, Remarks } from "./Remarks";
import { Take } from "./Take";
import { useAsked, type Talk } from "./talk";
import { fill, words } from "./words";

/** Controls on the dark ground of the big view. */
const control =
  "inline-flex min-h-9 shrink-0 items-center gap-1.5 rounded-patch border border-[var(--card-on-night)] px-3 py-1 font-medium " +
  "text-[var(--card-on-night)] hover:bg-[var(--card-on-night)] hover:text-night disabled:opacity-40";
/** How long a slideshow shows a picture, in milliseconds. */
const pace = 4000;

/** GuestBigView shows one picture large: arrows, keys and swipes turn the page, two fingers enlarge it, and it can play by itself. */
export function GuestBigView({
  code,
  gallery,
  pictures,
  talk,
  at,
  setAt,
  playing,
  setPlaying,
}: {
  code: string;
  gallery: Schema["GuestGallery"];
  /** Those through which one turns. */
  pictures: Schema["GuestPicture"][];
  talk: Talk | undefined;
  at: number;
  setAt: (at: number | undefined) => void;
  playing: boolean;
  setPlaying: (on: boolean) => void;
}) {
  const picture = pictures[at]!;
  const last = pictures.length - 1;
  const [said, setSaid] = useState("");
  const problem = useAsked((s) => s.problem);
  const [aside, setAside] = useState(false);
  const [pointing, setPointing] = useState(false);
  const [point, setPoint] = useState<{ x: number; y: number }>();
  const remarks = (talk?.remarks ?? []).filter((r) => r.picture === picture.code).length;
  const turn = (by: number) => {
    setSaid("");
    useAsked.setState({ problem: undefined });
    setPointing(false);
    setPoint(undefined);
    setAt(Math.max(0, Math.min(last, at + by)));
  };
  useEffect(() => {
    for (const near of [pictures[at + 1], pictures[at - 1]]) if (near) new Image().src = pictureAddress(code, near, "large");
  }, [at, code, pictures]);
  useEffect(() => {
    if (!playing || picture.kind === "clip") return;
    const timer = setTimeout(() => setAt(at === last ? 0 : at + 1), pace);
    return () => clearTimeout(timer);
  }, [playing, at, last, picture.kind, setAt]);
  useEffect(() => {
    history.replaceState(null, "", `#${picture.code}`);
    return () => history.replaceState(null, "", window.location.pathname + window.location.search);
  }, [picture.code]);
  const share = async () => {
    const url = window.location.href;
    try {
      if (navigator.share) await navigator.share({ url, title: picture.title || gallery.title });
      else {
        await navigator.clipboard.writeText(url);
        setSaid(words.copied);
      }
    } catch {
      setSaid(url); // to be copied by hand
    }
  };
  const pressed = useRef<(e: KeyboardEvent) => void>(() => undefined);
  useEffect(() => {
    pressed.current = (e) => {
      const within = e.target as HTMLElement;
      if (within.closest?.("textarea, input, select, video, [role=menu]") || within.closest?.("[role=dialog]:not([data-guest-big])"))
        return;
      if (e.altKey || e.ctrlKey || e.metaKey) return;
      if (e.key === "ArrowRight") turn(1);
      else if (e.key === "ArrowLeft") turn(-1);
      else if (e.key === "Home") setAt(0);
      else if (e.key === "End") setAt(last);
    };
  });
  useEffect(() => {
    // wherever the focus is: a dialog that has closed leaves it nowhere
    const listen = (e: KeyboardEvent) => pressed.current(e);
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  const full = () => void (document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen());
  return (
    <Radix.Root open onOpenChange={(open) => !open && setAt(undefined)}>
      <Radix.Portal>
        <Radix.Content
          aria-describedby={undefined}
          data-guest-big={picture.code}
          data-playing={playing || undefined}
          className="fixed inset-0 z-40 flex flex-col bg-night outline-none"
        >
          <Radix.Title className="truncate px-4 py-2 text-center text-base text-[var(--card-on-night)]">
            {picture.title || words.picture} · {fill(words.of, { at: at + 1, n: last + 1 })}
          </Radix.Title>
          <div className="flex min-h-0 flex-1 max-md:flex-col">
            <div className="grid min-h-0 min-w-0 flex-1 place-items-center [container-type:size]">
              {picture.kind === "clip" ? (
                <video
                  key={picture.code}
                  controls
                  autoPlay={playing}
                  muted={playing}
                  onEnded={() => playing && setAt(at === last ? 0 : at + 1)}
                  src={pictureAddress(code, picture, "film")}
                  poster={pictureAddress(code, picture, "large")}
                  className="max-h-full max-w-full"
                />
              ) : (
                <Pinched
                  key={picture.code}
                  src={pictureAddress(code, picture, "large")}
                  alt={picture.alt || picture.title}
                  onSwipe={turn}
                  points={aside ? pointsOf(talk, picture.code) : []}
                  point={pointing ? point : undefined}
                  onPoint={pointing ? setPoint : undefined}
                />
              )}
            </div>
            {aside && talk && (
              <aside className="w-80 overflow-y-auto bg-card p-4 text-ink max-md:max-h-[45dvh] max-md:w-full">
                <Remarks
                  key={picture.code}
                  code={code}
                  talk={talk}
                  picture={picture.code}
                  brand={gallery.brandName}
                  point={pointing ? point : undefined}
                  pointing={pointing}
                  setPointing={(on) => {
                    setPointing(on);
                    setPoint(undefined);
                  }}
                />
              </aside>
            )}
          </div>
          {picture.caption && (
            <p className="mx-auto max-h-24 max-w-2xl overflow-y-auto px-4 pt-2 text-center text-[var(--card-on-night)]" data-caption>
              {picture.caption}
            </p>
          )}
          <p role="status" className="px-4 text-center text-dense break-all text-[var(--card-on-night)]">
            {said || problem}
          </p>
          <div
            role="group"
            aria-label={picture.title || words.picture}
            className="flex justify-center-safe gap-2 overflow-x-auto p-3"
            data-acts
          >
            <button type="button" className={control} onClick={() => setAt(undefined)}>
              <X size={20} aria-hidden="true" /> {words.close}
            </button>
            <button type="button" className={control} disabled={at === 0} onClick={() => turn(-1)}>
              <ArrowLeft size={20} aria-hidden="true" /> <span className="max-sm:sr-only">{words.before}</span>
            </button>
            <button type="button" className={control} disabled={at === last} onClick={() => turn(1)}>
              <span className="max-sm:sr-only">{words.next}</span> <ArrowRight size={20} aria-hidden="true" />
            </button>
            {talk && <ListButtons code={code} talk={talk} picture={picture.code} className={control} />}
            {talk && (talk.mayRemark || remarks > 0) && (
              <button type="button" className={control} aria-pressed={aside} onClick={() => setAside(!aside)}>
                <MessageSquare size={16} aria-hidden="true" /> {words.remarks} {remarks > 0 && remarks}
              </button>
            )}
            <Take
              name="one"
              label={words.download}
              sizes={gallery.sizes}
              address={(size) => takeAddress(code, picture, size)}
              className="inline-flex min-h-9 shrink-0 items-center gap-1.5 rounded-patch bg-saffron px-3 py-1 font-medium text-on-saffron"
            />
            <button type="button" className={control} aria-pressed={playing} onClick={() => setPlaying(!playing)}>
              {playing ? <Pause size={18} aria-hidden="true" /> : <Play size={18} aria-hidden="true" />}
              <span className="max-sm:sr-only">{playing ? words.pause : words.play}</span>
            </button>
            {document.fullscreenEnabled && (
              <button type="button" className={control} onClick={full}>
                <Maximize size={18} aria-hidden="true" /> <span className="max-sm:sr-only">{words.full}</span>
              </button>
            )}
            <button type="button" className={control} onClick={() => void share()}>
              <Share2 size={18} aria-hidden="true" /> <span className="max-sm:sr-only">{words.share}</span>
            </button>
          </div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
