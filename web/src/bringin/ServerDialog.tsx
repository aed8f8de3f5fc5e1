import { ChevronRight, FileImage, Folder } from "lucide-react";
import { useState } from "react";
import { messageOf } from "~/api/client";
import { useServerFolders, useServerListing, useWatchedFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice } from "~/kit/Field";
import { tell, warn } from "~/kit/notes";
import { bytes, plural } from "~/kit/words";
import type { Target } from "~/sheet/dropped";
import { bringInFromServer, stopWatching, watchFolder } from "./acts";

/** ServerDialog walks a folder on the server and brings it in: copied, or left where it is. It can also be watched. */
export function ServerDialog({
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
  const roots = useServerFolders(brand).data ?? [];
  const [root, setRoot] = useState<number>();
  const [path, setPath] = useState("");
  const [leave, setLeave] = useState(false);
  const [asking, setAsking] = useState(false);
  const id = root ?? roots[0]?.id;
  const { data: listing, error } = useServerListing(brand, id, path);
  const parts = path ? path.split("/") : [];
  const bring = async () => {
    try {
      const intake = await bringInFromServer(brand, id!, { ...target, path, leave });
      tell(`Bringing in ${plural(intake.total, "file")}`);
      onClose();
    } catch (problem) {
      warn(messageOf(problem));
    }
  };
  const watch = async (existing: boolean) => {
    const done = await watchFolder(brand, { serverFolder: id!, path, folder: target.folder, leave, existing });
    if (done) setAsking(false);
  };
  const watched = (useWatchedFolders(brand).data ?? []).find((w) => w.serverFolder === id && w.path === path);
  return (
    <Dialog wide title="From a folder on the server" about={`Destination: ${targetName}. Their folders are made there.`} onClose={onClose}>
      {roots.length > 1 && (
        <Choice
          label="Folder on the server"
          value={id ?? 0}
          options={roots.map((r) => ({ value: r.id, label: r.name }))}
          onChange={(value) => {
            setRoot(value);
            setPath("");
          }}
        />
      )}
      <nav aria-label="Folder on the server" className="mt-2 flex flex-wrap items-center gap-1">
        <button type="button" className="text-sea underline" onClick={() => setPath("")}>
          {roots.find((r) => r.id === id)?.name}
        </button>
        {parts.map((part, i) => (
          <span key={i} className="flex items-center gap-1">
            <ChevronRight size={14} aria-hidden="true" />
            <button type="button" className="text-sea underline" onClick={() => setPath(parts.slice(0, i + 1).join("/"))}>
              {part}
            </button>
          </span>
        ))}
      </nav>
      {error && (
        <p role="alert" className="mt-2 text-tomato">
          {error.message}
        </p>
      )}
      <ul className="my-2 max-h-52 overflow-y-auto rounded border border-line" aria-label="What is in it" tabIndex={0}>
        {listing?.folders.map((f) => (
          <li key={f}>
            <button
              type="button"
              className="flex w-full items-center gap-2 px-2 py-1 text-left hover:bg-sunk"
              onClick={() => setPath(path ? `${path}/${f}` : f)}
            >
              <Folder size={18} /> {f}
            </button>
          </li>
        ))}
        {listing?.files.map((f) => (
          <li key={f} className="flex items-center gap-2 px-2 py-1 text-ink-soft">
            <FileImage size={18} /> {f}
          </li>
        ))}
        {listing && listing.folders.length + listing.files.length === 0 && (
          <li className="px-2 py-3 text-ink-soft">Nothing is in this folder.</li>
        )}
      </ul>
      {listing && listing.total > 0 && (
        <p className="mb-2 text-dense text-ink-soft">
          {plural(listing.total, "file")} in it and below it, {bytes(listing.bytes)}
          {listing.leftOut > 0 && `, without ${plural(listing.leftOut, "hidden or system file")}`}.
        </p>
      )}
      <Choice
        label="The files there"
        value={leave ? "leave" : "copy"}
        options={[
          { value: "copy", label: "are copied into the library" },
          { value: "leave", label: "stay where they are, and are shown from there" },
        ]}
        onChange={(v) => setLeave(v === "leave")}
      />
      <div className="mt-3 flex flex-wrap gap-2">
        <Button tone="main" disabled={!listing?.total} onClick={() => void bring()}>
          Bring in {plural(listing?.total ?? 0, "file")}
        </Button>
        {!watched && (
          <Button disabled={!listing || asking} onClick={() => (listing!.total > 0 ? setAsking(true) : void watch(false))}>
            Watch this folder…
          </Button>
        )}
      </div>
      {watched && (
        <div className="mt-3 flex flex-wrap items-center gap-2 rounded-patch bg-saffron-wash px-3 py-2" data-watched={watched.id}>
          <p className="min-w-0 flex-1">
            This folder is watched: what lands here is brought in to {watched.folderName ?? "Unfiled"}, for {watched.by}.
          </p>
          <Button onClick={() => void stopWatching(brand, watched.id)}>Stop watching</Button>
        </div>
      )}
      {asking && !watched && (
        <div role="group" aria-label="What is there already" className="mt-3 rounded-patch bg-saffron-wash px-3 py-2">
          <p className="mb-2">
            {listing?.total === 1 ? "1 file is" : `${plural(listing?.total ?? 0, "file")} are`} here already. What lands here later is
            brought in by itself.
          </p>
          <div className="flex flex-wrap gap-2">
            <Button tone="main" onClick={() => void watch(true)}>
              Bring in {listing?.total === 1 ? "it" : `these ${listing?.total.toLocaleString("en-GB")}`} too
            </Button>
            <Button onClick={() => void watch(false)}>Only what lands from now on</Button>
            <Button tone="quiet" onClick={() => setAsking(false)}>
              Do not watch
            </Button>
          </div>
        </div>
      )}
    </Dialog>
  );
}
