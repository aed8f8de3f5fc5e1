import { Link } from "@tanstack/react-router";
import { useState, type FormEvent, type ReactNode } from "react";
import { messageOf, type Me, type Schema } from "~/api/client";
import { useLimits, useLooking, useOutlets, useServerFolders, useWatchedFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Switch, TextField } from "~/kit/Field";
import { bytes } from "~/kit/words";
import { allowServerFolder, letServerFolderTake, lookAgain, removeServerFolder, setLimits, stopWatching } from "./acts";

const kinds: { kind: Schema["Kind"]; label: string }[] = [
  { kind: "picture", label: "Pictures and camera raw" },
  { kind: "clip", label: "Clips" },
  { kind: "animation", label: "Animations" },
  { kind: "vector", label: "Vector drawings" },
  { kind: "document", label: "Documents (PDF)" },
  { kind: "file", label: "Other files, kept as they are" },
];
const looks = {
  likeness: "possible duplicates",
  sharpness: "sharpness",
  tint: "colours",
  focal: "focal points",
  faces: "faces",
  film: "clips for browsers",
} as const;

/** ArrivalsPage is what a brand takes and from where: limits, folders on the server, outlets, and what is found out about
 * items in the background. */
export function ArrivalsPage({ brand, me }: { brand: string; me: Me }) {
  const may = me.can.includes("settings");
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="arrivals">
      <div className="stitch-b px-4 py-2">
        <h1 className="text-lg">What may come in, and from where</h1>
      </div>
      <div className="space-y-8 page-column">
        {!may && <p className="rounded bg-saffron-wash px-3 py-2">Only stewards change these settings.</p>}
        <LimitsForm brand={brand} may={may} />
        <ServerFolders brand={brand} may={may} />
        <Watched brand={brand} />
        <Outlets brand={brand} />
        <Looking brand={brand} may={may} />
      </div>
    </div>
  );
}

const gigabyte = 1e9;

function LimitsForm({ brand, may }: { brand: string; may: boolean }) {
  const limits = useLimits(brand).data;
  const [state, setState] = useState("");
  if (!limits) return null;
  const save = async (change: Partial<Schema["Limits"]>) => {
    try {
      await setLimits(brand, { ...limits, used: undefined, ...change });
      setState("Saved");
    } catch (error) {
      setState(messageOf(error));
    }
  };
  const used = limits.used ?? 0;
  return (
    <section aria-label="Limits">
      <h2 className="mb-2 text-lg">
        Limits{" "}
        <span className="text-dense font-normal text-ink-soft" role="status">
          {state}
        </span>
      </h2>
      <p className="mb-1">
        {bytes(used)} of {limits.storageLimit ? bytes(limits.storageLimit) : "what the disk holds"} are used.
      </p>
      {limits.storageLimit > 0 && (
        <div className="mb-3 h-2 overflow-hidden rounded-full bg-line" aria-hidden="true">
          <div className="h-full bg-sea" style={{ width: `${Math.min(100, (100 * used) / limits.storageLimit)}%` }} />
        </div>
      )}
      <div className="grid grid-cols-2 gap-3 max-md:grid-cols-1">
        <Gigabytes label="Largest file in GB" value={limits.largestFile} may={may} onChange={(largestFile) => void save({ largestFile })} />
        <Gigabytes
          label="Storage limit in GB; 0 is none"
          value={limits.storageLimit}
          may={may}
          onChange={(storageLimit) => void save({ storageLimit })}
        />
      </div>
      <fieldset className="mt-3 grid grid-cols-2 gap-1 max-md:grid-cols-1">
        <legend className="mb-1 text-dense font-medium text-ink-soft">What is taken</legend>
        {kinds.map(({ kind, label }) => (
          <Switch
            key={kind}
            label={label}
            disabled={!may}
            checked={limits.kinds.includes(kind)}
            onChange={(on) => void save({ kinds: on ? [...limits.kinds, kind] : limits.kinds.filter((k) => k !== kind) })}
          />
        ))}
      </fieldset>
    </section>
  );
}

function Gigabytes({ label, value, may, onChange }: { label: string; value: number; may: boolean; onChange: (bytes: number) => void }) {
  const [draft, setDraft] = useState<string>();
  const save = () => {
    const n = Number(draft?.replace(",", "."));
    if (draft !== undefined && draft !== "" && n >= 0) onChange(Math.round(n * gigabyte));
    setDraft(undefined);
  };
  return (
    <TextField
      label={label}
      inputMode="decimal"
      readOnly={!may}
      value={draft ?? String(Number((value / gigabyte).toFixed(3)))}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => e.key === "Enter" && save()}
    />
  );
}

