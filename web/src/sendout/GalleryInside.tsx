import { BookImage, Bookmark, Star, X } from "lucide-react";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useGalleryInside } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Choice, TextArea } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { exactly, plural, when } from "~/kit/words";
import { albumOfList, answerGuest, changeGallery, keepThese, removeRemark, setLists, starThese } from "./acts";
import { Contributed } from "./Contributed";
import { GalleryGuests } from "./GalleryGuests";
import { Small } from "./Small";

type Inside = Schema["GalleryInside"];
type Gallery = Schema["Gallery"];

/** GalleryInside is what goes on in a gallery: its guests, what they chose, what they wrote, and what happened. */
export function GalleryInside({ brand, gallery: g }: { brand: string; gallery: Gallery }) {
  const inside = useGalleryInside(brand, g.id).data;
  if (!inside) return null;
  return (
    <>
      <GalleryGuests brand={brand} gallery={g} inside={inside} />
      {g.kind === "client" && (
        <>
          <Lists brand={brand} gallery={g} inside={inside} />
          <Remarks brand={brand} gallery={g} inside={inside} />
          <Contributed brand={brand} gallery={g} />
        </>
      )}
      <Happened inside={inside} />
    </>
  );
}

function Lists({ brand, gallery: g, inside }: { brand: string; gallery: Gallery; inside: Inside }) {
  const set = (lists: Schema["GuestList"][]) => setLists(brand, g.id, lists);
  const change = (at: number, part: Partial<Schema["GuestList"]>) => set(inside.lists.map((l, i) => (i === at ? { ...l, ...part } : l)));
  return (
    <section aria-label="Lists" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <h2 className="text-base">What guests choose</h2>
      {inside.lists.length === 0 && <p className="text-ink-soft">Without a list guests only look.</p>}
      <ul className="space-y-4">
        {inside.lists.map((l, i) => (
          <li key={l.id} data-guest-list={l.name} className="border-t border-line pt-3 first:border-0 first:pt-0">
            <div className="grid gap-3 sm:grid-cols-[minmax(0,2fr)_minmax(0,1fr)_auto] sm:items-end">
              <SavedField label="Name of the list" value={l.name} maxLength={80} onSave={(name) => change(i, { name })} />
              <SavedField
                label="Up to (optional)"
                value={l.most ? String(l.most) : ""}
                placeholder="any number"
                check={(text) => (/^\d{0,5}$/.test(text.trim()) ? undefined : "Type a number from 1 to 10,000, or nothing.")}
                onSave={(text) => change(i, { most: Number(text.trim() || 0) })}
              />
              <IconButton
                label={`Remove the list ${l.name}`}
                icon={<X size={16} />}
                onClick={() => void set(inside.lists.filter((_, at) => at !== i))}
              />
            </div>
            <Chosen brand={brand} gallery={g} list={l} inside={inside} />
          </li>
        ))}
      </ul>
      <Button onClick={() => void set([...inside.lists, { id: 0, name: `List ${inside.lists.length + 1}`, most: 0 }])}>Add a list</Button>
    </section>
  );
}

/** Chosen is what guests put into a list, and what becomes of it with one press. */
function Chosen({ brand, gallery: g, list, inside }: { brand: string; gallery: Gallery; list: Schema["GuestList"]; inside: Inside }) {
  const [guest, setGuest] = useState(0);
  const chosen = inside.chosen.filter((c) => c.list === list.id);
  if (chosen.length === 0) return <p className="mt-2 text-ink-soft">Nobody has chosen anything yet.</p>;
  const names = new Map(inside.guests.map((u) => [u.id, u.name || u.email]));
  const nameOf = (id: number) => names.get(id) ?? "a guest";
  const guests = [...new Set(chosen.flatMap((c) => c.guests))];
  const of = chosen.filter((c) => guest === 0 || c.guests.includes(guest));
  const ids = of.map((c) => c.asset);
  const name = guest ? `${list.name}, ${nameOf(guest)}` : list.name;
  return (
    <div className="mt-2 space-y-2">
      {guests.length > 1 && (
        <Choice
          label="Chosen by"
          value={guest}
          options={[{ value: 0, label: `All ${guests.length} guests` }, ...guests.map((value) => ({ value, label: nameOf(value) }))]}
          onChange={setGuest}
        />
      )}
      <ul className="flex flex-wrap gap-1.5" aria-label={`Chosen for ${list.name}`}>
        {of.slice(0, 60).map((c) => (
          <li key={c.asset}>
            <Small brand={brand} id={c.asset} by={(guest ? [guest] : c.guests).map(nameOf)} />
          </li>
        ))}
        {ids.length > 60 && <li className="self-center text-ink-soft">and {ids.length - 60} more</li>}
      </ul>
      <div className="flex flex-wrap gap-2">
        <Button icon={<BookImage size={16} />} onClick={() => void albumOfList(brand, `${g.title}, ${name}`, ids)}>
          Make an album of {plural(ids.length, "picture")}
        </Button>
        <Button icon={<Star size={16} />} onClick={() => void starThese(brand, ids, 5)}>
          Give them 5 stars
        </Button>
        <Button icon={<Bookmark size={16} />} onClick={() => void keepThese(brand, ids)}>
          Make them my keepers
        </Button>
      </div>
    </div>
  );
}

