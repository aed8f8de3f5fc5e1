import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { Choice } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { SavedSlider } from "~/kit/SavedSlider";
import { useSaving } from "~/kit/saving";
import { setEmbed } from "./acts";

type Settings = Schema["EmbedSettings"];

/** EmbedLook is how an embed looks; what is changed saves itself. */
export function EmbedLook({ brand, embed }: { brand: string; embed: Schema["Embed"] }) {
  const [problem, setProblem] = useState<string>();
  const set = useSaving(
    embed.settings,
    (settings) => setEmbed(brand, embed.id, { settings }),
    () => setProblem(undefined),
  );
  const now = (change: Partial<Settings>) => void set(change).catch((error: unknown) => setProblem(messageOf(error)));
  const s = embed.settings;
  const slider = (label: string, field: "columns" | "height" | "gap" | "corner", from: number, to: number, neutral: number) => (
    <SavedSlider label={label} from={from} to={to} neutral={neutral} value={s[field]} onSet={(value) => now({ [field]: value })} />
  );
  return (
    <section aria-label="How it looks" className="grid gap-4 rounded-xl border border-line bg-card p-4 sm:grid-cols-2">
      <Choice
        label="Layout"
        value={s.layout}
        options={[
          { value: "rows", label: "rows that fill the width" },
          { value: "columns", label: "columns of squares" },
          { value: "masonry", label: "columns of whole pictures" },
          { value: "strip", label: "one row to move sideways" },
          { value: "single", label: "the first picture only" },
        ]}
        onChange={(layout) => now({ layout })}
      />
      <Choice
        label="Order"
        value={`${s.sort}${s.descending ? "-" : ""}`}
        options={[
          { value: "hand", label: "as arranged by hand" },
          { value: "taken-", label: "newest shots first" },
          { value: "taken", label: "oldest shots first" },
          { value: "added-", label: "newly added first" },
          { value: "added", label: "added longest ago first" },
          { value: "name", label: "by name" },
        ]}
        onChange={(order) => now({ sort: order.replace("-", "") as Settings["sort"], descending: order.endsWith("-") })}
      />
      {s.layout !== "single" && (
        <SavedField
          label="Pictures at most"
          value={String(s.most)}
          check={(text) => (/^\d{1,3}$/.test(text.trim()) ? undefined : "Type a whole number, 1 to 500.")}
          onSave={(text) => set({ most: Number(text) })}
        />
      )}
      <Choice
        label="Caption"
        value={s.caption}
        options={[
          { value: "none", label: "none" },
          { value: "title", label: "the title" },
          { value: "description", label: "the description" },
          { value: "credit", label: "the credit" },
        ]}
        onChange={(caption) => now({ caption })}
      />
      <Choice
        label="A click"
        value={s.click}
        options={[
          { value: "big_view", label: "shows the picture large" },
          { value: "to_page", label: "leads to a page" },
          { value: "nothing", label: "does nothing" },
        ]}
        onChange={(click) => (click === "to_page" && !s.link ? now({ click, link: window.location.origin }) : now({ click }))}
      />
      {s.click === "to_page" && (
        <SavedField label="Page that it leads to" maxLength={2000} value={s.link} onSave={(link) => set({ link: link.trim() })} />
      )}
      {(s.layout === "columns" || s.layout === "masonry") && slider("Columns, where there is room", "columns", 1, 8, 3)}
      {(s.layout === "rows" || s.layout === "strip") && slider("Height of a row in pixels", "height", 60, 800, 220)}
      {slider("Space between pictures", "gap", 0, 60, 8)}
      {slider("Roundness of corners", "corner", 0, 60, 0)}
      <Colour label="Background" value={s.background} onSet={(background) => now({ background })} />
      <Colour label="Colour of the words" value={s.text} onSet={(text) => now({ text })} />
      {problem && (
        <p role="alert" className="text-tomato sm:col-span-2">
          {problem}
        </p>
      )}
    </section>
  );
}

/** Colour is the page's own colour, or one that is chosen. */
function Colour({ label, value, onSet }: { label: string; value: string; onSet: (value: string) => void }) {
  return (
    <div className="flex items-end gap-2">
      <div className="min-w-0 flex-1">
        <Choice
          label={label}
          value={value === "" ? "page" : "own"}
          options={[
            { value: "page", label: "as on the page" },
            { value: "own", label: "a colour of its own" },
          ]}
          onChange={(v) => onSet(v === "page" ? "" : label === "Background" ? "#ffffff" : "#12312e")}
        />
      </div>
      {value !== "" && (
        <input
          key={value}
          type="color"
          aria-label={`${label}: the colour`}
          className="h-9 w-12 rounded-patch border border-line-strong bg-card"
          defaultValue={value}
          onBlur={(e) => e.target.value !== value && onSet(e.target.value)}
        />
      )}
    </div>
  );
}
