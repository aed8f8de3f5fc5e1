import { clsx } from "clsx";
import { Copy, ExternalLink, MoreHorizontal, Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { useLocation } from "@tanstack/react-router";
import { mediaAddress, type Schema } from "~/api/client";
import { useGalleries } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Choice, TextField } from "~/kit/Field";
import { Menu } from "~/kit/Menu";
import { SavedField, today } from "~/kit/SavedField";
import { copyText } from "~/kit/notes";
import { items } from "~/kit/words";
import { audience, CoverDialog, kinds, MergeDialog, NewGalleryDialog, OpenGalleryDialog } from "./GalleryDialogs";
import { GalleryChapters } from "./GalleryChapters";
import { GalleryInside } from "./GalleryInside";
import { GalleryLook } from "./GalleryLook";
import { GalleryTaking } from "./GalleryTaking";
import { placeItems, ThingsBar, useThings, WhereItIs, type Things } from "./Things";
import { changeGallery, removeGallery, setGallery } from "./acts";

type Gallery = Schema["Gallery"];

/** GalleriesPage lists the galleries, and shows all that can be set about one of them. Settings save themselves. */
export function GalleriesPage({ brand }: { brand: string }) {
  const galleries = useGalleries(brand).data;
  const hash = useLocation({ select: (at) => at.hash });
  const [chosen, setChosen] = useState<number>();
  const [making, setMaking] = useState(false);
  useEffect(() => {
    const id = Number(hash.replace("gallery-", ""));
    if (id) setChosen(id);
  }, [hash]);
  const things = useThings(brand, "gallery", galleries, (g: Gallery) => g.title);
  const gallery = galleries?.find((g) => g.id === chosen) ?? things.shown[0];
  return (
    <div className="relative min-h-0 flex-1 overflow-y-auto" data-page="galleries">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Galleries</h1>
        <Button tone="main" icon={<Plus size={16} />} onClick={() => setMaking(true)}>
          New gallery
        </Button>
      </div>
      <ThingsBar brand={brand} things={things} what="galleries" />
      {galleries?.length === 0 && (
        <div className="space-y-3 page-column">
          <p>
            A gallery shows albums and folders to a client under a link, to everyone under an address of its own, or as a slideshow that
            plays itself. It stays invisible until you open it.
          </p>
          <Button tone="strap" onClick={() => setMaking(true)}>
            Choose what to show
          </Button>
        </div>
      )}
      {gallery && (
        <div className="page-list">
          <ul className="space-y-1.5" aria-label="Galleries">
            {things.shown.length === 0 && <li className="text-ink-soft">None here.</li>}
            {things.shown.map((g) => (
              <Row key={g.id} brand={brand} things={things} gallery={g} chosen={g.id === gallery.id} onChoose={() => setChosen(g.id)} />
            ))}
          </ul>
          <GalleryCard key={gallery.id} brand={brand} gallery={gallery} />
        </div>
      )}
      {making && <NewGalleryDialog brand={brand} onMade={setChosen} onClose={() => setMaking(false)} />}
    </div>
  );
}

