import { useRef, useState } from "react";
import { mediaAddress, type Asset } from "~/api/client";
import { useAsset, useOutputSizes, usePageCrops } from "~/api/queries";
import { Button } from "~/kit/Button";
import { focalPosition } from "~/kit/focal";
import { listed } from "~/kit/words";
import { setFocal } from "./acts";
import { noteAct } from "./working";
import { Fold } from "./Fold";
import { proportionOf, type Box } from "./proportions";
import { useShown } from "./shown";

const wide = 92; // pixels of the wider side of each crop

/** putFocal sets the focal point of an item, or lets it be found again, as a thing done in the sitting at it. */
const putFocal = async (brand: string, id: number, place?: Parameters<typeof setFocal>[2]) =>
  noteAct(id, "moving the focal point", (await setFocal(brand, id, place))?.trail);

/** Crops shows beside each other what every output size that fills its box, and every page that takes no such proportions, cuts out of the
 * picture. All follow the focal point, which is moved by a press on the picture in miniature, or by keys; those of one proportion can have
 * a point of their own. */
export function Crops({ brand, id }: { brand: string; id: number }) {
  const asset = useAsset(brand, id).data;
  const sizes = (useOutputSizes(brand).data ?? []).filter((s) => s.fit === "fill" && s.width && s.height);
  const pages = usePageCrops(brand, id).data ?? [];
  const shown = useShown((s) => (s.id === id ? s.address : undefined));
  const [only, setOnly] = useState<string>();
  const cuts: { name: string; box: Box }[] = sizes.map((s) => ({ name: s.name, box: s }));
  for (const page of pages) if (page.crop) cuts.push({ name: page.name, box: page.crop });
  const asItIs = pages.filter((page) => !page.crop).map((page) => page.name);
  if (!asset || cuts.length === 0) return null;
  const src = shown ?? mediaAddress(brand, asset, "medium");
  const own = Object.keys(asset.focalFor).length;
  const pointOf = (proportion: string | undefined) => {
    const one = proportion === undefined ? undefined : asset.focalFor[proportion];
    return { x: one?.x ?? asset.focalX, y: one?.y ?? asset.focalY };
  };
  const back = async () => {
    for (const proportion of Object.keys(asset.focalFor)) await putFocal(brand, id, { proportion });
    if (asset.focalByHand) await putFocal(brand, id);
  };
  return (
    <Fold name="Crops for sizes and pages" changed={(asset.focalByHand ? 1 : 0) + own} onBack={() => void back()}>
      <FocalPicker brand={brand} asset={asset} src={src} only={only} at={pointOf(only)} onAll={() => setOnly(undefined)} />
      <ul className="flex flex-wrap items-end gap-2">
        {cuts.map(({ name, box: of }, i) => {
          const scale = wide / Math.max(of.width, of.height);
          const box = { width: Math.round(of.width * scale), height: Math.round(of.height * scale) };
          const proportion = proportionOf(of);
          return (
            <li key={i} className="text-small text-ink-soft" style={{ width: Math.max(box.width, 64) }} data-crop={name}>
              <button
                type="button"
                aria-pressed={only === proportion}
                aria-label={`Move the crop to ${proportion} alone`}
                className="block rounded-[3px] aria-pressed:outline-3 aria-pressed:outline-saffron"
                onClick={() => setOnly(only === proportion ? undefined : proportion)}
              >
                <img
                  src={src}
                  alt={`What ${name} cuts out`}
                  className="object-cover"
                  style={{ ...box, objectPosition: focalPosition(box, asset, pointOf(proportion)) }}
                />
              </button>
              <span className="line-clamp-2 min-h-[2lh]" title={name}>
                {name}
              </span>
              {asset.focalFor[proportion] && <span className="block truncate">on its own</span>}
            </li>
          );
        })}
      </ul>
      {asItIs.length > 0 && <p className="text-small text-ink-soft">Taken as it is by {listed(asItIs)}.</p>}
    </Fold>
  );
}

function FocalPicker({
  brand,
  asset,
  src,
  only,
  at,
  onAll,
}: {
  brand: string;
  asset: Asset;
  src: string;
  only: string | undefined;
  at: { x: number; y: number };
  onAll: () => void;
}) {
  const picture = useRef<HTMLDivElement>(null);
  const put = (x: number, y: number) => void putFocal(brand, asset.id, { x: within(x), y: within(y), proportion: only });
  return (
    <div className="space-y-1">
      <p className="text-dense">
        {only === undefined
          ? `Every crop is made around the focal point${asset.focalByHand ? "" : ", found automatically"}. ` +
            "Press where it should be, or on a crop to move that one alone."
          : `You move the crop to ${only} alone. Press where its middle should be.`}
      </p>
      <div
        ref={picture}
        className="relative w-fit cursor-crosshair"
        onClick={(e) => {
          const box = picture.current!.getBoundingClientRect();
          put((e.clientX - box.x) / box.width, (e.clientY - box.y) / box.height);
        }}
        data-focal-picker=""
      >
        <img src={src} alt="" className="block max-h-44 max-w-full" draggable={false} />
        <button
          type="button"
          aria-label="The focal point. Move it with the arrow keys."
          className="absolute size-6 -translate-1/2 rounded-full border-2 border-card-on-night bg-saffron/70 outline-1 outline-night"
          style={{ left: `${at.x * 100}%`, top: `${at.y * 100}%` }}
          onClick={(e) => e.stopPropagation()}
          onKeyDown={(e) => {
            const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
            if (!by) return;
            e.preventDefault();
            e.stopPropagation();
            put(at.x + by[0]! * 0.02, at.y + by[1]! * 0.02);
          }}
        />
      </div>
      {only !== undefined && (
        <span className="flex flex-wrap gap-1">
          <Button tone="quiet" className="min-h-7" onClick={onAll}>
            Move all of them
          </Button>
          {asset.focalFor[only] && (
            <Button tone="quiet" className="min-h-7" onClick={() => void putFocal(brand, asset.id, { proportion: only })}>
              Let it follow the others again
            </Button>
          )}
        </span>
      )}
      {only === undefined && asset.focalByHand && (
        <Button tone="quiet" className="min-h-7" onClick={() => void putFocal(brand, asset.id)}>
          Find it automatically again
        </Button>
      )}
    </div>
  );
}

const within = (n: number) => Math.round(Math.min(1, Math.max(0, n)) * 1000) / 1000;
