import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Play } from "lucide-react";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type FormEvent, type ReactNode } from "react";
import { messageOf, type Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextField } from "~/kit/Field";
import { focalPosition } from "~/kit/focal";
import { tint } from "~/kit/words";
import { unlock, visit } from "./acts";
import { AddOwn } from "./AddOwn";
import { GuestBigView } from "./GuestBigView";
import { pictureAddress, zipAddress } from "./pictureAddress";
import { ListChoice } from "./Lists";
import { NameDialog } from "./NameDialog";
import { Rows } from "./Rows";
import { Take } from "./Take";
import { mineIn, useAsked, useTalk } from "./talk";
import { fill, pictures, words } from "./words";

type Gallery = Schema["GuestGallery"];

const pressed =
  "inline-flex items-center gap-2 rounded-patch bg-accent px-4 py-2 font-medium text-on-accent hover:opacity-90 focus-visible:outline-ink";
const quiet = "inline-flex items-center gap-2 rounded-patch border border-line-strong px-3 py-1.5 font-medium hover:bg-sunk";

/** GuestPage is a gallery as guests see it: locked, closed, or open. */
export function GuestPage({ code }: { code: string }) {
  const { data: gallery, error } = useQuery({ queryKey: ["gallery"], retry: false, queryFn: () => visit(code) });
  useEffect(() => {
    if (!gallery) return;
    document.title = gallery.title || words.gallery;
    document.documentElement.lang = words.locale;
    document.documentElement.dataset.accent = gallery.accent; // for what lies over the page as well
    document.documentElement.dataset.lettering = gallery.lettering;
  }, [gallery]);
  if (error) return <Plain title={words.none} text={messageOf(error)} />;
  if (!gallery) return null;
  const brand = gallery.brandName;
  return (
    <div className="min-h-full">
      {gallery.state === "closed" && <Plain title={words.closed} text={fill(words.closedText, { brand })} />}
      {gallery.state === "uninvited" && <Plain title={words.uninvited} text={fill(words.uninvitedText, { brand })} />}
      {gallery.state === "locked" && <Locked code={code} gallery={gallery} />}
      {gallery.state === "open" && <Open code={code} gallery={gallery} />}
    </div>
  );
}

function Plain({ title, text }: { title: string; text: string }) {
  return (
    <main className="grid min-h-dvh place-items-center p-6 text-center">
      <div className="max-w-md">
        <h1 className="stitch-b mb-4 pb-3 text-3xl">{title}</h1>
        <p className="text-base text-ink-soft">{text}</p>
      </div>
    </main>
  );
}

function Locked({ code, gallery }: { code: string; gallery: Gallery }) {
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
    <main className="grid min-h-dvh place-items-center p-6">
      <form className="w-full max-w-sm" onSubmit={(e) => void submit(e)}>
        <p className="text-ink-soft">{gallery.brandName}</p>
        <h1 className="stitch-b mb-5 pb-3 text-3xl">{gallery.title}</h1>
        <TextField label={words.password} name="password" type="password" required autoFocus problem={problem} autoComplete="off" />
        <Button type="submit" tone="main" className="mt-3 w-full">
          {words.see}
        </Button>
      </form>
    </main>
  );
}

/** useWidth is how wide an element is, in CSS pixels; 0 before it is known. */
function useWidth() {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const read = () => setWidth(ref.current?.clientWidth ?? 0);
    read();
    const measure = new ResizeObserver(read);
    measure.observe(ref.current!);
    return () => measure.disconnect();
  }, []);
  return { ref, width };
}

