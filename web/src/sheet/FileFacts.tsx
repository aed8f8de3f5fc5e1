import { SquareStack } from "lucide-react";
import { useState, type ReactNode } from "react";
import { mediaAddress, type Asset } from "~/api/client";
import { Button } from "~/kit/Button";
import { bytes, duration, moment, plural, when } from "~/kit/words";
import { openBig } from "~/sheet/selection";
import { useMetadata } from "~/api/queries";
import { chooseFront, lookForFile, takeChangedFile } from "./acts";

/** Fact is the name of a fact and what it is. */
export type Fact = [string, ReactNode];

function factsOf(asset: Asset): Fact[] {
  const facts: [string, ReactNode | false | undefined][] = [
    ["File", asset.fileName],
    ["Came as", asset.cameAs],
    ["Kind", `${asset.kind}, ${asset.mediaType}`],
    ["Dimensions", `${asset.width ? `${asset.width} × ${asset.height} pixels, ` : ""}${bytes(asset.bytes)}`],
    ["Length", asset.seconds ? duration(asset.seconds) : undefined],
    ["Codec", asset.codec],
    ["Pages", asset.pages],
    ["Taken", asset.taken ? `${moment(asset.taken)}${asset.takenZone ? ` (${asset.takenZone})` : ""}` : "undated"],
    ["Camera", [asset.camera, asset.lens].filter(Boolean).join(", ")],
    ["Exposure", asset.exposure],
    ["Place", asset.place],
    [
      "Position",
      asset.latitude !== undefined && asset.longitude !== undefined && `${asset.latitude.toFixed(5)}, ${asset.longitude.toFixed(5)}`,
    ],
    ["Stars", asset.stars < 0 ? "set aside" : asset.stars > 0 && `${asset.stars} ★`],
    ["Stage", asset.stage],
    ["Sharpness", asset.focus && <Focus key="focus" asset={asset} />],
    ["Faces", facesOf(asset.faces)],
    ["Brought in", `${when(asset.added)}${asset.addedBy ? ` by ${asset.addedBy}` : ""}`],
    ...asset.origins.map((o): Fact => ["Came from", `${o.outlet} / ${o.album}${o.own ? "" : `, posted by ${o.postedBy}`}`]),
    ["File left at", asset.leftAt],
  ];
  return facts.filter(([, value]) => value);
}

/** Facts is what is known of the file of an item, and more. */
export function Facts({ asset, more = [], onStage }: { asset: Asset; more?: Fact[]; onStage?: (label: string) => void }) {
  const label: Fact[] = asset.label
    ? [
        [
          "Label",
          <span key="label">
            {asset.label}
            {onStage && (
              <button type="button" className="ml-2 text-sea underline" onClick={() => onStage(asset.label!)}>
                Make it a stage
              </button>
            )}
          </span>,
        ],
      ]
    : [];
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 text-dense">
      {[...factsOf(asset), ...label, ...more].map(([name, value], i) => (
        <div key={i} className="contents">
          <dt className="text-ink-soft">{name}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** LeftFile says that a file which was left on the server has gone or changed, and offers the way out. */
export function LeftFile({ brand, asset, may }: { brand: string; asset: Asset; may: boolean }) {
  if (!asset.left) return null;
  return (
    <div role="status" className="rounded-patch bg-saffron-wash p-2 text-dense">
      {asset.left === "missing" ? (
        <p>The file is not where it was left any more. Its previews are still here.</p>
      ) : (
        <p>The file has changed where it was left. What is shown is the version that was brought in.</p>
      )}
      {may && (
        <div className="mt-1 flex flex-wrap gap-2">
          <Button onClick={() => void lookForFile(brand, asset.id)}>Look for it</Button>
          {asset.left === "changed" && <Button onClick={() => void takeChangedFile(brand, asset.id)}>Take it as a new version</Button>}
        </div>
      )}
    </div>
  );
}

/** Stack shows what belongs together with an item, the front first, and lets whoever may choose another. */
export function Stack({ brand, asset, may }: { brand: string; asset: Asset; may: boolean }) {
  if (asset.stack.length < 2) return null;
  return (
    <section aria-label="Stack">
      <h3 className="mb-0.5 text-dense font-medium text-ink-soft">Stack of {asset.stack.length}</h3>
      <ul className="space-y-1">
        {asset.stack.map((row, i) => (
          <li key={row.id} className="flex items-center gap-2">
            <button type="button" className="flex min-w-0 flex-1 items-center gap-2 text-left text-dense" onClick={() => openBig(row.id)}>
              <img src={mediaAddress(brand, row, "small")} alt="" className="h-9 w-12 rounded-sm object-cover" />
              <span className="truncate">{row.fileName}</span>
            </button>
            {i === 0 ? (
              <span className="flex items-center gap-1 text-small text-ink-soft">
                <SquareStack size={14} aria-hidden="true" /> the front
              </span>
            ) : (
              may && (
                <Button tone="quiet" onClick={() => void chooseFront(brand, row.id)}>
                  Make it the front
                </Button>
              )
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** FileSays shows everything that the file says about itself, on request. */
export function FileSays({ brand, id }: { brand: string; id: number }) {
  const [open, setOpen] = useState(false);
  const { data } = useMetadata(brand, id, open);
  return (
    <details className="text-dense" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-sea underline">Everything the file says</summary>
      {data && Object.keys(data).length === 0 && <p className="mt-1 text-ink-soft">Nothing.</p>}
      <dl className="mt-1 max-h-96 overflow-y-auto" tabIndex={0} aria-label="Everything the file says">
        {Object.entries(data ?? {}).map(([name, value]) => (
          <div key={name} className="border-b border-line py-0.5">
            <dt className="text-ink-soft">{name}</dt>
            <dd className="break-words">{typeof value === "object" ? JSON.stringify(value) : String(value)}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

/** Focus says in a word how sharp a picture is, with the number on request. */
function Focus({ asset }: { asset: Pick<Asset, "focus" | "sharpness"> }) {
  return <span title={`Sharpness ${asset.sharpness?.toFixed(2)}: sharp from 0.8, soft from 0.3`}>{asset.focus}</span>;
}

/** facesOf names those who are known in a picture, and counts the others. */
function facesOf(faces: Asset["faces"]) {
  const known = faces.flatMap((f) => (f.name ? [f.name] : []));
  const others = faces.length - known.length;
  return [...known, ...(others > 0 ? [plural(others, "unnamed face")] : [])].join(", ");
}
