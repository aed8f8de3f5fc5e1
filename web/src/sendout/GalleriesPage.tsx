import { Copy, ExternalLink } from "lucide-react";
import { useState } from "react";
import { mediaAddress, type Schema } from "~/api/client";
import { useGalleries, useOutputSizes } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice, Switch, TextField } from "~/kit/Field";
import { SavedField, today } from "~/kit/SavedField";
import { copyText } from "~/kit/notes";
import { items } from "~/kit/words";
import { audience, CoverDialog, NewGalleryDialog, OpenGalleryDialog } from "./GalleryDialogs";
import { changeGallery, setGallery } from "./acts";

type Gallery = Schema["Gallery"];
type Change = Schema["GalleryChange"];

/** GalleriesPage lists the client galleries with all that can be set about them. Settings save themselves. */
export function GalleriesPage({ brand }: { brand: string }) {
  const galleries = useGalleries(brand).data;
  const [making, setMaking] = useState(false);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="galleries">
      <div className="stitch-b flex items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Client galleries</h1>
        <Button tone="main" onClick={() => setMaking(true)}>
          New gallery
        </Button>
      </div>
      <div className="mx-auto max-w-4xl space-y-4 p-4">
        {galleries?.length === 0 && (
          <p className="text-ink-soft">A gallery shows an album to a client, under a link. It stays invisible until you open it.</p>
        )}
        {galleries?.map((g) => (
          <GalleryCard key={g.id} brand={brand} gallery={g} />
        ))}
      </div>
      {making && <NewGalleryDialog brand={brand} onClose={() => setMaking(false)} />}
    </div>
  );
}

function GalleryCard({ brand, gallery: g }: { brand: string; gallery: Gallery }) {
  const sizes = useOutputSizes(brand).data ?? [];
  const [asked, setAsked] = useState<"open" | "cover">();
  const address = `${window.location.origin}/g/${g.code}`;
  const change = (body: Change) => changeGallery(brand, g.id, body);
  const set = (body: Change) => setGallery(brand, g.id, body);
  return (
    <article id={`gallery-${g.id}`} data-gallery={g.title} className="overflow-hidden rounded-xl border border-line bg-card">
      <div className="flex flex-wrap gap-4 p-4">
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
            {items(g.items)} from the album “{g.albumName}”
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
      </div>
      <div className="grid gap-4 border-t border-line p-4 md:grid-cols-2">
        <SavedField label="Title" value={g.title} maxLength={200} onSave={(title) => set({ title })} />
        <Password has={g.hasPassword} onSave={(password) => change({ password })} />
        <SavedField label="Message to guests" kind="text" value={g.message} onSave={(message) => set({ message })} />
        <div className="space-y-3">
          <Choice
            label="Size that guests may take"
            value={g.outputSize ?? 0}
            options={sizes.map((s) => ({ value: s.id, label: s.name }))}
            onChange={(outputSize) => void change({ outputSize })}
          />
          <Switch label="Guests may download the pictures" checked={g.downloads} onChange={(downloads) => void change({ downloads })} />
          <SavedField
            kind="day"
            label="Last day (optional)"
            value={g.ends ?? ""}
            check={(day) => (day && day < today() ? "The last day is in the past. Choose today or a later day." : undefined)}
            onSave={(ends) => set({ ends })}
          />
        </div>
      </div>
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
        label={has ? "New password (there is one)" : "Password (there is none)"}
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
