import { clsx } from "clsx";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, Play } from "lucide-react";
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type FormEvent } from "react";
import { messageOf, type Schema } from "~/api/client";
import { unlock, visit } from "./acts";
import { Button } from "~/kit/Button";
import { TextField } from "~/kit/Field";
import { focalPosition } from "~/kit/focal";
import { dayName, duration, items, tint } from "~/kit/words";
import { layOut, rowOf, topOf } from "~/kit/layout";
import { GuestBigView } from "./GuestBigView";
import { pictureAddress } from "./pictureAddress";

/** How high the rows of a gallery are, about, and the line of words below a picture. */
const rowHeight = 240;
const captionLine = 24;

/** GuestPage is a client gallery as guests see it: locked, closed, or open. */
export function GuestPage({ code }: { code: string }) {
  const { data: gallery, error } = useQuery({ queryKey: ["gallery"], retry: false, queryFn: () => visit(code) });
  useEffect(() => {
    if (gallery) document.title = gallery.title || "Gallery";
  }, [gallery]);
  if (error) return <Plain title="There is no gallery here" text={messageOf(error)} />;
  if (!gallery) return null;
  if (gallery.state === "closed")
    return (
      <Plain
        title="This gallery is closed"
        text={`It was open for a while, and is not any more. If you still need the pictures, ask the people at ${gallery.brandName}.`}
      />
    );
  if (gallery.state === "locked") return <Locked code={code} gallery={gallery} />;
  return <Open code={code} gallery={gallery} />;
}

function Plain({ title, text }: { title: string; text: string }) {
  return (
    <main className="grid min-h-full place-items-center p-6 text-center">
      <div className="max-w-md">
        <h1 className="stitch-b mb-4 pb-3 text-3xl">{title}</h1>
        <p className="text-base text-ink-soft">{text}</p>
      </div>
    </main>
  );
}

function Locked({ code, gallery }: { code: string; gallery: Schema["GuestGallery"] }) {
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const password = String(new FormData(event.currentTarget).get("password"));
    try {
      await unlock(code, password);
      await cache.invalidateQueries();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <main className="grid min-h-full place-items-center p-6">
      <form className="w-full max-w-sm" onSubmit={(e) => void submit(e)}>
        <p className="text-ink-soft">{gallery.brandName}</p>
        <h1 className="stitch-b mb-5 pb-3 text-3xl">{gallery.title}</h1>
        <TextField label="Password" name="password" type="password" required autoFocus problem={problem} autoComplete="off" />
        <Button type="submit" tone="main" className="mt-3 w-full">
          See the pictures
        </Button>
      </form>
    </main>
  );
}

function Open({ code, gallery }: { code: string; gallery: Schema["GuestGallery"] }) {
  const [at, setAt] = useState<number>();
  const list = useRef<HTMLUListElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const [box, setBox] = useState({ width: 1280, height: 416 });
  useLayoutEffect(() => {
    const measure = new ResizeObserver(() => {
      setWidth(list.current?.clientWidth ?? 0);
      if (head.current) setBox({ width: head.current.clientWidth, height: head.current.clientHeight });
    });
    measure.observe(list.current!);
    if (head.current) measure.observe(head.current);
    return () => measure.disconnect();
  }, []);
  const layout = useMemo(
    () =>
      layOut(
        gallery.pictures.map((p) => (1000 * p.width) / Math.max(1, p.height)),
        width || 1000,
        Math.min(rowHeight, Math.max(120, width / 2.2)),
        captionLine,
      ),
    [gallery.pictures, width],
  );
  const cover = gallery.pictures.find((p) => p.code === gallery.cover) ?? gallery.pictures[0];
  return (
    <main className="min-h-full">
      {cover && (
        <div ref={head} className="h-[52vh] min-h-64 w-full overflow-hidden" style={{ backgroundColor: tint(cover.tint) }}>
          <img
            src={pictureAddress(code, cover, "large")}
            alt={cover.alt || cover.title}
            className="size-full object-cover"
            style={{ objectPosition: focalPosition(box, cover, { x: cover.focalX, y: cover.focalY }) }}
          />
        </div>
      )}
      <header className="stitch-b mx-auto flex max-w-6xl flex-wrap items-end gap-4 px-5 py-6">
        <div className="min-w-0 flex-1">
          <p className="text-ink-soft">{gallery.brandName}</p>
          <h1 className="text-4xl leading-tight">{gallery.title}</h1>
          {gallery.message && <p className="mt-2 max-w-2xl text-base whitespace-pre-line">{gallery.message}</p>}
        </div>
        {gallery.downloads && gallery.pictures.length > 0 && (
          <a
            href={`/g/${code}/all.zip`}
            className="inline-flex items-center gap-2 rounded-patch bg-sea px-4 py-2 font-medium text-on-sea hover:bg-sea-deep"
            data-all
          >
            <Download size={18} /> Download all {gallery.pictures.length}
          </a>
        )}
      </header>
      <p className="mx-auto max-w-6xl px-5 pt-3 text-dense text-ink-soft">
        {items(gallery.pictures.length)}
        {gallery.downloads && gallery.sizeName ? ` · at ${gallery.sizeName}` : " · for looking at"}
        {gallery.ends && ` · open until ${dayName(gallery.ends)}`}
      </p>
      {gallery.pictures.length === 0 && <p className="mx-auto max-w-6xl px-5 py-6 text-base">There are no pictures here yet.</p>}
      <ul
        ref={list}
        className="relative mx-auto my-4 w-[calc(100%-2.5rem)] max-w-[69.5rem]"
        style={{ height: layout.height }}
        aria-label="Pictures"
      >
        {gallery.pictures.map((p, i) => (
          <li
            key={p.code}
            className="absolute"
            style={{ left: layout.left[i], top: topOf(layout, i), width: layout.width[i], contentVisibility: "auto" }}
          >
            <button
              type="button"
              className="relative block w-full overflow-hidden rounded-[3px]"
              aria-label={`See ${p.title || "picture"} big`}
              onClick={() => setAt(i)}
              style={{ height: layout.heights[rowOf(layout, i)], backgroundColor: tint(p.tint) }}
            >
              <img
                src={pictureAddress(code, p, "medium")}
                srcSet={[
                  `${pictureAddress(code, p, "small")} 600w`,
                  `${pictureAddress(code, p, "medium")} 1000w`,
                  `${pictureAddress(code, p, "large")} 2000w`,
                ].join(", ")}
                sizes="(max-width: 600px) 100vw, 33vw"
                alt={p.alt || p.title}
                loading="lazy"
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
        ))}
      </ul>
      <footer className="px-5 py-8 text-center text-small text-ink-soft">Shown with Bright Satchel</footer>
      {at !== undefined && <GuestBigView code={code} gallery={gallery} at={at} setAt={setAt} />}
    </main>
  );
}
