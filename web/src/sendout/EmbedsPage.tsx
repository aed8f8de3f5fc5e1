import { BookImage, Copy, ExternalLink, Folder as FolderIcon, MoreHorizontal, Plus } from "lucide-react";
import { clsx } from "clsx";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useEmbedCheck, useEmbedded, useEmbeds, useEmbedSeen } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Dialog } from "~/kit/Dialog";
import { Switch } from "~/kit/Field";
import { Menu } from "~/kit/Menu";
import { copyText } from "~/kit/notes";
import { SavedField } from "~/kit/SavedField";
import { plural } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { changeEmbed, newEmbed, removeEmbed, setEmbed } from "./acts";
import { EmbedLook } from "./EmbedLook";
import { EmbedPreview } from "./EmbedPreview";
import { SourcesDialog } from "./SourcesDialog";
import { placeItems, ThingsBar, useThings, WhereItIs, type Things } from "./Things";

type Embed = Schema["Embed"];

/** EmbedsPage lists what is live on other people's pages, and makes more of it. */
export function EmbedsPage({ brand }: { brand: string }) {
  const embeds = useEmbeds(brand).data;
  const [chosen, setChosen] = useState<number>();
  const [making, setMaking] = useState(false);
  const things = useThings(brand, "embed", embeds, (e: Embed) => e.name);
  const embed = embeds?.find((e) => e.id === chosen) ?? things.shown[0];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="embeds">
      <div className="stitch-b flex flex-wrap items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Live on websites</h1>
        <Button tone="main" icon={<Plus size={16} />} onClick={() => setMaking(true)}>
          New embed
        </Button>
      </div>
      <ThingsBar brand={brand} things={things} what="embeds" />
      {embeds?.length === 0 && (
        <div className="space-y-3 page-column">
          <p>
            An embed shows albums and folders on a web page, and follows them: what you add, take out or change here is seen there within a
            minute. You choose what it shows and how it looks, then copy two lines into the page.
          </p>
          <Button tone="strap" onClick={() => setMaking(true)}>
            Choose what to show
          </Button>
        </div>
      )}
      {embed && (
        <div className="page-list">
          <ul className="space-y-1.5" aria-label="Embeds">
            {things.shown.length === 0 && <li className="text-ink-soft">None here.</li>}
            {things.shown.map((e) => (
              <Row key={e.id} brand={brand} things={things} embed={e} chosen={e.id === embed.id} onChoose={() => setChosen(e.id)} />
            ))}
          </ul>
          <EmbedCard key={embed.id} brand={brand} embed={embed} />
        </div>
      )}
      {making && (
        <SourcesDialog
          brand={brand}
          title="What is to be shown?"
          chosen={[]}
          verb="Make an embed of"
          onChoose={async (sources) => setChosen((await newEmbed(brand, sources)).id)}
          onClose={() => setMaking(false)}
        />
      )}
    </div>
  );
}

/** standing says in a few words who sees an embed. */
const standing = (e: Embed) =>
  !e.live ? "Off: nobody sees it" : e.pages === 0 ? "On, not seen on a page yet" : `On, seen on ${plural(e.pages, "page")}`;

