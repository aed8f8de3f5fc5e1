import { useNavigate } from "@tanstack/react-router";
import { useState, type FormEvent } from "react";
import { messageOf, ProblemError, type Schema } from "~/api/client";
import { useAlbums, useGalleryCheck } from "~/api/queries";
import { useSheet } from "~/api/sheets";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { tell } from "~/kit/notes";
import { today } from "~/kit/SavedField";
import { rows, useRow } from "~/api/rows";
import { mediaAddress } from "~/api/client";
import { items, titleOf } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { newGallery } from "./acts";

type Gallery = Schema["Gallery"];

/** audience says who can see a gallery. */
export function audience(g: Gallery) {
  if (!g.open) return "Closed: nobody outside sees it";
  if (g.ends && g.ends < today()) return "Ended: its last day is over, and nobody outside sees it";
  return g.hasPassword ? "Open to anyone with the link and the password" : "Open to anyone with the link";
}

/** NewGalleryDialog makes a gallery of an album. It stays closed. */
export function NewGalleryDialog({ brand, album, onClose }: { brand: string; album?: number; onClose: () => void }) {
  const albums = useAlbums(brand).data ?? [];
  const [chosen, setChosen] = useState(album ?? albums[0]?.id ?? 0);
  const [title, setTitle] = useState(albums.find((a) => a.id === album)?.name ?? "");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState<{ field?: string; text: string }>();
  const navigate = useNavigate();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const done = await newGallery(brand, { title, album: chosen, password: password || undefined });
      tell(done.said);
      onClose();
      void navigate({ to: "/b/$brand/galleries", params: { brand }, hash: `gallery-${done.id}` });
    } catch (error) {
      setProblem({ field: error instanceof ProblemError ? error.problem.field : undefined, text: messageOf(error) });
    }
  };
  if (albums.length === 0)
    return (
      <Dialog title="New gallery" about="A gallery shows an album. Gather some items in an album first." onClose={onClose}>
        <Button onClick={onClose}>Back</Button>
      </Dialog>
    );
  return (
    <Dialog title="New gallery" about="It stays invisible until you open it." onClose={onClose}>
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField
          label="Title"
          autoFocus
          required
          value={title}
          problem={problem?.field === "title" ? problem.text : undefined}
          onChange={(e) => setTitle(e.target.value)}
          autoComplete="off"
        />
        <Choice
          label="Album that it shows"
          value={chosen}
          options={albums.map((a) => ({ value: a.id, label: `${a.name} (${a.items})` }))}
          onChange={setChosen}
        />
        <TextField
          label="Password (optional)"
          value={password}
          problem={problem?.field === "password" ? problem.text : undefined}
          hint="Send it separately from the link"
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="off"
        />
        {problem && problem.field !== "title" && problem.field !== "password" && <p className="text-tomato">{problem.text}</p>}
        <Button type="submit" tone="main" disabled={!title.trim()}>
          Make the gallery
        </Button>
      </form>
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
  const who = gallery.hasPassword ? "Anyone who has the link and the password" : "Anyone who has the link";
  return (
    <Dialog
      title={`Open “${gallery.title}”?`}
      about={`${who} will see ${items(gallery.items)}${
        gallery.downloads ? ", and may download them at the size you chose" : ""
      }. Originals cannot be reached.`}
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

/** CoverDialog chooses the cover among the pictures of the album. */
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
  const sheet = useSheet(brand, { place: "album", id: gallery.album }).data;
  return (
    <Dialog title="Choose the cover" wide onClose={onClose}>
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
