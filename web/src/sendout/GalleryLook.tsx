import { clsx } from "clsx";
import type { Schema } from "~/api/client";
import { Choice } from "~/kit/Field";
import { changeGallery } from "./acts";

type Settings = Schema["GallerySettings"];

const letterings: { value: Settings["lettering"]; label: string }[] = [
  { value: "plain", label: "Plain, as here" },
  { value: "book", label: "Like a book" },
  { value: "poster", label: "Like a poster" },
];
const accents: Record<Settings["accent"], string> = {
  sea: "bg-sea",
  plum: "bg-plum",
  saffron: "bg-saffron",
  tomato: "bg-tomato",
  ink: "bg-ink",
};

/** GalleryLook is how a gallery looks, and what its guests may do beside looking. */
export function GalleryLook({ brand, gallery: g }: { brand: string; gallery: Schema["Gallery"] }) {
  const s = g.settings;
  const change = (part: Partial<Settings>) => void changeGallery(brand, g.id, { settings: { ...s, ...part } });
  return (
    <section aria-label="How it looks" className="grid gap-4 rounded-xl border border-line bg-card p-4 md:grid-cols-2">
      <h2 className="text-base md:col-span-2">How it looks</h2>
      <Choice label="Lettering" value={s.lettering} options={letterings} onChange={(lettering) => change({ lettering })} />
      <fieldset>
        <legend className="mb-1 text-dense font-medium text-ink-soft">Accent colour</legend>
        <div className="flex flex-wrap gap-3">
          {(Object.keys(accents) as Settings["accent"][]).map((accent) => (
            <label key={accent} className="flex min-h-6 items-center gap-1.5">
              <input
                type="radio"
                name={`accent-${g.id}`}
                className="accent-sea"
                checked={s.accent === accent}
                onChange={() => change({ accent })}
              />
              <span aria-hidden="true" className={clsx("size-4 rounded-full", accents[accent])} />
              {accent}
            </label>
          ))}
        </div>
      </fieldset>
      <p className="text-small text-ink-soft md:col-span-2">
        Its fixed words are in English, German, French or Spanish, as each guest’s browser asks.
      </p>
    </section>
  );
}
