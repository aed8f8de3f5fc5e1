import { clsx } from "clsx";
import { Captions, Maximize, Pause, Play, Shuffle, SkipBack, SkipForward, X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useEffect, useMemo, useState } from "react";
import { mediaAddress, type AssetRow } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { IconButton } from "~/kit/IconButton";
import { useSettings } from "~/kit/settings";
import { shortMoment, titleOf } from "~/kit/words";
import { selectOnly, useChosen } from "./selection";
import { endSlides, shuffled, useSlides } from "./slides";

/** Buttons on the dark ground of a slideshow. */
const buttons = "[&_button:hover]:outline-1 [&_button:hover]:outline-[var(--on-night)] [&_button]:text-[var(--on-night)]";

const speeds = [2, 4, 7, 12, 20];

/** Slideshow shows the items of a sheet one after the other, as large as the screen. A touch, a click or Space holds it. */
export function Slideshow({ brand, onView }: { brand: string; onView: (seen: number[]) => void }) {
  const ids = useSlides((s) => s.ids);
  return ids && <Running brand={brand} ids={ids} onView={onView} />;
}

function Running({ brand, ids, onView }: { brand: string; ids: number[]; onView: (seen: number[]) => void }) {
  const from = useSlides((s) => s.from);
  const loaded = useChosen((s) => s.ids);
  const { slideSeconds, slideCaptions, slidesShuffled, set } = useSettings();
  const [at, setAt] = useState(slidesShuffled ? 0 : from);
  const [playing, setPlaying] = useState(true);
  const [shown, setShown] = useState<number>(); // the item of which the picture is there
  const order = useMemo(() => (slidesShuffled ? shuffled(ids.length, from) : undefined), [slidesShuffled, ids, from]);
  const idAt = (n: number) => {
    const place = order?.[n] ?? n;
    const id = ids[place]!;
    return id > 0 ? id : (loaded[place] ?? id); // its page has come in meanwhile
  };
  const id = idAt(at);
  const row = useRow(id);
  const go = (by: number) => setAt((at + by + ids.length) % ids.length);
  const wanted = [id, idAt((at + 1) % ids.length), idAt((at + ids.length - 1) % ids.length)];
  const key = wanted.join();
  useEffect(() => {
    rows.want(wanted.filter((n) => n > 0));
    onView(wanted);
    const next = rows.get(wanted[1]!);
    if (next && next.kind !== "clip" && next.kind !== "file") new Image().src = mediaAddress(brand, next, "large");
    // when others are beside it
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [brand, key, onView, row]);
  const waits = playing && row !== undefined && (shown === id || row.kind === "file") && row.kind !== "clip";
  useEffect(() => {
    if (!waits) return;
    const timer = setTimeout(() => setAt((n) => (n + 1) % ids.length), slideSeconds * 1000);
    return () => clearTimeout(timer);
  }, [waits, at, slideSeconds, ids]);
  const end = () => {
    if (document.fullscreenElement) void document.exitFullscreen();
    endSlides();
    if (id > 0) selectOnly(id);
  };
  const shuffle = () => {
    useSlides.setState({ from: order?.[at] ?? at });
    setAt(slidesShuffled ? (order?.[at] ?? at) : 0);
    set({ slidesShuffled: !slidesShuffled });
  };
  const fill = () =>
    void (document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen()).catch(() => undefined);
  const onKey = (event: React.KeyboardEvent) => {
    const button = (event.target as HTMLElement).closest("button, select");
    const does: Record<string, () => void> = {
      ArrowRight: () => go(1),
      ArrowLeft: () => go(-1),
      c: () => set({ slideCaptions: !slideCaptions }),
      f: fill,
      ...(button ? {} : { " ": () => setPlaying(!playing) }),
    };
    if (
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      !does[event.key] ||
      (button?.tagName === "SELECT" && event.key.startsWith("Arrow"))
    )
      return;
    event.preventDefault();
    does[event.key]!();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && end()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-0 z-50 flex flex-col bg-night text-[var(--on-night)] outline-none"
          data-slide={id}
          onKeyDown={onKey}
          onOpenAutoFocus={(e) => {
            e.preventDefault(); // not its first button, which Space would press
            (e.target as HTMLElement).focus();
          }}
        >
          <Dialog.Title className="sr-only">Slideshow</Dialog.Title>
          <div className="relative min-h-0 flex-1" onPointerDown={() => setPlaying(false)}>
            {row && <Slide key={id} brand={brand} row={row} onShown={() => setShown(id)} onEnd={() => playing && go(1)} />}
          </div>
          {slideCaptions && row && (
            <p className="px-4 pt-2 text-center" data-caption>
              {titleOf(row)}
              {row.taken && <span> · {shortMoment(row.taken)}</span>}
            </p>
          )}
          <div className={clsx("flex flex-wrap items-center justify-center gap-1 p-2", buttons)}>
            <IconButton label="Slide before" icon={<SkipBack size={18} />} onClick={() => go(-1)} />
            <IconButton
              label={playing ? "Hold" : "Go on"}
              icon={playing ? <Pause size={18} /> : <Play size={18} />}
              onClick={() => setPlaying(!playing)}
            />
            <IconButton label="Next slide" icon={<SkipForward size={18} />} onClick={() => go(1)} />
            <span className="mx-2 tabular-nums">
              {(at + 1).toLocaleString("en-GB")} of {ids.length.toLocaleString("en-GB")}
            </span>
            <select
              aria-label="How long each is shown"
              className="min-h-8 rounded-patch border border-[var(--on-night)] bg-night px-2"
              value={slideSeconds}
              onChange={(e) => set({ slideSeconds: Number(e.target.value) })}
            >
              {speeds.map((s) => (
                <option key={s} value={s}>
                  {s} seconds
                </option>
              ))}
            </select>
            <IconButton label="In random order" aria-pressed={slidesShuffled} icon={<Shuffle size={18} />} onClick={shuffle} />
            <IconButton
              label="Captions"
              aria-pressed={slideCaptions}
              icon={<Captions size={18} />}
              onClick={() => set({ slideCaptions: !slideCaptions })}
            />
            <IconButton label="Fill the screen" icon={<Maximize size={18} />} onClick={fill} />
            <IconButton label="End the slideshow" icon={<X size={18} />} onClick={end} />
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Slide is one item as large as there is room. A clip is played to its end. */
function Slide({ brand, row, onShown, onEnd }: { brand: string; row: AssetRow; onShown: () => void; onEnd: () => void }) {
  const fill = "absolute inset-0 size-full object-contain";
  if (row.kind === "file") return <p className="grid h-full place-items-center">{row.fileName}</p>;
  if (row.kind === "clip")
    return (
      <video className={fill} src={mediaAddress(brand, row, "film")} autoPlay muted playsInline aria-label={titleOf(row)} onEnded={onEnd} />
    );
  return <img className={fill} src={mediaAddress(brand, row, "large")} alt={row.alt || titleOf(row)} onLoad={onShown} onError={onShown} />;
}