function Remarks({ brand, gallery: g, inside }: { brand: string; gallery: Gallery; inside: Inside }) {
  const asked = inside.remarks.filter((r) => !inside.remarks.some((o) => o.id === r.answers));
  return (
    <section aria-label="Remarks" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1">
        <h2 className="flex-1 text-base">Remarks</h2>
        <label className="flex min-h-6 items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-sea"
            checked={g.settings.remarks}
            onChange={(e) => void changeGallery(brand, g.id, { settings: { ...g.settings, remarks: e.target.checked } })}
          />
          Guests may write remarks
        </label>
        <label className="flex min-h-6 items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-sea"
            checked={g.settings.seeEachOther}
            onChange={(e) => void changeGallery(brand, g.id, { settings: { ...g.settings, seeEachOther: e.target.checked } })}
          />
          Guests see what other guests chose and wrote
        </label>
      </div>
      {asked.length === 0 && <p className="text-ink-soft">No remarks yet.</p>}
      <ul className="max-h-[30rem] space-y-3 overflow-y-auto">
        {asked.map((r) => (
          <Said key={r.id} brand={brand} gallery={g.id} remark={r} all={inside.remarks} />
        ))}
      </ul>
    </section>
  );
}

function Said({ brand, gallery, remark: r, all }: { brand: string; gallery: number; remark: Schema["Remark"]; all: Schema["Remark"][] }) {
  const [answering, setAnswering] = useState(false);
  const [text, setText] = useState("");
  const send = () =>
    void answerGuest(brand, gallery, r.id, text).then((done) => {
      if (!done) return;
      setText("");
      setAnswering(false);
    });
  return (
    <li data-said={r.id} className="flex gap-3">
      {!r.answers && <Small brand={brand} id={r.asset!} />}
      <div className="min-w-0 flex-1">
        <p className="text-dense text-ink-soft">
          <span className="font-medium text-ink">{r.name}</span> {r.team && "(the team) "}
          <time title={exactly(r.at)}>{when(r.at)}</time>
          {r.x !== undefined && ` · on a point ${Math.round(100 * r.x)} % from the left, ${Math.round(100 * r.y!)} % from the top`}
        </p>
        <p className="break-words whitespace-pre-line">{r.words}</p>
        <p className="flex gap-3 text-dense">
          <button type="button" className="text-sea underline" onClick={() => setAnswering(!answering)}>
            Answer
          </button>
          <button type="button" className="text-sea underline" onClick={() => void removeRemark(brand, gallery, r.id)}>
            Remove
          </button>
        </p>
        {answering && (
          <form
            className="mt-1 space-y-2"
            onSubmit={(e) => {
              e.preventDefault();
              send();
            }}
          >
            <TextArea
              label={`Answer to ${r.name}`}
              autoFocus
              rows={2}
              maxLength={2000}
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
            <Button type="submit" tone="main" disabled={!text.trim()}>
              Answer
            </Button>
          </form>
        )}
        <ul className="mt-2 space-y-2 border-l-2 border-line pl-3 empty:hidden">
          {all
            .filter((a) => a.answers === r.id)
            .map((a) => (
              <Said key={a.id} brand={brand} gallery={gallery} remark={a} all={all} />
            ))}
        </ul>
      </div>
    </li>
  );
}

function Happened({ inside }: { inside: Inside }) {
  return (
    <section aria-label="What happened" className="space-y-2 rounded-xl border border-line bg-card p-4">
      <h2 className="text-base">What happened</h2>
      <p>
        Opened {plural(inside.opened, "time")}, {plural(inside.took, "file")} taken along.
      </p>
      {inside.events.length > 0 && (
        <details>
          <summary className="text-sea underline">The latest</summary>
          <ol className="mt-2 max-h-72 space-y-1 overflow-y-auto">
            {inside.events.map((e, i) => (
              <li key={i} className="text-dense">
                <time className="inline-block w-32 text-ink-soft" title={exactly(e.at)}>
                  {when(e.at)}
                </time>
                {e.guest ?? "Somebody with the link"}{" "}
                {e.what === "opened" ? "opened it" : `took ${plural(e.items, "file")} along${e.detail ? `: ${e.detail}` : ""}`}
              </li>
            ))}
          </ol>
        </details>
      )}
      <p className="text-small text-ink-soft">Of guests who are not known nothing is kept but that somebody looked.</p>
    </section>
  );
}
