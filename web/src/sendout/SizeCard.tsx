import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { Choice, Switch } from "~/kit/Field";
import { Carries } from "~/sheet/Carries";
import { SavedField } from "~/kit/SavedField";
import { SavedSlider } from "~/kit/SavedSlider";
import { useSaving } from "~/kit/saving";
import { changeSize } from "./acts";

type OutputSize = Schema["OutputSize"];
type Values = Schema["OutputSizeValues"];

/** valuesOf is an output size without its id. */
export function valuesOf(size: OutputSize): Values {
  const values: Values & { id?: number; address?: string } = { ...size };
  delete values.id;
  delete values.address;
  return values;
}

/** whole reads a number that is 0 or more; undefined is none. */
const whole = (text: string) => (/^\d{1,9}$/.test(text.trim()) ? Number(text) : text.trim() === "" ? 0 : undefined);

/** SizeCard is everything about one output size; what is changed saves itself. */
export function SizeCard({ brand, size }: { brand: string; size: OutputSize }) {
  const [problem, setProblem] = useState<string>();
  const set = useSaving(
    valuesOf(size),
    (values) => changeSize(brand, size.id, values),
    () => setProblem(undefined),
  );
  const now = (change: Partial<Values>) => void set(change).catch((error: unknown) => setProblem(messageOf(error)));
  const number = (label: string, value: number, save: (n: number) => Partial<Values>, hint?: string) => (
    <SavedField
      label={label}
      value={value === 0 ? "" : String(value)}
      hint={hint}
      check={(text) => (whole(text) === undefined ? "Type a whole number." : undefined)}
      onSave={(text) => set(save(whole(text)!))}
    />
  );
  const toggle = (label: string, on: boolean | undefined, save: (on: boolean) => Partial<Values>) => (
    <div className="sm:col-span-2">
      <Switch label={label} checked={on ?? false} onChange={(on) => now(save(on))} />
    </div>
  );
  const boxed = size.fit !== "inside";
  return (
    <section aria-label={size.name} className="space-y-5" data-size-card={size.name}>
      <div className="grid gap-4 rounded-xl border border-line bg-card p-4 sm:grid-cols-2">
        <div className="sm:col-span-2">
          <SavedField label="Name" maxLength={100} value={size.name} onSave={(name) => set({ name })} />
        </div>
        {number("Width in pixels", size.width, (width) => ({ width }), "Empty leaves it open")}
        {number("Height in pixels", size.height, (height) => ({ height }), "Empty leaves it open")}
        <Choice
          label="Into this box"
          value={size.fit}
          options={[
            { value: "inside", label: "whole, as large as it goes in" },
            { value: "fill", label: "cut to fill it, around the focal point" },
            { value: "pad", label: "whole, with a border to fill it" },
          ]}
          onChange={(fit) => now({ fit, colour: fit === "pad" ? (size.colour ?? "tint") : size.colour })}
        />
        {size.fit === "pad" && <Border colour={size.colour ?? "tint"} onChange={(colour) => now({ colour })} />}
        {toggle(boxed ? "Enlarge what is too small for the box" : "Enlarge what is smaller", size.enlarge, (enlarge) => ({ enlarge }))}
        <Choice
          label="Format"
          value={size.format}
          options={[
            { value: "jpeg", label: "JPEG" },
            { value: "webp", label: "WebP" },
            { value: "avif", label: "AVIF" },
            { value: "png", label: "PNG, loses nothing" },
            { value: "best", label: "the best that the browser takes" },
          ]}
          onChange={(format) => now({ format, budget: format === "png" ? 0 : size.budget })}
        />
        {size.format !== "png" &&
          number(
            "At most so many kB (optional)",
            Math.round((size.budget ?? 0) / 1000),
            (kb) => ({ budget: kb * 1000 }),
            size.clipFormat === "webp" || size.clipFormat === "gif"
              ? "The quality gives way. Animations are not held to it."
              : "The quality gives way. A clip that is too long for it is refused.",
          )}
        {size.format !== "png" && (
          <SavedSlider label="Quality" from={1} to={100} neutral={82} value={size.quality} onSet={(quality) => now({ quality })} />
        )}
        <SavedSlider
          label="Sharpening for this size"
          from={0}
          to={100}
          neutral={0}
          value={size.sharpen ?? 0}
          onSet={(sharpen) => now({ sharpen })}
        />
        <Choice
          label="What the file says"
          value={size.metadata}
          options={[
            { value: "strip_private", label: "copyright, credit and usage terms" },
            { value: "strip_all", label: "nothing" },
            { value: "keep", label: "everything" },
          ]}
          onChange={(metadata) => now({ metadata })}
        />
        <Carries policy={size.metadata} />
        <SavedField
          label="Names"
          value={size.pattern}
          maxLength={200}
          hint="{name} {title} {n} {date} {size} {width} {height}"
          onSave={(pattern) => set({ pattern })}
        />
        {size.format === "best" && (
          <p className="text-small text-ink-soft sm:col-span-2">
            AVIF, WebP or JPEG, by what a browser says that it takes: for guests and public addresses. Everywhere else it is a JPEG.
          </p>
        )}
        {toggle("Make it of everything that comes in", size.onArrival, (onArrival) => ({ onArrival }))}
        {toggle("Offer it at public addresses", size.public, (isPublic) => ({ public: isPublic }))}
        {size.public && size.metadata === "keep" && (
          <p className="text-tomato sm:col-span-2">
            Whoever opens an item at its public address gets all that its file says, also where it was taken.
          </p>
        )}
        {size.public && (
          <p className="text-small text-ink-soft sm:col-span-2" data-size-address={size.address}>
            Items with a public address are had in it under <span className="text-plum">…/{size.address}</span>, which stays when it is
            renamed.
          </p>
        )}
        <h3 className="font-display text-base sm:col-span-2">Clips</h3>
        <div className="sm:col-span-2">
          <Choice
            label="Become"
            value={size.clipFormat || "mp4"}
            options={[
              { value: "mp4", label: "a film (MP4)" },
              { value: "webp", label: "an animation (WebP), up to 30 seconds" },
              { value: "gif", label: "an animation (GIF), up to 30 seconds" },
            ]}
            onChange={(clipFormat) => now({ clipFormat })}
          />
        </div>
        {number("Longer side in pixels", size.clipSide ?? 0, (clipSide) => ({ clipSide }), "Empty takes the box above")}
        {number("Pictures a second at most", size.clipRate ?? 0, (clipRate) => ({ clipRate }), "Empty keeps what a clip has")}
        {(size.clipFormat || "mp4") === "mp4" && toggle("Without sound", size.quiet, (quiet) => ({ quiet }))}
        {problem && (
          <p role="alert" className="text-tomato sm:col-span-2">
            {problem}
          </p>
        )}
      </div>
    </section>
  );
}

/** Border chooses the colour around a picture: its own, or any. */
function Border({ colour, onChange }: { colour: string; onChange: (colour: string) => void }) {
  return (
    <div className="flex items-end gap-2">
      <div className="min-w-0 flex-1">
        <Choice
          label="The border"
          value={colour === "tint" ? "tint" : "any"}
          options={[
            { value: "tint", label: "in the picture’s own tint" },
            { value: "any", label: "in one colour" },
          ]}
          onChange={(v) => onChange(v === "tint" ? "tint" : "#ffffff")}
        />
      </div>
      {colour !== "tint" && (
        <input
          type="color"
          aria-label="Colour of the border"
          className="h-9 w-12 rounded-patch border border-line-strong bg-card"
          defaultValue={colour}
          onBlur={(e) => e.target.value !== colour && onChange(e.target.value)}
        />
      )}
    </div>
  );
}