function Row({
  brand,
  things,
  embed: e,
  chosen,
  onChoose,
}: {
  brand: string;
  things: Things;
  embed: Embed;
  chosen: boolean;
  onChoose: () => void;
}) {
  return (
    <li
      data-embed={e.name}
      className={clsx("flex items-start gap-1 rounded-patch border p-2", chosen ? "border-saffron bg-saffron-wash" : "border-line bg-card")}
    >
      <button type="button" className="min-w-0 flex-1 text-left" aria-current={chosen ? "true" : undefined} onClick={onChoose}>
        <span className="block truncate font-medium">{e.name}</span>
        <span className={clsx("block text-small", e.live ? "text-plum" : "text-ink-soft")}>{standing(e)}</span>
        <WhereItIs things={things} id={e.id} />
      </button>
      <Menu
        trigger={<IconButton label={`More about ${e.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
        items={[
          ...placeItems(brand, things, e.id),
          null,
          { label: "Remove the embed", danger: true, onSelect: () => void removeEmbed(brand, e.id) },
        ]}
      />
    </li>
  );
}

function EmbedCard({ brand, embed: e }: { brand: string; embed: Embed }) {
  const [asked, setAsked] = useState<"live" | "sources">();
  return (
    <div className="min-w-0 space-y-5">
      <section aria-label={e.name} className="grid gap-4 rounded-xl border border-line bg-card p-4 sm:grid-cols-2">
        <SavedField label="Name" maxLength={200} value={e.name} onSave={(name) => setEmbed(brand, e.id, { name })} />
        <div className="flex flex-wrap items-end gap-2">
          {e.live ? (
            <Button onClick={() => void changeEmbed(brand, e.id, { live: false })}>Switch it off</Button>
          ) : (
            <Button tone="strap" onClick={() => setAsked("live")}>
              Switch it on…
            </Button>
          )}
          <span className={clsx("pb-1.5", e.live ? "font-medium text-plum" : "text-ink-soft")}>{standing(e)}</span>
        </div>
        <Sources brand={brand} embed={e} onChange={() => setAsked("sources")} />
      </section>
      <EmbedPreview brand={brand} id={e.id} />
      <EmbedLook brand={brand} embed={e} />
      <IntoThePage embed={e} />
      {e.pages > 0 && <Seen brand={brand} id={e.id} />}
      {asked === "live" && <LiveDialog brand={brand} embed={e} onClose={() => setAsked(undefined)} />}
      {asked === "sources" && (
        <SourcesDialog
          brand={brand}
          title={`What “${e.name}” shows`}
          chosen={e.sources.map(({ folder, album, below }) => ({ folder, album, below }))}
          verb="Show"
          onChoose={(sources) => setEmbed(brand, e.id, { sources })}
          onClose={() => setAsked(undefined)}
        />
      )}
    </div>
  );
}

function Sources({ brand, embed: e, onChange }: { brand: string; embed: Embed; onChange: () => void }) {
  const below = (at: number, on: boolean) =>
    void changeEmbed(brand, e.id, {
      sources: e.sources.map((s, i) => ({ folder: s.folder, album: s.album, below: i === at ? on : s.below })),
    });
  return (
    <div className="sm:col-span-2">
      <h2 className="mb-1 text-dense font-medium text-ink-soft">It shows</h2>
      <ol className="space-y-1" aria-label="What it shows">
        {e.sources.map((s, i) => (
          <li key={`${s.album ?? ""}/${s.folder ?? ""}`} className="flex flex-wrap items-center gap-x-3">
            <span className="flex min-w-0 items-center gap-2">
              {s.album ? <BookImage size={18} className="shrink-0" /> : <FolderIcon size={18} className="shrink-0" />}
              <span className="truncate">{s.name}</span>
            </span>
            {s.byRule ? (
              <span className="text-small text-ink-soft">a rule keeps it filled</span>
            ) : (
              <Switch label="with what is below it" checked={s.below} onChange={(on) => below(i, on)} />
            )}
          </li>
        ))}
        {e.sources.length === 0 && <li className="text-tomato">What it showed was removed. Choose something else, or put that back.</li>}
      </ol>
      <Button className="mt-2" onClick={onChange}>
        Change what it shows…
      </Button>
    </div>
  );
}

/** IntoThePage is what is copied into a page. */
function IntoThePage({ embed: e }: { embed: Embed }) {
  return (
    <section aria-label="Into the page" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <h2 className="text-base">Into the page</h2>
      <pre className="overflow-x-auto rounded-patch bg-sunk p-3 text-small" tabIndex={0} data-snippet>
        {e.snippet}
      </pre>
      <div className="flex flex-wrap items-center gap-2">
        <Button tone="main" icon={<Copy size={16} />} onClick={() => void copyText(e.snippet, "the two lines")}>
          Copy the two lines
        </Button>
        <Button icon={<Copy size={16} />} onClick={() => void copyText(e.frame, "the frame")}>
          Copy a frame, for pages without scripts
        </Button>
        {e.live && (
          <a href={e.address} target="_blank" rel="noreferrer" className="inline-flex items-center gap-1 text-sea underline">
            <ExternalLink size={16} /> See it as a page
          </a>
        )}
      </div>
      <p className="text-small text-ink-soft">
        They stay the same whatever you change here.{" "}
        {e.live
          ? "Feeds of the same pictures are at the address of the page with /feed.xml and /feed.json behind it."
          : "As long as it is off, a page that holds them shows nothing."}
      </p>
    </section>
  );
}

function Seen({ brand, id }: { brand: string; id: number }) {
  const seen = useEmbedSeen(brand, id).data;
  const day = (at: string) => new Date(at).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
  return (
    <section aria-label="Pages that show it" className="rounded-xl border border-line bg-card p-4">
      <h2 className="mb-2 text-base">Pages that show it</h2>
      <ul className="space-y-1">
        {seen?.map((s) => (
          <li key={s.page} className="flex flex-wrap gap-x-3">
            <a href={s.page} target="_blank" rel="noreferrer" className="min-w-0 break-all text-plum underline">
              {s.page}
            </a>
            <span className="text-small text-ink-soft">
              since {day(s.first)}, last seen {day(s.last)}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-small text-ink-soft">Only the page is noted, without anything behind a question mark, and no visitor.</p>
    </section>
  );
}

/** LiveDialog names who will see what, before anybody does. */
function LiveDialog({ brand, embed: e, onClose }: { brand: string; embed: Embed; onClose: () => void }) {
  const check = useEmbedCheck(brand, e.id).data;
  const shown = useEmbedded(brand, e.id).data;
  const rule = e.sources.some((s) => s.byRule);
  return (
    <Dialog
      title={`Switch “${e.name}” on?`}
      about={`Anyone who opens a page that holds it will see ${plural(shown?.pictures.length ?? 0, "picture")}, and whatever ${
        rule ? "a rule brings in" : "is added"
      } later. Originals cannot be reached.`}
      onClose={onClose}
    >
      <div className="space-y-3">
        <LeavingCheck check={check} />
        {check?.against.some((a) => a.hinders) && (
          <p className="text-dense text-ink-soft">What should not go out is left out by itself, as long as that is so.</p>
        )}
        <Button
          tone="strap"
          onClick={() => {
            onClose();
            void changeEmbed(brand, e.id, { live: true });
          }}
        >
          Switch it on
        </Button>
      </div>
    </Dialog>
  );
}
