import { clsx } from "clsx";
import { ChevronLeft, ChevronRight, MonitorOff, MoreHorizontal, Pause, Play, Plus } from "lucide-react";
import { useEffect, useState, type FormEvent } from "react";
import { mediaAddress, messageOf, type Schema } from "~/api/client";
import { useAlbums, useScreens, useSendingCheck } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { Menu } from "~/kit/Menu";
import { copyText } from "~/kit/notes";
import { SavedField } from "~/kit/SavedField";
import { when } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { changeScreen, pairScreen, removeScreen, setScreen } from "./acts";
import { placeItems, ThingsBar, useThings, WhereItIs, type Things } from "./Things";

type Screen = Schema["Screen"];
type Settings = Schema["ScreenSettings"];

/** ScreensPage lists the screens in shops, and steers them from afar. */
export function ScreensPage({ brand }: { brand: string }) {
  const { data: all, error } = useScreens(brand);
  const [pairing, setPairing] = useState(false);
  const things = useThings(brand, "screen", all, (s: Screen) => s.name);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="screens">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Screens</h1>
        <Button tone="main" icon={<Plus size={16} />} onClick={() => setPairing(true)}>
          Pair a screen
        </Button>
      </div>
      <ThingsBar brand={brand} things={things} what="screens" />
      <div className="space-y-4 page-column">
        {error && <p className="text-tomato">{error.message}</p>}
        {!all && !error && <p className="text-ink-soft">Loading…</p>}
        {all?.length === 0 && (
          <div className="max-w-prose space-y-3">
            <p>
              A screen in the shop shows an album full screen, and you change it from here. Open this address in its browser; it shows a
              code of six characters, which you type here.
            </p>
            <Address />
            <Button tone="strap" onClick={() => setPairing(true)}>
              Pair a screen
            </Button>
          </div>
        )}
        {all && all.length > 0 && things.shown.length === 0 && <p className="text-ink-soft">None here.</p>}
        {things.shown.map((s) => (
          <OneScreen key={s.id} brand={brand} screen={s} things={things} />
        ))}
      </div>
      {pairing && <PairDialog brand={brand} onClose={() => setPairing(false)} />}
    </div>
  );
}

function Address() {
  const address = `${window.location.origin}/screen`;
  return (
    <p className="flex flex-wrap items-center gap-2">
      <code className="break-all select-all">{address}</code>
      <Button tone="quiet" onClick={() => void copyText(address, "the address for screens")}>
        Copy
      </Button>
    </p>
  );
}

/** lateAfter is how long after it was heard of last a screen is thought to have no network, in milliseconds. */
const lateAfter = 60_000;

/** seen says when a screen was heard of last, and how it stands. */
function seen(s: Screen, now: number) {
  if (!s.seen) return { said: "not heard of yet", late: true };
  const late = now - Date.parse(s.seen) > lateAfter;
  const held = s.width && s.height ? `${s.width} × ${s.height}, ${s.height > s.width ? "upright" : "wide"}` : "";
  return { said: late ? `heard of last ${when(s.seen)}; it goes on with what it has` : `here now, ${held}`, late };
}