function Open({ code, gallery }: { code: string; gallery: Gallery }) {
  const [at, setAt] = useState<number | undefined>(() => {
    const asked = gallery.pictures.findIndex((p) => `#${p.code}` === window.location.hash);
    return asked >= 0 ? asked : gallery.kind === "slideshow" && gallery.pictures.length > 0 ? 0 : undefined;
  });
  const [playing, setPlaying] = useState(gallery.kind === "slideshow");
  const { ref, width } = useWidth();
  const talk = useTalk(code);
  const problem = useAsked((s) => s.problem);
  const [list, setList] = useState<number>();
  const only = useMemo(() => (list === undefined || !talk ? undefined : mineIn(talk, list)), [talk, list]);
  const chapters = useMemo(() => {
    let from = 0;
    return gallery.chapters.map((c, i) => {
      const all = gallery.pictures.slice(from, from + c.pictures);
      const shown = only ? all.filter((p) => only.has(p.code)) : all;
      from += c.pictures;
      return { ...c, number: i + 1, shown };
    });
  }, [gallery, only]);
  const seen = useMemo(() => chapters.flatMap((c) => c.shown), [chapters]);
  const numbers = useMemo(() => new Map(seen.map((p, i) => [p.code, i])), [seen]);
  const big = useCallback(
    (code: string) => {
      setPlaying(false);
      setAt(numbers.get(code));
    },
    [numbers],
  );
  const named = chapters.length > 1 || !!chapters[0]?.title || !!chapters[0]?.words;
  const n = gallery.pictures.length;
  return (
    <main className="min-h-dvh">
      <Cover code={code} gallery={gallery} />
      <header className="stitch-b mx-auto flex max-w-6xl flex-wrap items-end gap-4 px-5 py-6">
        <div className="min-w-0 flex-1 basis-72">
          <p className="text-ink-soft">{gallery.brandName}</p>
          <h1 className="text-4xl leading-tight break-words">{gallery.title}</h1>
          {gallery.message && <p className="mt-2 max-w-2xl text-base whitespace-pre-line">{gallery.message}</p>}
        </div>
        {n > 0 && (
          <div className="flex flex-wrap gap-2">
            <button
              type="button"
              className={quiet}
              onClick={() => {
                setPlaying(true);
                setAt(0);
              }}
            >
              <Play size={18} aria-hidden="true" /> {words.play}
            </button>
            <Take
              name="all"
              label={fill(words.downloadAll, { n })}
              sizes={gallery.sizes}
              address={(size) => zipAddress(code, size)}
              className={pressed}
            />
          </div>
        )}
      </header>
      <div className="mx-auto flex min-h-12 max-w-6xl flex-wrap items-center gap-3 px-5 pt-2">
        <p className="text-dense text-ink-soft">{facts(gallery).join(" · ")}</p>
        {talk && <ListChoice talk={talk} chosen={list} setChosen={setList} />}
        {list !== undefined && only && only.size > 0 && (
          <Take
            name="list"
            label={fill(words.downloadMarked, { n: only.size })}
            sizes={gallery.sizes}
            address={(size) => zipAddress(code, size, { list })}
            className={quiet}
          />
        )}
      </div>
      {named && chapters.length > 1 && (
        <nav className="mx-auto flex max-w-6xl flex-wrap gap-x-4 gap-y-1 px-5 pt-3" aria-label={words.gallery}>
          {chapters.map((c) => (
            <a key={c.number} href={`#chapter-${c.number}`} className="underline decoration-accent decoration-2 underline-offset-4">
              {c.title}
            </a>
          ))}
        </nav>
      )}
      {problem && (
        <p role="alert" className="mx-auto max-w-6xl px-5 pt-3 text-tomato">
          {problem}
        </p>
      )}
      {n === 0 && <p className="mx-auto max-w-6xl px-5 py-6 text-base">{words.empty}</p>}
      <div ref={ref} className="mx-auto my-4 w-[calc(100%-2.5rem)] max-w-[69.5rem]">
        {width > 0 &&
          chapters.map((c) => (
            <section key={c.number} id={`chapter-${c.number}`} aria-label={c.title || words.pictures} data-guest-chapter={c.title}>
              {named && (
                <Heading title={c.title} text={c.words}>
                  {chapters.length > 1 && c.shown.length > 0 && (
                    <Take
                      name={`chapter-${c.number}`}
                      label={words.downloadChapter}
                      sizes={gallery.sizes}
                      address={(size) => zipAddress(code, size, { chapter: c.number })}
                      className={quiet}
                    />
                  )}
                </Heading>
              )}
              <Rows code={code} pictures={c.shown} width={width} label={c.title || words.pictures} onBig={big} />
            </section>
          ))}
      </div>
      {gallery.takes && <AddOwn code={code} brand={gallery.brandName} className={quiet} />}
      <footer className="px-5 py-8 text-center text-small text-ink-soft">{words.shown}</footer>
      {at !== undefined && seen[at] && (
        <GuestBigView
          code={code}
          gallery={gallery}
          pictures={seen}
          talk={talk}
          at={at}
          setAt={setAt}
          playing={playing}
          setPlaying={setPlaying}
        />
      )}
      <NameDialog code={code} brand={gallery.brandName} />
    </main>
  );
}

/** facts are what there is to know of a gallery, in a line. */
function facts(gallery: Gallery) {
  const out = [pictures(gallery.pictures.length)];
  if (gallery.sizes.length === 0) out.push(words.lookOnly);
  const one = gallery.sizes.length === 1 ? gallery.sizes[0] : undefined;
  if (one?.side) out.push(`${one.name}, ${fill(words.upTo, { n: one.side })}`);
  if (gallery.ends) {
    const day = new Date(`${gallery.ends}T12:00`).toLocaleDateString(words.locale, { day: "numeric", month: "long", year: "numeric" });
    out.push(fill(words.until, { day }));
  }
  return out;
}

function Heading({ title, text, children }: { title: string; text: string; children?: ReactNode }) {
  return (
    <header className="mt-8 mb-4 flex flex-wrap items-end gap-3 border-l-4 border-accent pl-3">
      <div className="min-w-0 flex-1 basis-64">
        {title && <h2 className="text-2xl break-words">{title}</h2>}
        {text && <p className="max-w-2xl text-base whitespace-pre-line">{text}</p>}
      </div>
      {children}
    </header>
  );
}

/** Cover is the picture at the top, cut around its focal point at every width. */
function Cover({ code, gallery }: { code: string; gallery: Gallery }) {
  const head = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 1280, height: 416 });
  useLayoutEffect(() => {
    const measure = new ResizeObserver(() => {
      if (head.current) setBox({ width: head.current.clientWidth, height: head.current.clientHeight });
    });
    if (head.current) measure.observe(head.current);
    return () => measure.disconnect();
  }, []);
  const cover = gallery.ownCover ?? gallery.pictures.find((p) => p.code === gallery.cover) ?? gallery.pictures[0];
  if (!cover) return null;
  return (
    <div ref={head} className="h-[52vh] min-h-64 w-full overflow-hidden" style={{ backgroundColor: tint(cover.tint) }}>
      <img
        src={pictureAddress(code, cover, "large")}
        alt={cover.alt || cover.title}
        className="size-full object-cover"
        style={{ objectPosition: focalPosition(box, cover, { x: cover.focalX, y: cover.focalY }) }}
      />
    </div>
  );
}
