import { ShownOutside } from "~/sheet/ShownOutside";
import { Plus } from "lucide-react";
import { type Asset, type Me } from "~/api/client";
import { useAsset, useSuggestedTags } from "~/api/queries";
import { moment, titleOf } from "~/kit/words";
import { type Fact, Facts, FileSays, LeftFile, Stack } from "~/sheet/FileFacts";
import { useGo } from "~/sheet/place";
import { inOrder } from "~/sheet/selection";
import { Lacking } from "./Lacking";
import { TagEntry } from "./TagEntry";
import { Words } from "./Words";
import { addTags, setClock } from "./acts";
import { fields, textOf } from "./fields";

/** Suggested are tags that the neighbours of an item have, with the reason; one press puts one on it. */
function Suggested({ brand, id }: { brand: string; id: number }) {
  const suggested = useSuggestedTags(brand, id, true).data;
  if (!suggested?.length) return null;
  return (
    <div>
      <h3 className="mb-1 text-dense font-medium text-ink-soft">Suggested</h3>
      <ul className="flex flex-wrap gap-1.5" aria-label="Suggested tags">
        {suggested.map((t) => (
          <li key={t.id}>
            <button
              type="button"
              title={t.why}
              className="inline-flex items-center gap-1 rounded-full border border-line px-2 py-0.5 text-dense hover:bg-sunk"
              onClick={() => void addTags(brand, { ids: [id] }, t.name)}
            >
              <Plus size={13} aria-hidden="true" />
              {t.name}
              <span className="sr-only">, {t.why}</span>
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-small text-ink-soft">
        {suggested[0]!.name}: {suggested[0]!.why}.
      </p>
    </div>
  );
}

/** Card is everything that is known of one item; what may be changed can be written into. */
export function Card({ brand, me, id, onNext }: { brand: string; me: Me; id: number; onNext: () => void }) {
  const { data: asset } = useAsset(brand, id);
  if (!asset) return <p className="text-ink-soft">Loading the card…</p>;
  const may = asset.may.includes("describe");
  // for who only reads, the facts below say the moment
  const filled = may ? fields : fields.filter((f) => f.name !== "taken" && f.name !== "takenZone" && textOf(asset, f.name));
  return (
    <section className="space-y-4">
      <h2 className="text-lg break-words">{titleOf(asset)}</h2>
      {may && <Lacking brand={brand} asset={asset} onNext={onNext} />}
      {filled.map((f) => (
        <div key={f.name} className="space-y-4">
          {f.begins && <h3 className="border-t border-line pt-3 text-base">{f.begins}</h3>}
          <Words brand={brand} asset={asset} field={f} may={may} />
          {f.name === "alt" && <TagEntry brand={brand} selection={() => ({ ids: inOrder() })} count={1} tags={asset.tags} may={may} />}
          {f.name === "alt" && may && <Suggested brand={brand} id={id} />}
        </div>
      ))}
      {asset.fileTaken && (asset.fileTaken !== asset.taken || (asset.fileTakenZone ?? "") !== (asset.takenZone ?? "")) && (
        <p className="text-dense text-ink-soft">
          The file says {moment(asset.fileTaken)}
          {asset.fileTakenZone && ` (${asset.fileTakenZone})`}.
          {may && (
            <button
              type="button"
              className="ml-2 text-sea underline"
              onClick={() => void setClock(brand, { ids: [asset.id] }, { back: true })}
            >
              Use it again
            </button>
          )}
        </p>
      )}
      <LeftFile brand={brand} asset={asset} may={may} />
      <Stack brand={brand} asset={asset} may={asset.may.includes("file")} />
      <About asset={asset} seesAll={me.everywhere.includes("look")} />
      <FileSays brand={brand} id={id} />
    </section>
  );
}

function About({ asset, seesAll }: { asset: Asset; seesAll: boolean }) {
  const { goTo } = useGo();
  const more: Fact[] = [];
  if (asset.folderPath || seesAll)
    more.push([
      "Lives in",
      <button
        key="folder"
        type="button"
        className="text-left text-sea underline"
        onClick={() => goTo(asset.folder ? { place: "folder", id: asset.folder } : { place: "unfiled" })}
      >
        {asset.folderPath ?? "Unfiled"}
      </button>,
    ]);
  if (asset.albums.length > 0) more.push(["Albums", asset.albums.map((a) => a.name).join(", ")]);
  if (asset.shown.length > 0) more.push(["Shown outside", <ShownOutside key="live" shown={asset.shown} />]);
  return (
    <div className="border-t border-line pt-3">
      <Facts asset={asset} more={more} />
    </div>
  );
}
