import { useRef } from "react";
import { mediaAddress, type Asset } from "~/api/client";
import { useAsset, useOutputSizes } from "~/api/queries";
import { Button } from "~/kit/Button";
import { focalPosition } from "~/kit/focal";
import { setFocal } from "./acts";
import { Fold } from "./Fold";
import { useShown } from "./shown";

const wide = 92; // pixels of the wider side of each crop

/** Crops shows beside each other what every output size that fills its box cuts out of the picture. All follow the focal point, which is
 * moved by a press on the picture in miniature, or by keys. */
export function Crops({ brand, id }: { brand: string; id: number }) {
  const asset = useAsset(brand, id).data;
  const sizes = (useOutputSizes(brand).data ?? []).filter((s) => s.fit === "fill" && s.width && s.height);
  const shown = useShown((s) => (s.id === id ? s.address : undefined));
  if (!asset || sizes.length === 0) return null;
  const src = shown ?? mediaAddress(brand, asset, "medium");
  const focal = { x: asset.focalX, y: asset.focalY };
  return (
    <Fold name="Crops for the output sizes" changed={asset.focalByHand ? 1 : 0} onBack={() => void setFocal(brand, id)}>
      <FocalPicker brand={brand} asset={asset} src={src} />
      <ul className="flex flex-wrap items-end gap-2">
        {sizes.map((s) => {
          const scale = wide / Math.max(s.width, s.height);
          const box = { width: Math.round(s.width * scale), height: Math.round(s.height * scale) };
          return (
            <li key={s.id} className="text-small text-ink-soft" style={{ width: box.width }}>
              <img
                src={src}
                alt={`What ${s.name} cuts out`}
                className="object-cover"
                style={{ ...box, objectPosition: focalPosition(box, asset, focal) }}
              />
              <span className="block truncate">{s.name}</span>
            </li>
          );
        })}
      </ul>
    </Fold>
  );
}

function FocalPicker({ brand, asset, src }: { brand: string; asset: Asset; src: string }) {
  const picture = useRef<HTMLDivElement>(null);
  const put = (x: number, y: number) => void setFocal(brand, asset.id, { x: within(x), y: within(y) });
  return (
    <div className="space-y-1">
      <p className="text-dense">
        Every crop is made around the focal point{asset.focalByHand ? "" : ", which was found by itself"}. Press where it should be.
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
          style={{ left: `${asset.focalX * 100}%`, top: `${asset.focalY * 100}%` }}
          onClick={(e) => e.stopPropagation()}
          onKeyDown={(e) => {
            const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
            if (!by) return;
            e.preventDefault();
            e.stopPropagation();
            put(asset.focalX + by[0]! * 0.02, asset.focalY + by[1]! * 0.02);
          }}
        />
      </div>
      {asset.focalByHand && (
        <Button tone="quiet" className="min-h-7" onClick={() => void setFocal(brand, asset.id)}>
          Find it by itself again
        </Button>
      )}
    </div>
  );
}

const within = (n: number) => Math.round(Math.min(1, Math.max(0, n)) * 1000) / 1000;
