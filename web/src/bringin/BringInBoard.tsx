import { Camera, Cloud, FolderPlus, FolderUp, HardDrive, ImagePlus } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { type Me } from "~/api/client";
import { useAlbums, useFolders, useIntakes, useIntakeTargets, useLimits, useOutlets, useServerFolders, useTwins } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { bytes, plural, when } from "~/kit/words";
import { useDropTarget } from "~/sheet/drag";
import { bringInto, pickedFiles, type Target } from "~/sheet/dropped";
import { pathName } from "~/sheet/Heading";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { newFolder } from "~/api/acts";
import { sourceOf, sumOf } from "./intake";
import { IntakeList } from "./IntakeList";
import { OutletDialog } from "./OutletDialog";
import { ServerDialog } from "./ServerDialog";
import { useTarget } from "./target";
import { TwinsDialog } from "./TwinsDialog";

const policies = [
  { value: "skip", label: "skip" },
  { value: "keep_both", label: "keep both" },
  { value: "version", label: "make new versions" },
] as const;

/** BringInBoard says where files will go, before they go, offers every way in, and lists what came in last. */
export function BringInBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const everywhere = me.everywhere.includes("bring_in");
  const { target, where, options, album } = useWhere(me);
  const { policy, set } = useTarget();
  const { ref, over } = useDropTarget<HTMLDivElement>(undefined, target);
  const twins = useTwins(brand).data?.length ?? 0;
  const servers = useServerFolders(brand, everywhere).data ?? [];
  const outlets = useOutlets(brand, everywhere).data ?? [];
  const [asked, setAsked] = useState<"folder" | "server" | "outlet" | "twins">();
  return (
    <div className="space-y-5">
      <section>
        <h2 className="mb-2 text-lg">Bring in</h2>
        <div className="flex items-end gap-2">
          <div className="min-w-0 flex-1">
            <Choice label="Destination" value={where} options={options} onChange={(folder) => set({ folder })} />
          </div>
          {everywhere && (
            <Button icon={<FolderPlus size={18} />} onClick={() => setAsked("folder")}>
              New…
            </Button>
          )}
        </div>
        {album && <p className="mt-1 text-dense text-ink-soft">and into the album “{album}”, which is open</p>}
        <div className="mt-2">
          <Choice label="Duplicates" value={policy} options={[...policies]} onChange={(p) => set({ policy: p })} />
        </div>
        <div ref={ref} className={`mt-3 rounded-lg border border-dashed border-line-strong p-4 text-center ${over ? "drop-here" : ""}`}>
          <p className="mb-3 text-ink-soft">Drop files or whole folders here, or on the sheet, a folder or an album. Pasting works too.</p>
          <Pickers target={target} />
        </div>
        {everywhere && (
          <div className="mt-2 flex flex-wrap gap-2">
            {servers.length > 0 && (
              <Button icon={<HardDrive size={18} />} onClick={() => setAsked("server")}>
                From the server…
              </Button>
            )}
            {outlets.length > 0 && (
              <Button icon={<Cloud size={18} />} onClick={() => setAsked("outlet")}>
                From an outlet…
              </Button>
            )}
          </div>
        )}
        <Taken brand={brand} />
      </section>
      {twins > 0 && (
        <section className="rounded-lg bg-saffron-wash p-3">
          <p className="mb-2">
            {twins === 1 ? "One item looks like another that was here before." : `${twins} items look like others that were here before.`}
          </p>
          <Button onClick={() => setAsked("twins")}>Look at {plural(twins, "possible duplicate")}</Button>
        </section>
      )}
      <JustIn brand={brand} />
      {asked === "folder" && <NewTarget brand={brand} parent={target.folder} onClose={() => setAsked(undefined)} />}
      {asked === "server" && (
        <ServerDialog
          brand={brand}
          target={target}
          targetName={options.find((o) => o.value === where)?.label ?? "Unfiled"}
          onClose={() => setAsked(undefined)}
        />
      )}
      {asked === "outlet" && (
        <OutletDialog
          brand={brand}
          target={target}
          targetName={options.find((o) => o.value === where)?.label ?? "Unfiled"}
          onClose={() => setAsked(undefined)}
        />
      )}
      {asked === "twins" && <TwinsDialog brand={brand} onClose={() => setAsked(undefined)} />}
    </div>
  );
}

