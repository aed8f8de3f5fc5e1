import { ShownOutside } from "~/sheet/ShownOutside";
import { Link } from "@tanstack/react-router";
import { Copy, Download, Link2 } from "lucide-react";
import { useState, type ReactNode } from "react";
import { again, mediaAddress, messageOf, undo, type Asset, type Me, type Schema } from "~/api/client";
import { useAsset, useHistory } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { copyText, warn } from "~/kit/notes";
import { bytes, daysLeft, exactly, items, titleOf, when } from "~/kit/words";
import { extentOf, makeStage, showVersion } from "./acts";
import { Facts, FileSays, LeftFile, Stack } from "~/sheet/FileFacts";
import { withFacets } from "~/sheet/filters";
import { useBrand, useGo } from "~/sheet/place";

/** ItemPage is everything known about the item in the big view: where it lives, what it belongs to, what it had and what
 * was done to it. */
export function ItemPage({ me, id }: { me: Me; id: number }) {
  const brand = useBrand();
  const { goTo } = useGo();
  const asset = useAsset(brand, id).data;
  const history = useHistory(brand, id).data;
  const [far, setFar] = useState<Far>();
  if (!asset) return <p className="text-ink-soft">Loading…</p>;
  return (
    <section className="space-y-4" aria-label="About the item" data-item-page={id}>
      <h2 className="text-lg break-words">{titleOf(asset)}</h2>
      <LeftFile brand={brand} asset={asset} may={asset.may.includes("file")} />
      {(asset.folderPath || me.everywhere.includes("look")) && (
        <Part title="Lives in">
          <button
            type="button"
            className="text-left text-sea underline"
            onClick={() => goTo(asset.folder === undefined ? { place: "unfiled" } : { place: "folder", id: asset.folder })}
          >
            {asset.folderPath ?? "Unfiled"}
          </button>
          {asset.daysLeft !== undefined && <p className="text-tomato">In the bin, {daysLeft(asset.daysLeft)}</p>}
        </Part>
      )}
      {asset.albums.length > 0 && (
        <Part title="In albums">
          <ul>
            {asset.albums.map((a) => (
              <li key={a.id}>
                <button type="button" className="text-left text-sea underline" onClick={() => goTo({ place: "album", id: a.id })}>
                  {a.name}
                </button>
              </li>
            ))}
          </ul>
        </Part>
      )}
      {asset.shown.length > 0 && (
        <Part title="Shown outside">
          <ShownOutside shown={asset.shown} />
        </Part>
      )}
      {asset.tags.length > 0 && (
        <Part title="Tags">
          <span className="flex flex-wrap gap-1">
            {asset.tags.map((t) => (
              <button
                key={t.id}
                type="button"
                className="rounded-full bg-sunk px-2 py-0.5 text-dense hover:bg-line"
                onClick={() => goTo({ place: "everything", filter: withFacets(undefined, { tag: { how: "any", values: [t.id] } }) })}
              >
                {t.name}
              </button>
            ))}
          </span>
        </Part>
      )}
      {words(asset).map(([title, text]) => (
        <Part key={title} title={title}>
          {text}
        </Part>
      ))}
      <Facts asset={asset} onStage={me.can.includes("settings") ? (label) => void makeStage(brand, label) : undefined} />
      <Stack brand={brand} asset={asset} may={asset.may.includes("file")} />
      <div className="flex flex-wrap gap-2">
        {me.can.includes("download") && (
          <a
            className="inline-flex items-center gap-1.5 rounded-patch border border-line-strong px-3 py-1.5 hover:bg-sunk"
            href={mediaAddress(brand, asset, "original")}
            download={asset.fileName}
          >
            <Download size={16} aria-hidden="true" /> Original, {bytes(asset.bytes)}
          </a>
        )}
        <Button icon={<Copy size={16} />} onClick={() => void copyText(asset.code, asset.code)}>
          Copy its id
        </Button>
        <Button icon={<Link2 size={16} />} onClick={() => void copyText(linkTo(brand, asset), "a link to this item")}>
          Copy a link
        </Button>
      </div>
      <Part title={`Versions, ${history?.versions.length ?? 1}`}>
        <ol className="space-y-1">
          {history?.versions.map((v) => (
            <li key={v.id} className="flex items-start gap-2 text-dense">
              <span className="min-w-0 flex-1">
                <span className="break-all">{v.fileName}</span>
                <span className="block text-ink-soft">
                  {v.current ? "what everybody sees" : "earlier"}, {v.width > 0 ? `${v.width} × ${v.height}, ` : ""}
                  {bytes(v.bytes)}, {when(v.created)}
                </span>
              </span>
              {!v.current && asset.may.includes("prepare") && (
                <Button tone="quiet" aria-label={`Bring ${v.fileName} back`} onClick={() => void showVersion(brand, id, v.id)}>
                  Bring back
                </Button>
              )}
            </li>
          ))}
        </ol>
      </Part>
      {(history?.sent.length ?? 0) > 0 && <Sent sent={history!.sent} />}
      <FileSays brand={brand} id={id} />
      <Part title="What was done to it">
        <ol className="space-y-1">
          {history?.trail.length === 0 && <li className="text-dense text-ink-soft">Nothing since it came in.</li>}
          {history?.trail.map((t) => (
            <li key={t.id} className="flex items-start gap-2 text-dense">
              <span className={`min-w-0 flex-1 ${t.undone ? "text-ink-soft line-through" : ""}`}>
                {t.said}
                <span className="block text-ink-soft">
                  {t.by}, <time title={exactly(t.at)}>{when(t.at)}</time>
                </span>
              </span>
              {t.undoable && (t.mine || me.can.includes("trail")) && (
                <Button tone="quiet" onClick={() => void (t.turn === "taken_back" ? again(brand, t.id) : askHowFar(brand, t, id, setFar))}>
                  {t.turn === "taken_back" ? "Do it again" : "Undo"}
                </Button>
              )}
            </li>
          ))}
        </ol>
        {!!history?.trail.length && (
          <Link to="/b/$brand/trail" params={{ brand }} search={{ item: id }} className="mt-1 inline-block text-dense text-sea underline">
            All of it in the trail
          </Link>
        )}
      </Part>
      {far && <HowFar brand={brand} item={asset} far={far} onClose={() => setFar(undefined)} />}
    </section>
  );
}

