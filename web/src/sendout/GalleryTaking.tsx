import { useState } from "react";
import { Link } from "@tanstack/react-router";
import type { Schema } from "~/api/client";
import { useLogos, useOutputSizes } from "~/api/queries";
import { Choice, Switch } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { SavedSlider } from "~/kit/SavedSlider";
import { changeGallery, setGallery } from "./acts";

type Settings = Schema["GallerySettings"];

const places: { value: Settings["markPlace"]; label: string }[] = [
  { value: "middle", label: "In the middle" },
  { value: "across", label: "Repeated all across" },
  { value: "corner", label: "In the corner" },
];

/** GalleryTaking is what guests may take along, and the mark that the server draws across what they see. */
export function GalleryTaking({ brand, gallery: g }: { brand: string; gallery: Schema["Gallery"] }) {
  const sizes = useOutputSizes(brand).data ?? [];
  const s = g.settings;
  const logos = useLogos(brand).data ?? [];
  const [wording, setWording] = useState(false);
  const kind = s.markItem ? String(s.markItem) : s.markWords || wording ? "words" : "none";
  const marked = !!s.markWords || !!s.markItem;
  const change = (part: Partial<Settings>) => void changeGallery(brand, g.id, { settings: { ...s, ...part } });
  const set = (part: Partial<Settings>) => setGallery(brand, g.id, { settings: { ...s, ...part } });
  return (
    <section aria-label="What guests may take along" className="space-y-3 rounded-xl border border-line bg-card p-4">
      <h2 className="text-base">What guests may take along</h2>
      <Switch label="Guests may download the pictures" checked={s.downloads} onChange={(downloads) => change({ downloads })} />
      {s.downloads && (
        <fieldset className="ml-6">
          <legend className="sr-only">Sizes that guests may take</legend>
          {sizes.map((size) => (
            <Switch
              key={size.id}
              label={size.name}
              checked={s.sizes.includes(size.id)}
              onChange={(on) => change({ sizes: on ? [...s.sizes, size.id] : s.sizes.filter((id) => id !== size.id) })}
            />
          ))}
          <Switch label="The original files" checked={s.original} onChange={(original) => change({ original })} />
          {!s.original && s.sizes.length === 0 && <p className="text-tomato">No size is chosen, so guests can only look.</p>}
        </fieldset>
      )}
      <div className="grid gap-4 border-t border-line pt-3 md:grid-cols-2">
        <Choice
          label="Mark across the pictures"
          value={kind}
          options={[
            { value: "none", label: "None" },
            { value: "words", label: "Words" },
            ...logos.map((l) => ({ value: String(l.id), label: `The logo “${l.alt}”` })),
            ...(s.markItem && !logos.some((l) => l.id === s.markItem)
              ? [{ value: kind, label: "A logo that is gone: “PROOF” instead" }]
              : []),
          ]}
          onChange={(v) => {
            setWording(v === "words");
            change({ markItem: v === "none" || v === "words" ? 0 : Number(v), markWords: v === "words" ? s.markWords : "" });
          }}
        />
        {kind === "words" && (
          <SavedField
            label="Its words"
            hint="Drawn across whatever they see large or take along"
            value={s.markWords}
            maxLength={60}
            onSave={(markWords) => set({ markWords })}
          />
        )}
        {marked && (
          <>
            <Choice label="Where" value={s.markPlace} options={places} onChange={(markPlace) => change({ markPlace })} />
            <SavedSlider
              label="Strength in %"
              from={10}
              to={100}
              neutral={40}
              value={s.markStrength}
              onSet={(markStrength) => change({ markStrength })}
            />
          </>
        )}
      </div>
      {logos.length === 0 && (
        <p className="text-small text-ink-soft">
          To draw a logo across them, select its picture in the library and choose “Use it as a logo of the brand”.
        </p>
      )}
      {marked && s.original && s.downloads && (
        <p className="text-dense text-ink-soft">Original files go out as they are, without the mark.</p>
      )}
      <p className="text-small text-ink-soft">
        Nothing that guests see is larger than the largest size they may take.{" "}
        <Link to="/b/$brand/sizes" params={{ brand }} className="text-sea underline">
          Output sizes
        </Link>
      </p>
    </section>
  );
}