/** useWhere is where files go: the folder that was chosen here, else the one that is open. Recent ones come first. */
function useWhere(me: Me) {
  const brand = useBrand();
  const place = usePlace();
  const folders = useFolders(brand).data ?? [];
  const albums = useAlbums(brand).data ?? [];
  const recent = useIntakeTargets(brand).data ?? [];
  const { folder: chosen, policy } = useTarget();
  const everywhere = me.everywhere.includes("bring_in");
  const possible = folders.filter((f) => f.may.includes("bring_in"));
  const open = place.place === "folder" && possible.some((f) => f.id === place.id) ? place.id : undefined;
  const there = chosen !== undefined && (chosen === 0 || possible.some((f) => f.id === chosen)) ? chosen : undefined;
  const where = there ?? open ?? (everywhere ? 0 : (recent[0] ?? possible[0]?.id ?? 0));
  const album = place.place === "album" && me.can.includes("gather") ? albums.find((a) => a.id === place.id) : undefined;
  const named = possible.map((f) => ({
    value: f.id,
    label: pathName(folders, f.id),
  }));
  const first = [...new Set([open, ...recent])].flatMap((id) => named.filter((n) => n.value === id));
  const options = [...(everywhere ? [{ value: 0, label: "Unfiled" }] : []), ...first, ...named.filter((n) => !first.includes(n))];
  const target: Target = { folder: where || undefined, album: album?.id, policy };
  const text = JSON.stringify(target);
  useEffect(() => useTarget.setState({ target: JSON.parse(text) as Target }), [text]);
  return { target, where, options, album: album?.name };
}

function Pickers({ target }: { target: Target }) {
  const files = useRef<HTMLInputElement>(null);
  const tree = useRef<HTMLInputElement>(null);
  const camera = useRef<HTMLInputElement>(null);
  const pick = (input: HTMLInputElement) => {
    bringInto(pickedFiles(input.files!), target);
    input.value = "";
  };
  return (
    <>
      <div className="flex flex-wrap justify-center gap-2">
        <Button tone="main" icon={<ImagePlus size={18} />} onClick={() => files.current!.click()}>
          Choose files
        </Button>
        <Button icon={<FolderUp size={18} />} className="max-md:hidden" onClick={() => tree.current!.click()}>
          Choose a folder
        </Button>
        <Button icon={<Camera size={18} />} className="md:hidden" onClick={() => camera.current!.click()}>
          Take a picture
        </Button>
      </div>
      <input ref={files} type="file" multiple hidden aria-label="Files to bring in" onChange={(e) => pick(e.target)} />
      <input ref={tree} type="file" hidden aria-label="Folder to bring in" {...{ webkitdirectory: "" }} onChange={(e) => pick(e.target)} />
      <input
        ref={camera}
        type="file"
        accept="image/*,video/*"
        capture="environment"
        hidden
        aria-label="Picture to take"
        onChange={(e) => pick(e.target)}
      />
    </>
  );
}

const plurals: Record<string, string> = {
  picture: "pictures and camera raw",
  clip: "clips",
  animation: "animations",
  vector: "vector drawings",
  document: "documents",
  file: "other files as they are",
};

function Taken({ brand }: { brand: string }) {
  const limits = useLimits(brand).data;
  if (!limits) return null;
  const left = limits.storageLimit > 0 ? `, and ${bytes(Math.max(0, limits.storageLimit - (limits.used ?? 0)))} are left` : "";
  return (
    <p className="mt-2 text-small text-ink-soft">
      You can bring in {limits.kinds.map((k) => plurals[k]).join(", ")}, each up to {bytes(limits.largestFile)}
      {left}.
    </p>
  );
}

function NewTarget({ brand, parent, onClose }: { brand: string; parent: number | undefined; onClose: () => void }) {
  const folders = useFolders(brand).data;
  const [name, setName] = useState("");
  const within = pathName(folders, parent);
  return (
    <Dialog title={within ? `New folder in “${within}”` : "New folder"} about="Files that are brought in will go there." onClose={onClose}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void newFolder(brand, name, parent).then((made) => {
            if (!made?.id) return;
            useTarget.getState().set({ folder: made.id });
            onClose();
          });
        }}
      >
        <TextField label="Name" autoFocus value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          Make the folder
        </Button>
      </form>
    </Dialog>
  );
}

function JustIn({ brand }: { brand: string }) {
  const place = usePlace();
  const { goTo } = useGo();
  const intakes = useIntakes(brand).data;
  return (
    <section aria-label="Just in">
      <h2 className="mb-2 text-lg">Just in</h2>
      {intakes?.length === 0 && (
        <p className="text-ink-soft">Nothing yet. The first batch will be listed here with what came of every file.</p>
      )}
      <ul>
        {intakes?.map((i) => (
          <li key={i.id}>
            <button
              type="button"
              aria-current={place.place === "intake" && place.id === i.id ? "true" : undefined}
              onClick={() => goTo({ place: "intake", id: i.id })}
              className="block w-full rounded-patch px-2 py-1.5 text-left hover:bg-sunk aria-[current]:bg-saffron-wash"
            >
              <span className="block">{sumOf(i)}</span>
              <span className="block text-small text-ink-soft">
                {[i.by, when(i.started), i.folderName && `to ${i.folderName}`, sourceOf(i)].filter(Boolean).join(", ")}
              </span>
            </button>
            {place.place === "intake" && place.id === i.id && (
              <div className="border-l-2 border-saffron py-1 pl-2">
                <IntakeList brand={brand} intake={i} ahead={false} onLeave={() => undefined} />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