function ServerFolders({ brand, may }: { brand: string; may: boolean }) {
  const folders = useServerFolders(brand).data;
  const [path, setPath] = useState("");
  const [name, setName] = useState("");
  const allow = async (event: FormEvent) => {
    event.preventDefault();
    const done = await allowServerFolder(brand, path, name || undefined);
    if (!done) return;
    setPath("");
    setName("");
  };
  return (
    <section aria-label="Folders on the server">
      <h2 className="mb-2 text-lg">Folders on the server</h2>
      {folders?.length === 0 && <p className="text-ink-soft">None yet. Coordinators can bring in from the folders listed here.</p>}
      <List
        entries={folders?.map((f) => ({
          id: f.id,
          name: f.name,
          about: f.path,
          more: may ? (
            <Switch label="Files may be put here" checked={f.takes} onChange={(on) => void letServerFolderTake(brand, f.id, on)} />
          ) : (
            f.takes && <span className="text-dense text-ink-soft">takes files</span>
          ),
        }))}
        verb="Remove"
        onRemove={may ? (id) => void removeServerFolder(brand, id) : undefined}
      />
      {may && (
        <form className="mt-2 flex items-end gap-2 max-md:flex-col max-md:items-stretch" onSubmit={(e) => void allow(e)}>
          <TextField
            label="Folder on the server"
            className="flex-1"
            value={path}
            placeholder="/srv/pictures"
            onChange={(e) => setPath(e.target.value)}
          />
          <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} />
          <Button type="submit" disabled={!path.trim()}>
            Allow it
          </Button>
        </form>
      )}
    </section>
  );
}

function Watched({ brand }: { brand: string }) {
  const watched = useWatchedFolders(brand).data;
  return (
    <section aria-label="Watched folders">
      <h2 className="mb-2 text-lg">Watched folders</h2>
      {watched?.length === 0 && (
        <p className="text-ink-soft">
          None. “From the server…” on the board of bringing in can watch a folder: what lands there comes in once it has stopped growing.
        </p>
      )}
      <List
        entries={watched?.map((w) => ({
          id: w.id,
          name: [w.name, ...(w.path ? w.path.split("/") : [])].join(" / "),
          about: `to ${w.folderName ?? "Unfiled"}, for ${w.by}${w.leave ? ", left where they are" : ""}`,
        }))}
        verb="Stop watching"
        onRemove={(id) => void stopWatching(brand, id)}
      />
    </section>
  );
}

function Outlets({ brand }: { brand: string }) {
  const outlets = useOutlets(brand).data;
  return (
    <section aria-label="Outlets">
      <h2 className="mb-2 text-lg">Outlets</h2>
      {outlets?.length === 0 && (
        <p className="text-ink-soft">None is connected. What the brand has posted to its pages can be taken over from there.</p>
      )}
      <ul className="mb-2">
        {outlets?.map((o) => (
          <li key={o.id}>
            {o.name}: {o.items} taken over
          </li>
        ))}
      </ul>
      <Link to="/b/$brand/outlets" params={{ brand }} className="text-sea underline">
        Connect outlets, and see what is there
      </Link>
    </section>
  );
}

function Looking({ brand, may }: { brand: string; may: boolean }) {
  const looking = useLooking(brand).data;
  const again = (what?: keyof typeof looks) => void lookAgain(brand, what);
  return (
    <section aria-label="Background analysis">
      <h2 className="mb-2 text-lg">Background analysis</h2>
      {looking && (
        <p className="mb-2">
          {looking.waiting === 0
            ? `All ${looking.total} items have been looked into.`
            : `${looking.total - looking.waiting} of ${looking.total} items have been looked into.`}
        </p>
      )}
      {may && (
        <>
          <p className="mb-1 text-dense text-ink-soft">Do it again for all:</p>
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => again()}>everything</Button>
            {(Object.keys(looks) as (keyof typeof looks)[]).map((what) => (
              <Button key={what} onClick={() => again(what)}>
                {looks[what]}
              </Button>
            ))}
          </div>
        </>
      )}
    </section>
  );
}

function List({
  entries,
  verb,
  onRemove,
}: {
  entries?: { id: number; name: string; about: string; more?: ReactNode }[];
  verb: string;
  onRemove?: (id: number) => void;
}) {
  return (
    <ul>
      {entries?.map((e) => (
        <li key={e.id} className="flex items-center gap-3 border-b border-line py-1.5">
          <span className="min-w-0 flex-1">
            <span className="block truncate">{e.name}</span>
            <span className="block truncate text-dense text-ink-soft">{e.about}</span>
          </span>
          {e.more}
          {onRemove && (
            <Button tone="quiet" aria-label={`${verb} ${e.name}`} onClick={() => onRemove(e.id)}>
              {verb}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