/** Far is a step that changed this item and others. */
interface Far {
  id: number;
  said: string;
  items: number;
  alone: boolean;
}

/** askHowFar undoes a step at once when it changed this item only, and asks else. */
async function askHowFar(brand: string, step: { id: number; said: string }, item: number, onFar: (far: Far) => void) {
  try {
    const extent = await extentOf(brand, step.id, item);
    if (extent.items <= 1) await undo(brand, step.id);
    else onFar({ id: step.id, said: step.said, ...extent });
  } catch (error) {
    warn(messageOf(error));
  }
}

/** HowFar asks whether a step is undone for this item, or for all that it changed. */
function HowFar({ brand, item, far, onClose }: { brand: string; item: Asset; far: Far; onClose: () => void }) {
  const go = (one?: number) => {
    onClose();
    void undo(brand, far.id, one);
  };
  return (
    <Dialog title="Undo it for how many?" about={`“${far.said}” changed ${items(far.items)}.`} onClose={onClose}>
      <div className="flex flex-col items-stretch gap-2">
        {far.alone ? (
          <Button tone="main" autoFocus onClick={() => go(item.id)}>
            Only for “{titleOf(item)}”
          </Button>
        ) : (
          <p className="text-ink-soft">It can only be undone as a whole.</p>
        )}
        <Button onClick={() => go()}>For all {far.items.toLocaleString("en-GB")}</Button>
      </div>
    </Dialog>
  );
}

/** words is what people wrote about an item. */
const words = (a: Asset) =>
  [
    ["Description", a.description],
    ["Alt text", a.alt],
    ["Credit", a.credit],
    ["Copyright", a.copyright],
  ].filter(([, text]) => text);

const linkTo = (brand: string, a: Asset) => {
  const place = a.folder === undefined ? "place=unfiled" : `place=folder&id=${a.folder}`;
  return `${window.location.origin}/b/${brand}/file?${place}&item=${a.id}`;
};

/** Sent lists when the item was sent out, and what of it is older than what one sees now. */
function Sent({ sent }: { sent: Schema["SentOut"][] }) {
  const older = sent.filter((s) => s.older).length;
  return (
    <Part title={`Sent out, ${sent.length === 1 ? "once" : `${sent.length} times`}`}>
      {sent[0]!.older && <p className="text-dense">It was changed since: what was sent is older than what you see here.</p>}
      <ol className="space-y-1">
        {sent.map((s) => (
          <li key={s.at + s.name + s.size} className="text-dense">
            <span className="break-all">{s.name}</span>
            <span className="block text-ink-soft">
              {s.size}, {s.width} × {s.height}, {s.place && `to “${s.place}”, `}
              {s.by}, <time title={exactly(s.at)}>{when(s.at)}</time>
              {s.older && older < sent.length && ", before it was changed"}
            </span>
          </li>
        ))}
      </ol>
    </Part>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div>
      <h3 className="mb-0.5 text-dense font-medium text-ink-soft">{title}</h3>
      <div className="break-words">{children}</div>
    </div>
  );
}