function OneScreen({ brand, screen: s, things }: { brand: string; screen: Screen; things: Things }) {
  const albums = useAlbums(brand).data ?? [];
  const [asked, setAsked] = useState<number>();
  const now = useNow(10_000);
  const stands = seen(s, now);
  const set = (settings: Partial<Settings>) => setScreen(brand, s.id, { settings: { ...s.settings, ...settings } });
  const state = (to: Screen["state"]) => void changeScreen(brand, s.id, { state: to });
  return (
    <section
      aria-label={s.name}
      className="grid gap-4 rounded-xl border border-line bg-card p-4 md:grid-cols-[13rem_minmax(0,1fr)]"
      data-screen={s.name}
    >
      <div className="space-y-2">
        <Showing brand={brand} screen={s} />
        <p className={clsx("text-small", stands.late ? "text-tomato" : "text-plum")} data-seen>
          {stands.said}
        </p>
        {s.kept !== undefined && <p className="text-small text-ink-soft">{s.kept} of its pictures are stored there.</p>}
      </div>
      <div className="min-w-0 space-y-3">
        <header className="flex flex-wrap items-center gap-2">
          <h2 className="min-w-40 basis-full text-lg break-words">{s.name}</h2>
          <IconButton
            label="The picture before"
            icon={<ChevronLeft size={18} />}
            onClick={() => void changeScreen(brand, s.id, { jump: -1 })}
          />
          {s.state === "playing" ? (
            <Button icon={<Pause size={16} />} onClick={() => state("paused")}>
              Pause
            </Button>
          ) : (
            <Button tone="strap" icon={<Play size={16} />} onClick={() => state("playing")}>
              Play
            </Button>
          )}
          <IconButton
            label="The next picture"
            icon={<ChevronRight size={18} />}
            onClick={() => void changeScreen(brand, s.id, { jump: 1 })}
          />
          {s.state !== "blank" && (
            <Button icon={<MonitorOff size={16} />} onClick={() => state("blank")}>
              Show nothing
            </Button>
          )}
          <Menu
            trigger={<IconButton label={`More about ${s.name}`} icon={<MoreHorizontal size={18} />} />}
            items={[
              ...placeItems(brand, things, s.id),
              null,
              { label: "End the pairing", danger: true, onSelect: () => void removeScreen(brand, s.id) },
            ]}
          />
        </header>
        <WhereItIs things={things} id={s.id} />
        <div className="grid gap-3 sm:grid-cols-2">
          <SavedField label="Name" value={s.name} maxLength={200} onSave={(name) => setScreen(brand, s.id, { name })} />
          <Choice
            label="Album"
            value={s.album ?? 0}
            options={[{ value: 0, label: "nothing yet" }, ...albums.map((a) => ({ value: a.id, label: a.name }))]}
            onChange={(album) => (album === 0 ? void changeScreen(brand, s.id, { album }) : setAsked(album))}
          />
        </div>
        <details>
          <summary className="cursor-pointer text-sea">How it shows them</summary>
          <div className="mt-2 grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
            <Choice
              label="Order"
              value={s.settings.order}
              options={[
                { value: "album", label: "that of the album" },
                { value: "shuffled", label: "shuffled, another one each day" },
                { value: "newest", label: "what was added last first" },
              ]}
              onChange={(order) => void set({ order })}
            />
            <SavedField
              label="Seconds for each picture"
              value={String(s.settings.seconds)}
              check={(text) => (/^\d{1,3}$/.test(text) && +text >= 3 && +text <= 600 ? undefined : "Type a number from 3 to 600.")}
              onSave={(text) => set({ seconds: Number(text) })}
            />
            <Choice
              label="From one to the next"
              value={s.settings.transition}
              options={[
                { value: "fade", label: "fading" },
                { value: "slide", label: "sliding" },
                { value: "none", label: "at once" },
              ]}
              onChange={(transition) => void set({ transition })}
            />
            <Choice
              label="Captions"
              value={s.settings.captions}
              options={[
                { value: "none", label: "none" },
                { value: "title", label: "titles" },
                { value: "credit", label: "credits" },
              ]}
              onChange={(captions) => void set({ captions })}
            />
            <Choice
              label="Pictures"
              value={s.settings.fit}
              options={[
                { value: "fill", label: "fill the screen, around their focal point" },
                { value: "whole", label: "are shown whole" },
              ]}
              onChange={(fit) => void set({ fit })}
            />
            <Hours settings={s.settings} onSave={set} />
          </div>
        </details>
        {s.albumName && s.by && (
          <p className="text-small text-ink-soft">
            Everyone who passes by sees “{s.albumName}”; {s.by} put it there.
          </p>
        )}
      </div>
      {asked !== undefined && (
        <AlbumDialog
          brand={brand}
          screen={s}
          album={asked}
          name={albums.find((a) => a.id === asked)?.name ?? ""}
          onClose={() => setAsked(undefined)}
        />
      )}
    </section>
  );
}

