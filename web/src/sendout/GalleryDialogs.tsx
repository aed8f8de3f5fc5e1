import { useNavigate } from "@tanstack/react-router";
import { useState, type FormEvent } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useGalleries, useGalleryCheck } from "~/api/queries";
import { useSheet } from "~/api/sheets";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { tell } from "~/kit/notes";
import { today } from "~/kit/SavedField";
import { rows, useRow } from "~/api/rows";
import { mediaAddress } from "~/api/client";
import { dayName, items, titleOf } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import type { Place } from "~/sheet/place";
import { useChosen } from "~/sheet/selection";
import { galleryOfSelection, mergeGalleries, newGallery } from "./acts";
import { SourcesDialog } from "./SourcesDialog";

type Gallery = Schema["Gallery"];

/** kinds are the kinds of galleries. */
export const kinds: Record<Gallery["kind"], string> = { client: "Client gallery", web: "Web gallery", slideshow: "Slideshow" };

/** whoSees says who a gallery is for. */
const whoSees = (g: Gallery) =>
  g.audience === "everyone"
    ? "everyone; it is listed"
    : g.audience === "invited"
      ? "people who were invited"
      : g.hasPassword
        ? "anyone with the link and the password"
        : "anyone with the link";

/** audience says who can see a gallery. */
export function audience(g: Gallery) {
  if (!g.open && g.ends && g.ends < today()) return "Ended: its last day is over, and nobody outside sees it";
  if (!g.open) return "Closed: nobody outside sees it";
  return `Open to ${whoSees(g)}${g.ends ? `, until ${dayName(g.ends)}` : ""}`;
}

/** NewGalleryDialog makes a gallery of albums and folders. It stays closed. */
export function NewGalleryDialog({
  brand,
  place,
  onMade,
  onClose,
}: {
  brand: string;
  /** What it shows to begin with. */
  place?: Schema["EmbedSource"];
  onMade?: (id: number) => void;
  onClose: () => void;
}) {
  const [kind, setKind] = useState<Gallery["kind"]>("client");
  const [title, setTitle] = useState("");
  const navigate = useNavigate();
  return (
    <SourcesDialog
      brand={brand}
      title="New gallery"
      about="It stays invisible until you open it. What comes into an album or folder later is shown as well."
      chosen={place ? [place] : []}
      verb="Make a gallery of"
      onChoose={async (chapters) => {
        const done = await newGallery(brand, { kind, title: title.trim() || undefined, chapters });
        tell(done.said);
        if (onMade && done.id) onMade(done.id);
        else void navigate({ to: "/b/$brand/galleries", params: { brand }, hash: `gallery-${done.id}` });
      }}
      onClose={onClose}
    >
      <KindAndTitle kind={kind} setKind={setKind} title={title} setTitle={setTitle} />
    </SourcesDialog>
  );
}

function KindAndTitle({
  kind,
  setKind,
  title,
  setTitle,
}: {
  kind: Gallery["kind"];
  setKind: (kind: Gallery["kind"]) => void;
  title: string;
  setTitle: (title: string) => void;
}) {
  return (
    <div className="mb-3 grid gap-3 sm:grid-cols-2">
      <TextField
        label="Title (optional)"
        value={title}
        maxLength={200}
        placeholder="That of what it shows"
        onChange={(e) => setTitle(e.target.value)}
        autoComplete="off"
      />
      <Choice
        label="Kind"
        value={kind}
        options={[
          { value: "client", label: "Client gallery, under a link" },
          { value: "web", label: "Web gallery, listed for everyone" },
          { value: "slideshow", label: "Slideshow that plays itself" },
        ]}
        onChange={setKind}
      />
    </div>
  );
}

/** SelectionGalleryDialog makes a gallery of a selection, which is kept as an album. */
export function SelectionGalleryDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection: Schema["Selection"];
  count: number;
  onClose: () => void;
}) {
  const [kind, setKind] = useState<Gallery["kind"]>("client");
  const [title, setTitle] = useState("");
  const [problem, setProblem] = useState<string>();
  const navigate = useNavigate();
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const done = await galleryOfSelection(brand, kind, title.trim(), selection);
      tell(done.said);
      onClose();
      void navigate({ to: "/b/$brand/galleries", params: { brand }, hash: `gallery-${done.id}` });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title={`A gallery of ${items(count)}`}
      about={
        "They are kept as an album of the same name, so that you can add more and put them in order. " +
        "The gallery stays invisible until you open it."
      }
      onClose={onClose}
    >
      <form onSubmit={(e) => void make(e)}>
        <div className="mb-3 grid gap-3 sm:grid-cols-2">
          <TextField
            label="Title"
            autoFocus
            required
            value={title}
            maxLength={200}
            problem={problem}
            onChange={(e) => setTitle(e.target.value)}
            autoComplete="off"
          />
          <Choice
            label="Kind"
            value={kind}
            options={(Object.keys(kinds) as Gallery["kind"][]).map((value) => ({ value, label: kinds[value] }))}
            onChange={setKind}
          />
        </div>
        <Button type="submit" tone="main" disabled={!title.trim()}>
          Make the gallery
        </Button>
      </form>
    </Dialog>
  );
}

