import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useOutletAlbums, useOutletMedia, useOutlets } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, Switch } from "~/kit/Field";
import { tell, warn } from "~/kit/notes";
import { plural } from "~/kit/words";
import type { Target } from "~/sheet/dropped";
import { bringInFromOutlet } from "./acts";

type Media = Schema["OutletMedia"];

/** OutletDialog takes over albums or pictures from an outlet's pages. What is here already is marked and never comes twice;
 * what others posted there is told apart, and comes along only when one says so. */
export function OutletDialog({
  brand,
  target,
  targetName,
  onClose,
}: {
  brand: string;
  target: Target;
  targetName: string;
  onClose: () => void;
}) {
  const outlets = useOutlets(brand).data ?? [];
  const [chosen, setChosen] = useState<number>();
  const [openAlbum, setAlbum] = useState<string>();
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const [others, setOthers] = useState(false);
  const id = chosen ?? outlets[0]?.id;
  const albums = useOutletAlbums(brand, id);
  const album = openAlbum ?? albums.data?.[0]?.id;
  const media = useOutletMedia(brand, id, album);
  const news = media.data?.filter((m) => !m.asset) ?? [];
  const foreign = news.filter((m) => !m.own);
  const coming = news.filter((m) => (m.own || others) && !off.has(m.id));
  const toggle = (m: Media) => {
    const next = new Set(off);
    if (!next.delete(m.id)) next.add(m.id);
    setOff(next);
  };
  const bring = async () => {
    try {
      const intake = await bringInFromOutlet(brand, id!, {
        album: album!,
        media: coming.map((m) => m.id),
        others,
        folder: target.folder,
        policy: target.policy,
      });
      tell(`Bringing in ${plural(intake.total, "picture")}`);
      onClose();
    } catch (problem) {
      warn(messageOf(problem));
    }
  };
  const problem = albums.error ?? media.error;
  return (
    <Dialog wide title="From an outlet" about={`Destination: ${targetName}. The outlet keeps what it has.`} onClose={onClose}>
      <div className="grid grid-cols-2 gap-3">
        <Choice
          label="Outlet"
          value={id ?? 0}
          options={outlets.map((o) => ({ value: o.id, label: o.name }))}
          onChange={(value) => {
            setChosen(value);
            setAlbum(undefined);
          }}
        />
        <Choice
          label="Album there"
          value={album ?? ""}
          options={albums.data?.map((a) => ({ value: a.id, label: `${a.title} (${a.count})` })) ?? [{ value: "", label: "Asking…" }]}
          onChange={setAlbum}
        />
      </div>
      {problem && (
        <p role="alert" className="mt-3 text-tomato">
          {problem.message}
        </p>
      )}
      {media.isPending && !problem && <p className="mt-3 text-ink-soft">Asking what is there…</p>}
      <ul className="my-3 grid grid-cols-4 gap-2 max-md:grid-cols-2" aria-label="What is there">
        {media.data?.map((m) => (
          <MediaTile
            key={m.id}
            address={`/api/brands/${brand}/outlets/${id}/media/${encodeURIComponent(m.id)}/picture`}
            media={m}
            on={coming.includes(m)}
            locked={!!m.asset || (!m.own && !others)}
            onToggle={() => toggle(m)}
          />
        ))}
      </ul>
      {foreign.length > 0 && (
        <Switch
          label={
            foreign.length === 1 ? "Also the one that somebody else posted there" : `Also the ${foreign.length} that others posted there`
          }
          checked={others}
          onChange={setOthers}
        />
      )}
      <Button tone="main" className="mt-3" disabled={coming.length === 0} onClick={() => void bring()}>
        Bring in {plural(coming.length, "picture")}
      </Button>
    </Dialog>
  );
}

function MediaTile({
  address,
  media,
  on,
  locked,
  onToggle,
}: {
  address: string;
  media: Media;
  on: boolean;
  locked: boolean;
  onToggle: () => void;
}) {
  return (
    <li data-media={media.id} className={locked ? "opacity-60" : undefined}>
      <label className="block">
        <span className={`relative block h-24 overflow-hidden rounded bg-sunk ${on ? "outline-3 outline-offset-1 outline-saffron" : ""}`}>
          <img src={address} alt="" loading="lazy" className="size-full object-cover" />
          <input
            type="checkbox"
            className="absolute top-1 left-1 size-4 accent-sea"
            aria-label={`${media.fileName}: ${media.caption}`}
            checked={on}
            disabled={locked}
            onChange={onToggle}
          />
        </span>
        <span className="mt-1.5 block truncate text-small" title={media.caption}>
          {media.caption || media.fileName}
        </span>
        <span className="block truncate text-small text-ink-soft">
          {media.asset ? "here already" : media.own ? "your own" : `by ${media.postedBy}`}
        </span>
      </label>
    </li>
  );
}