/** Hours are the times at which a screen shows something, on its own clock. */
function Hours({ settings, onSave }: { settings: Settings; onSave: (change: Partial<Settings>) => Promise<unknown> }) {
  const [from, setFrom] = useState(settings.from);
  const [until, setUntil] = useState(settings.until);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    setFrom(settings.from);
    setUntil(settings.until);
  }, [settings.from, settings.until]);
  const save = (change: Partial<Settings>) =>
    onSave(change).then(
      () => setProblem(undefined),
      (error: unknown) => setProblem(messageOf(error)),
    );
  const hour = (label: string, hours: string, set: string, put: (hours: string) => void) => (
    <TextField
      label={label}
      type="time"
      value={hours}
      onChange={(e) => put(e.target.value)}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.currentTarget.value = set; // of hours that are half typed nothing is known but in the field
        put(set);
      }}
    />
  );
  const changed = from !== settings.from || until !== settings.until;
  return (
    <fieldset className="sm:col-span-2 lg:col-span-3">
      <legend className="text-dense text-ink-soft">Hours, on the clock of {settings.zone.replaceAll("_", " ")}</legend>
      <div className="flex flex-wrap items-end gap-2">
        {hour("From", from, settings.from, setFrom)}
        {hour("until", until, settings.until, setUntil)}
        {changed && (
          <Button disabled={!from !== !until} onClick={() => void save({ from, until })}>
            Set these hours
          </Button>
        )}
        {settings.from !== "" && <Button onClick={() => void save({ from: "", until: "" })}>Always</Button>}
        <span className="flex flex-wrap gap-1">
          {[1, 2, 3, 4, 5, 6, 0].map((day) => {
            const on = settings.days.length === 0 || settings.days.includes(day);
            return (
              <button
                key={day}
                type="button"
                aria-pressed={on}
                className={clsx(
                  "rounded-patch border px-2 py-1 text-dense",
                  on ? "border-saffron bg-saffron-wash" : "border-line text-ink-soft",
                )}
                onClick={() => void save({ days: otherDays(settings.days, day) })}
              >
                {["Su", "Mo", "Tu", "We", "Th", "Fr", "Sa"][day]}
              </button>
            );
          })}
        </span>
      </div>
      {problem && (
        <p role="alert" className="text-small text-tomato">
          {problem}
        </p>
      )}
    </fieldset>
  );
}

/** otherDays is a choice of weekdays with one changed; all of them are written as none. */
function otherDays(days: number[], day: number): number[] {
  const all = days.length === 0 ? [0, 1, 2, 3, 4, 5, 6] : days;
  const next = all.includes(day) ? all.filter((d) => d !== day) : [...all, day];
  return next.length === 7 || next.length === 0 ? [] : next;
}

function Showing({ brand, screen: s }: { brand: string; screen: Screen }) {
  const row = useRow(s.showing ?? 0);
  if (s.showing && !row) rows.want([s.showing]);
  const upright = (s.height ?? 0) > (s.width ?? 1);
  return (
    <div
      className={clsx(
        "grid place-items-center overflow-hidden rounded-lg bg-night text-[var(--on-night)]",
        upright ? "mx-auto h-44 w-28" : "h-28",
      )}
    >
      {row && s.state !== "blank" ? (
        <img src={mediaAddress(brand, row, "small")} alt={row.alt} className="size-full object-cover" />
      ) : (
        <span className="text-small">{s.state === "blank" ? "Shows nothing" : "Nothing yet"}</span>
      )}
    </div>
  );
}

function AlbumDialog({
  brand,
  screen: s,
  album,
  name,
  onClose,
}: {
  brand: string;
  screen: Screen;
  album: number;
  name: string;
  onClose: () => void;
}) {
  const check = useSendingCheck(brand, { everything: { place: "album", id: album } }).data;
  const [problem, setProblem] = useState<string>();
  const go = async () => {
    try {
      await setScreen(brand, s.id, { album });
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title={`Show “${name}” on ${s.name}`}
      about="Everyone who passes by sees it, also what is added to the album later."
      onClose={onClose}
    >
      <div className="space-y-3" data-screen-album>
        <LeavingCheck check={check} />
        <p className="text-small text-ink-soft">What should not go out is left out by itself.</p>
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
        <Button tone="strap" onClick={() => void go()}>
          Show it there
        </Button>
      </div>
    </Dialog>
  );
}

function PairDialog({ brand, onClose }: { brand: string; onClose: () => void }) {
  const [code, setCode] = useState("");
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await pairScreen(brand, code, name, Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC");
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title="Pair a screen"
      about="Open this address in the browser of the screen, and type the code that it shows."
      onClose={onClose}
    >
      <form className="space-y-3" onSubmit={(e) => void submit(e)} data-pair>
        <Address />
        <TextField
          label="Code on the screen"
          autoFocus
          autoComplete="off"
          placeholder="K7F 2QX"
          value={code}
          maxLength={20}
          problem={problem}
          onChange={(e) => setCode(e.target.value)}
        />
        <TextField
          label="Name of the screen"
          placeholder="Shop window"
          value={name}
          maxLength={200}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit" tone="strap" disabled={!code.trim() || !name.trim()}>
          Pair it
        </Button>
      </form>
    </Dialog>
  );
}

/** useNow is the present moment, every so many milliseconds anew. */
function useNow(every: number) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), every);
    return () => clearInterval(timer);
  }, [every]);
  return now;
}