/** MergeDialog takes the chapters of another gallery into one, and removes the other. */
export function MergeDialog({ brand, gallery, onClose }: { brand: string; gallery: Gallery; onClose: () => void }) {
  const others = (useGalleries(brand).data ?? []).filter((g) => g.id !== gallery.id);
  const [from, setFrom] = useState(others[0]?.id ?? 0);
  const other = others.find((g) => g.id === from);
  return (
    <Dialog
      title={`Merge into “${gallery.title}”`}
      about={
        other
          ? `The chapters of “${other.title}” come behind those of this one, and “${other.title}” is removed${
              other.open ? ": its link leads nowhere then" : ""
            }, with its guests and what they chose and wrote. The pictures stay where they are.`
          : "There is no other gallery."
      }
      onClose={onClose}
    >
      <div className="space-y-3">
        {other && (
          <Choice
            label="The other gallery"
            value={from}
            options={others.map((g) => ({ value: g.id, label: `${g.title} (${items(g.items)})` }))}
            onChange={setFrom}
          />
        )}
        <Button
          tone="main"
          disabled={!other}
          onClick={() => {
            onClose();
            void mergeGalleries(brand, gallery.id, from);
          }}
        >
          Merge them
        </Button>
      </div>
    </Dialog>
  );
}

/** OpenGalleryDialog names who will see what, before anybody does. */
export function OpenGalleryDialog({
  brand,
  gallery,
  onOpen,
  onClose,
}: {
  brand: string;
  gallery: Gallery;
  onOpen: () => void;
  onClose: () => void;
}) {
  const check = useGalleryCheck(brand, gallery.id).data;
  const who = whoSees(gallery).replace(/;.*/, "");
  const taken = gallery.settings.downloads && (gallery.settings.original || gallery.settings.sizes.length > 0);
  const grows = gallery.chapters.some((c) => c.folder || c.byRule);
  return (
    <Dialog
      title={`Open “${gallery.title}”?`}
      about={`${who.charAt(0).toUpperCase()}${who.slice(1)} will see ${items(gallery.items)}${
        grows ? ", and what comes in later" : ""
      }${taken ? ", and may download them in the sizes you chose" : ""}. ${
        gallery.settings.original && gallery.settings.downloads
          ? "Originals go out as they are, with all that is written in them."
          : "Originals cannot be reached."
      }`}
      onClose={onClose}
    >
      <div className="space-y-3">
        <LeavingCheck check={check} />
        <Button tone="strap" onClick={onOpen}>
          {check?.against.some((a) => a.hinders) ? "Open it all the same" : "Open the gallery"}
        </Button>
      </div>
    </Dialog>
  );
}

/** CoverDialog chooses the cover: a picture of one of its albums and folders, or any item that has been selected. */
export function CoverDialog({
  brand,
  gallery,
  onChoose,
  onClose,
}: {
  brand: string;
  gallery: Gallery;
  onChoose: (id: number) => void;
  onClose: () => void;
}) {
  const [at, setAt] = useState(0);
  const chapter = gallery.chapters[at];
  const place: Place = chapter?.folder
    ? { place: "folder", id: chapter.folder, below: chapter.below }
    : { place: "album", id: chapter?.album ?? 0, below: chapter?.below };
  const sheet = useSheet(brand, place).data;
  const selected = useChosen((s) => (s.selected.size === 1 ? [...s.selected][0] : undefined));
  return (
    <Dialog title="Choose the cover" wide onClose={onClose}>
      <div className="mb-3 flex flex-wrap items-end gap-3">
        {gallery.chapters.length > 1 && (
          <Choice
            label="Chapter"
            value={at}
            options={gallery.chapters.map((c, i) => ({ value: i, label: c.title || c.name || `Chapter ${i + 1}` }))}
            onChange={setAt}
          />
        )}
        {gallery.coverChosen && <Button onClick={() => onChoose(0)}>Let it be found automatically</Button>}
        {selected && <Button onClick={() => onChoose(selected)}>Take the selected item</Button>}
      </div>
      <ul className="flex flex-wrap gap-2">
        {sheet?.ids
          .filter((id) => id > 0)
          .slice(0, 200)
          .map((id) => (
            <li key={id}>
              <CoverChoice brand={brand} id={id} onChoose={onChoose} />
            </li>
          ))}
      </ul>
      {sheet?.ids.length === 0 && <p className="text-ink-soft">There is nothing in it yet.</p>}
    </Dialog>
  );
}

function CoverChoice({ brand, id, onChoose }: { brand: string; id: number; onChoose: (id: number) => void }) {
  const row = useRow(id);
  if (!row) rows.want([id]);
  return (
    <button
      type="button"
      className="block h-24 overflow-hidden rounded-patch hover:outline-3 hover:outline-saffron"
      aria-label={`Make ${row ? titleOf(row) : "it"} the cover`}
      onClick={() => onChoose(id)}
    >
      {row && <img src={mediaAddress(brand, row, "small")} alt="" className="h-full" />}
    </button>
  );
}
