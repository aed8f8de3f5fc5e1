import { clsx } from "clsx";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useMe, useOutputSizes, useServerFolders } from "~/api/queries";
import { Choice, Switch, TextField } from "~/kit/Field";
import { bytes } from "~/kit/words";
import { Carries } from "./Carries";

/** What files are to be made, without of which items. */
export type FilesWanted = Omit<Schema["NewDownload"], "selection" | "after">;

const formatNames = { jpeg: "JPEG", webp: "WebP", avif: "AVIF", png: "PNG", best: "the best that the browser takes" };

/** animated says whether clips become animations in a size. */
const animated = (s: Schema["OutputSize"]) => s.clipFormat === "webp" || s.clipFormat === "gif";

/** describeSize says what an output size makes. */
export function describeSize(s: Schema["OutputSize"]) {
  const box = {
    inside: s.width && s.height && s.width !== s.height ? `up to ${s.width} × ${s.height}` : `up to ${Math.max(s.width, s.height)} pixels`,
    fill: `${s.width} × ${s.height}, cut to fill`,
    pad: `${s.width} × ${s.height}, with a border`,
  }[s.fit];
  const keeps = {
    strip_private: "with copyright, credit and usage terms",
    strip_all: "with nothing said in it",
    keep: "with all metadata, titles, tags and faces",
  }[s.metadata];
  const open = s.width === 0 && s.height === 0;
  return [
    open ? "as large as it is" : box,
    s.format === "png" || s.format === "best" ? formatNames[s.format] : `${formatNames[s.format]}, quality ${s.quality}`,
    s.budget ? `at most ${bytes(s.budget)}${animated(s) ? ", except animations" : ""}` : "",
    keeps,
    s.enlarge ? "enlarged where it is smaller" : "never enlarged",
  ]
    .filter(Boolean)
    .join(", ");
}

/** useFilesWanted keeps what files are to be made while one chooses. */
export function useFilesWanted(brand: string) {
  const sizes = useOutputSizes(brand).data ?? [];
  const [chosen, setChosen] = useState<Partial<FilesWanted>>({});
  const known = (chosen.outputSizes ?? []).filter((id) => sizes.some((s) => s.id === id));
  const outputSizes = known.length > 0 ? known : sizes.slice(0, 1).map((s) => s.id);
  const wanted: FilesWanted | undefined = outputSizes.length > 0 ? { ...chosen, outputSizes } : undefined;
  return { wanted, change: (more: Partial<FilesWanted>) => setChosen((c) => ({ ...c, ...more })) };
}

/** FilesToMake chooses the output sizes, the names and where the files go. */
export function FilesToMake({
  brand,
  wanted,
  problem,
  onChange,
}: {
  brand: string;
  wanted: FilesWanted;
  problem?: string;
  onChange: (more: Partial<FilesWanted>) => void;
}) {
  const sizes = useOutputSizes(brand).data ?? [];
  const mayPlace = useMe().data?.everywhere.includes("bring_in") ?? false;
  const folders = (useServerFolders(brand, mayPlace).data ?? []).filter((f) => f.takes);
  const first = sizes.find((s) => s.id === wanted.outputSizes[0]);
  const toggle = (id: number, on: boolean) =>
    onChange({ outputSizes: on ? [...wanted.outputSizes, id] : wanted.outputSizes.filter((x) => x !== id) });
  return (
    <div className="space-y-3">
      <fieldset className="space-y-1">
        <legend className="mb-1 text-dense font-medium text-ink-soft">
          Output sizes{wanted.outputSizes.length > 1 && ", with a folder for each"}
        </legend>
        {sizes.map((s) => {
          const on = wanted.outputSizes.includes(s.id);
          return (
            <label
              key={s.id}
              title={describeSize(s)}
              className={clsx("flex gap-2 rounded-patch border p-2", on ? "border-saffron bg-saffron-wash" : "border-line")}
            >
              <input
                type="checkbox"
                className="mt-0.5 size-4 shrink-0 self-start accent-sea"
                checked={on}
                disabled={on && wanted.outputSizes.length === 1}
                onChange={(e) => toggle(s.id, e.target.checked)}
              />
              <span>
                <span className="block font-medium">{s.name}</span>
                {on && (
                  <>
                    <span className="block text-small text-ink-soft">{describeSize(s)}</span>
                    <Carries policy={s.metadata} />
                  </>
                )}
              </span>
            </label>
          );
        })}
      </fieldset>
      <TextField
        label="Names"
        value={wanted.pattern ?? first?.pattern ?? ""}
        problem={problem}
        hint={
          wanted.pattern === undefined && wanted.outputSizes.length > 1
            ? "Each size names its files by its own pattern until you change this"
            : "{name} {title} {n} {date} {size} {width} {height}"
        }
        onChange={(e) => onChange({ pattern: e.target.value })}
        autoComplete="off"
      />
      <div>
        <Switch label="Keep the folders" checked={wanted.keepFolders ?? false} onChange={(keepFolders) => onChange({ keepFolders })} />
        <Switch
          label={wanted.keepFolders ? "Number folders and files in their order" : "Number them in this order"}
          checked={wanted.numbered ?? false}
          onChange={(numbered) => onChange({ numbered })}
        />
      </div>
      {folders.length > 0 && (
        <>
          <Choice
            label="Where to"
            value={wanted.serverFolder ?? 0}
            options={[{ value: 0, label: "a ZIP" }, ...folders.map((f) => ({ value: f.id, label: `“${f.name}” on the server` }))]}
            onChange={(id) => onChange({ serverFolder: id || undefined })}
          />
          {wanted.serverFolder !== undefined && (
            <TextField
              label="Folder in it"
              value={wanted.path ?? ""}
              placeholder="a new one, with today’s date"
              hint="Nothing that is there already is written over"
              onChange={(e) => onChange({ path: e.target.value || undefined })}
              autoComplete="off"
            />
          )}
        </>
      )}
    </div>
  );
}
