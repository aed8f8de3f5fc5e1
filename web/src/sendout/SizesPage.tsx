import { clsx } from "clsx";
import { ArrowDown, ArrowUp, MoreHorizontal, Plus, RotateCcw } from "lucide-react";
import { useState } from "react";
import type { Schema } from "~/api/client";
import { useOutputSizes, useSizeCosts } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Dialog } from "~/kit/Dialog";
import { Menu } from "~/kit/Menu";
import { bytes, plural } from "~/kit/words";
import { describeSize } from "~/sheet/FilesWanted";
import { addSize, clearMade, defaultSizes, duplicateSize, orderSizes, retireSize } from "./acts";
import { SizeCard, valuesOf } from "./SizeCard";
import { SizeExample } from "./SizeExample";

type OutputSize = Schema["OutputSize"];

const fresh: Schema["OutputSizeValues"] = {
  name: "New size",
  width: 1600,
  height: 1600,
  fit: "inside",
  format: "jpeg",
  quality: 82,
  metadata: "strip_private",
  pattern: "{name}",
};

/** SizesPage lists the output sizes with what they cost, and changes the one that is chosen. What is changed saves itself. */
export function SizesPage({ brand }: { brand: string }) {
  const sizes = useOutputSizes(brand).data;
  const [chosen, setChosen] = useState<number>();
  const [retiring, setRetiring] = useState<OutputSize>();
  const size = sizes?.find((s) => s.id === chosen) ?? sizes?.[0];
  const costs = useSizeCosts(brand).data;
  const made = (id: number) => costs?.find((c) => c.id === id && c.files > 0);
  const removal = (id: number) => {
    const cost = made(id);
    if (!cost) return [];
    return [{ label: `Remove ${plural(cost.files, "file")} made by it, ${bytes(cost.bytes)}`, onSelect: () => void clearMade(brand, id) }];
  };
  const move = (from: number, to: number) => {
    const ids = sizes!.map((s) => s.id);
    ids.splice(to, 0, ...ids.splice(from, 1));
    void orderSizes(brand, ids);
  };
  const add = async () => {
    const names = new Set(sizes?.map((s) => s.name.toLowerCase()));
    let name = fresh.name;
    for (let n = 2; names.has(name.toLowerCase()); n++) name = `${fresh.name} ${n}`;
    const done = await addSize(brand, { ...fresh, name });
    if (done?.id) setChosen(done.id);
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="sizes">
      <div className="stitch-b flex flex-wrap items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Output sizes</h1>
        <Button icon={<RotateCcw size={16} />} onClick={() => void defaultSizes(brand)}>
          Restore the first sizes
        </Button>
        <Button tone="main" icon={<Plus size={16} />} onClick={() => void add()}>
          New size
        </Button>
      </div>
      <div className="page-list">
        <div>
          <ol className="space-y-1.5" aria-label="Output sizes">
            {sizes?.map((s, i) => (
              <li
                key={s.id}
                data-size={s.name}
                className={clsx(
                  "flex items-start gap-1 rounded-patch border p-2",
                  s.id === size?.id ? "border-saffron bg-saffron-wash" : "border-line bg-card",
                )}
              >
                <button
                  type="button"
                  className="min-w-0 flex-1 text-left"
                  aria-current={s.id === size?.id ? "true" : undefined}
                  onClick={() => setChosen(s.id)}
                >
                  <span className="block truncate font-medium">{s.name}</span>
                  <span className="block text-small text-ink-soft">{describeSize(s)}</span>
                  <Cost brand={brand} id={s.id} />
                </button>
                <IconButton
                  label={`Move ${s.name} up`}
                  className="size-7"
                  icon={<ArrowUp size={15} />}
                  disabled={i === 0}
                  onClick={() => move(i, i - 1)}
                />
                <IconButton
                  label={`Move ${s.name} down`}
                  className="size-7"
                  icon={<ArrowDown size={15} />}
                  disabled={i === sizes.length - 1}
                  onClick={() => move(i, i + 1)}
                />
                <Menu
                  trigger={<IconButton label={`More about ${s.name}`} className="size-7" icon={<MoreHorizontal size={16} />} />}
                  items={[
                    { label: "Duplicate", onSelect: () => void duplicateSize(brand, s.id).then((d) => d?.id && setChosen(d.id)) },
                    ...removal(s.id),
                    null,
                    { label: "Retire…", danger: true, onSelect: () => setRetiring(s) },
                  ]}
                />
              </li>
            ))}
            {sizes?.length === 0 && (
              <li className="text-ink-soft">There is none, so nothing can be taken along. Make one, or put the first ones back.</li>
            )}
          </ol>
          {made(0) && (
            <div className="mt-4 flex flex-wrap items-center gap-2 border-t border-line pt-3" data-made-for-pages={made(0)!.files}>
              <p className="min-w-40 flex-1 text-small text-ink-soft">
                For web pages and players, by no output size: {plural(made(0)!.files, "file")}, {bytes(made(0)!.bytes)}. They are made again
                when they are asked for.
              </p>
              <Button onClick={() => void clearMade(brand, 0)}>Remove {plural(made(0)!.files, "file")}</Button>
            </div>
          )}
        </div>
        {size && (
          <div className="space-y-5">
            <SizeExample brand={brand} size={valuesOf(size)} />
            <SizeCard key={size.id} brand={brand} size={size} />
          </div>
        )}
      </div>
      {retiring && <RetireDialog brand={brand} size={retiring} onClose={() => setRetiring(undefined)} />}
    </div>
  );
}

/** Cost says what was made by a size so far. */
function Cost({ brand, id }: { brand: string; id: number }) {
  const cost = useSizeCosts(brand).data?.find((c) => c.id === id);
  if (!cost || cost.files === 0) return <span className="block text-small text-ink-soft">Nothing was made by it yet.</span>;
  const each = cost.seconds / cost.files;
  return (
    <span className="block text-small text-ink-soft" data-cost={cost.files}>
      {plural(cost.files, "file")}, {bytes(cost.bytes)}, {each < 10 ? each.toFixed(2) : Math.round(each)} s each
    </span>
  );
}

function RetireDialog({ brand, size, onClose }: { brand: string; size: OutputSize; onClose: () => void }) {
  const cost = useSizeCosts(brand).data?.find((c) => c.id === size.id);
  const retire = (clear: boolean) => {
    onClose();
    void retireSize(brand, size.id, clear);
  };
  return (
    <Dialog
      title={`Retire “${size.name}”?`}
      about="It is not offered any more. What was taken along stays on its list, and is made again if somebody fetches it once more."
      onClose={onClose}
    >
      <span className="flex flex-wrap gap-2">
        <Button tone="danger" onClick={() => retire(false)}>
          Retire it
        </Button>
        {!!cost?.files && (
          <Button tone="danger" onClick={() => retire(true)}>
            Retire it and remove {plural(cost.files, "file")}, {bytes(cost.bytes)}
          </Button>
        )}
      </span>
    </Dialog>
  );
}
