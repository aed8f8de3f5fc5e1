import { Plus, X } from "lucide-react";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useAlbums, usePageFeeds } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice, Switch, TextField } from "~/kit/Field";
import { exactly, items } from "~/kit/words";
import { addPageFeed, changePageFeed, setDriveSends, setRhythm } from "./acts";

type Page = Schema["Page"];
type Beat = Schema["Beat"];

const weekdays = ["Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"];
const clock = (minute: number) => `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

/** PageRhythm is when a page is posted to, and which albums feed it by themselves. */
export function PageRhythm({ brand, page, may }: { brand: string; page: Page; may: boolean }) {
  const [weekday, setWeekday] = useState(5);
  const [time, setTime] = useState("09:00");
  const add = () => {
    const [h, m] = time.split(":").map(Number);
    const beat: Beat = { weekday, minute: h! * 60 + m! };
    void setRhythm(brand, page.id, [...page.rhythm.filter((b) => b.weekday !== beat.weekday || b.minute !== beat.minute), beat]);
  };
  const drop = (beat: Beat) =>
    void setRhythm(
      brand,
      page.id,
      page.rhythm.filter((b) => b !== beat),
    );
  return (
    <div className="mt-3 space-y-3 border-t border-line pt-3" data-rhythm>
      <h3 className="text-dense">Its rhythm{page.zone && `, on the clock of ${page.zone.replaceAll("_", " ")}`}</h3>
      <ul className="flex flex-wrap gap-2">
        {page.rhythm.length === 0 && <li className="text-ink-soft">None yet. A dispatch can then go out “at the next free moment”.</li>}
        {page.rhythm.map((b) => (
          <li key={`${b.weekday} ${b.minute}`} className="flex items-center gap-1 rounded-patch border border-line py-0.5 pl-2">
            {weekdays[b.weekday]}s at {clock(b.minute)}
            <Button
              tone="quiet"
              icon={<X size={16} />}
              aria-label={`Not on ${weekdays[b.weekday]}s at ${clock(b.minute)}`}
              onClick={() => drop(b)}
            />
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-end gap-2">
        <Choice label="Day" value={weekday} options={weekdays.map((label, value) => ({ value, label }))} onChange={setWeekday} />
        <TextField label="Time" type="time" value={time} onChange={(e) => setTime(e.target.value)} />
        <Button icon={<Plus size={16} />} disabled={!time} onClick={add}>
          Add this moment
        </Button>
      </div>
      <Feeds brand={brand} page={page} />
      {may && (
        <div>
          <h3 className="text-dense">Its folder on the drive</h3>
          <Switch
            label="Send at once what is copied there, without anybody’s “go”"
            checked={page.driveSends}
            onChange={(on) => void setDriveSends(brand, page.id, on)}
          />
          {!page.driveSends && <p className="text-small text-ink-soft">Now it becomes a draft, which waits under Dispatches.</p>}
        </div>
      )}
    </div>
  );
}

/** Feeds are albums whose items go to the page one after the other, at each moment of its rhythm, those first that were never there. */
function Feeds({ brand, page }: { brand: string; page: Page }) {
  const feeds = usePageFeeds(brand).data?.filter((f) => f.page === page.id) ?? [];
  const albums = useAlbums(brand).data ?? [];
  const [album, setAlbum] = useState<number>();
  const [caption, setCaption] = useState("{title} {tags}");
  const chosen = album ?? albums[0]?.id;
  return (
    <section aria-label="What feeds it">
      <h3 className="mb-1 text-dense">What feeds it</h3>
      <ul className="space-y-2">
        {feeds.map((f) => (
          <li key={f.id} className="flex flex-wrap items-center gap-2" data-feed={f.running ? "running" : "off"}>
            <span className="min-w-48 flex-1">
              <span className="font-medium">{f.albumTitle}</span>, the next of it that was not there: {items(f.left)} left.
              {f.next && ` ${f.running ? "Next" : "It would begin"} on ${exactly(f.next)}.`}
              {f.trouble && <span className="block text-small text-tomato">{f.trouble}</span>}
            </span>
            {f.running ? (
              <Button onClick={() => void changePageFeed(brand, f.id, "stop")}>Stop</Button>
            ) : (
              <Button tone="strap" onClick={() => void changePageFeed(brand, f.id, "go")}>
                Go: one to {page.name} each time
              </Button>
            )}
            <Button tone="quiet" onClick={() => void changePageFeed(brand, f.id, "remove")}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {albums.length > 0 && chosen !== undefined && (
        <div className="mt-2 flex flex-wrap items-end gap-2">
          <Choice label="Album" value={chosen} options={albums.map((a) => ({ value: a.id, label: a.name }))} onChange={setAlbum} />
          <TextField label="Caption of each" value={caption} onChange={(e) => setCaption(e.target.value)} />
          <Button onClick={() => void addPageFeed(brand, { page: page.id, album: chosen, caption })}>Let it feed the page…</Button>
        </div>
      )}
      <p className="mt-1 text-small text-ink-soft">
        Nothing goes out before somebody says “go” here. What comes next is in the calendar a day before.
      </p>
    </section>
  );
}