function Row({
  brand,
  things,
  gallery: g,
  chosen,
  onChoose,
}: {
  brand: string;
  things: Things;
  gallery: Gallery;
  chosen: boolean;
  onChoose: () => void;
}) {
  const [merging, setMerging] = useState(false);
  return (
    <li
      data-gallery-row={g.title}
      className={clsx("flex items-start gap-1 rounded-patch border p-2", chosen ? "border-saffron bg-saffron-wash" : "border-line bg-card")}
    >
      <button type="button" className="min-w-0 flex-1 text-left" aria-current={chosen ? "true" : undefined} onClick={onChoose}>
        <span className="block truncate font-medium">{g.title}</span>
        <span className={clsx("block text-small", g.open ? "text-plum" : "text-ink-soft")}>{audience(g)}</span>
        <WhereItIs things={things} id={g.id} />
      </button>
      <Menu
        trigger={<IconButton label={`More about ${g.title}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
        items={[
          { label: "Merge another one into it…", onSelect: () => setMerging(true) },
          null,
          ...placeItems(brand, things, g.id),
          null,
          { label: "Remove the gallery", danger: true, onSelect: () => void removeGallery(brand, g.id) },
        ]}
      />
      {merging && <MergeDialog brand={brand} gallery={g} onClose={() => setMerging(false)} />}
    </li>
  );
}

function GalleryCard({ brand, gallery: g }: { brand: string; gallery: Gallery }) {
  const [asked, setAsked] = useState<"open" | "cover">();
  const address = `${window.location.origin}${g.path}`;
  const change = (body: Schema["GalleryChange"]) => changeGallery(brand, g.id, body);
  const set = (body: Schema["GalleryChange"]) => setGallery(brand, g.id, body);
  return (
    <article id={`gallery-${g.id}`} data-gallery={g.title} className="min-w-0 space-y-5">
      <section aria-label={g.title} className="flex flex-wrap gap-4 rounded-xl border border-line bg-card p-4">
        <button
          type="button"
          className="h-36 w-52 overflow-hidden rounded-lg bg-sunk text-ink-soft"
          onClick={() => setAsked("cover")}
          aria-label={`Choose the cover of ${g.title}`}
        >
          {g.cover ? <img src={mediaAddress(brand, g.cover, "medium")} alt="" className="size-full object-cover" /> : "No pictures yet"}
        </button>
        <div className="min-w-64 flex-1 space-y-2">
          <h2 className="text-lg">{g.title}</h2>
          <p className={g.open ? "font-medium text-plum" : "text-ink-soft"}>{audience(g)}</p>
          <p className="text-ink-soft">
            {kinds[g.kind]} with {items(g.items)}
          </p>
          <div className="flex flex-wrap gap-2">
            {g.open ? (
              <Button onClick={() => void change({ open: false })}>Close the gallery</Button>
            ) : (
              <Button tone="strap" onClick={() => setAsked("open")}>
                Open…
              </Button>
            )}
            {g.open && (
              <>
                <Button icon={<Copy size={16} />} onClick={() => void copyText(address, "the link")}>
                  Copy the link
                </Button>
                <a href={address} target="_blank" rel="noreferrer" className="inline-flex items-center gap-1 text-sea underline" data-link>
                  <ExternalLink size={16} /> See it as a guest
                </a>
              </>
            )}
          </div>
        </div>
      </section>
      <section aria-label="Who may look" className="grid gap-4 rounded-xl border border-line bg-card p-4 md:grid-cols-2">
        <SavedField label="Title" keepAs={`gallery ${g.id} title`} value={g.title} maxLength={200} onSave={(title) => set({ title })} />
        <Choice
          label="Who may look"
          value={g.audience}
          options={[
            { value: "link", label: "Anyone with the link" },
            { value: "invited", label: "Only people who are invited" },
            { value: "everyone", label: "Everyone: it is listed" },
          ]}
          onChange={(audience) => void change({ audience })}
        />
        <SavedField
          label="Message to guests"
          keepAs={`gallery ${g.id} message`}
          kind="text"
          value={g.message}
          onSave={(message) => set({ message })}
        />
        <div className="space-y-3">
          {g.audience === "link" && <Password has={g.hasPassword} onSave={(password) => change({ password })} />}
          <SavedField
            kind="day"
            label="Last day (optional)"
            value={g.ends ?? ""}
            check={(day) => (day && day < today() ? "The last day is in the past. Choose today or a later day." : undefined)}
            onSave={(ends) => set({ ends })}
          />
          <SavedField
            label="Address of its own (optional)"
            hint={`${window.location.origin}${g.path}`}
            value={g.address ?? ""}
            maxLength={60}
            placeholder="spring-kites"
            onSave={(address) => set({ address })}
          />
        </div>
      </section>
      <GalleryChapters brand={brand} gallery={g} />
      {g.kind !== "web" && <GalleryInside brand={brand} gallery={g} />}
      <GalleryTaking brand={brand} gallery={g} />
      <GalleryLook brand={brand} gallery={g} />
      {asked === "open" && (
        <OpenGalleryDialog
          brand={brand}
          gallery={g}
          onClose={() => setAsked(undefined)}
          onOpen={() => {
            setAsked(undefined);
            void change({ open: true });
          }}
        />
      )}
      {asked === "cover" && (
        <CoverDialog
          brand={brand}
          gallery={g}
          onClose={() => setAsked(undefined)}
          onChoose={(cover) => {
            setAsked(undefined);
            void change({ cover });
          }}
        />
      )}
    </article>
  );
}

function Password({ has, onSave }: { has: boolean; onSave: (password: string) => Promise<unknown> }) {
  const [draft, setDraft] = useState("");
  const save = () => void onSave(draft).then((done) => done && setDraft(""));
  return (
    <div className="flex items-end gap-2">
      <TextField
        className="flex-1"
        label={has ? "New password" : "Password (optional)"}
        value={draft}
        onChange={(e) => setDraft(e.target.value)}
        autoComplete="off"
      />
      <Button disabled={draft === ""} onClick={save}>
        Set
      </Button>
      {has && <Button onClick={() => void onSave("")}>Remove the password</Button>}
    </div>
  );
}
