import { clsx } from "clsx";
import { X } from "lucide-react";
import { useState } from "react";
import { type Selection, type Schema } from "~/api/client";
import { useTags } from "~/api/queries";
import { addTags, takeTagOff } from "./acts";
import { completions } from "~/kit/completion";
import { OfferList, useOffers } from "~/kit/Offers";

/** TagEntry shows the tags on a selection and takes several new ones at once, with commas between them. */
export function TagEntry({
  brand,
  selection,
  count,
  tags,
  may,
}: {
  brand: string;
  selection: () => Selection;
  count: number;
  tags: Schema["Tag"][];
  may: boolean;
}) {
  const [text, setText] = useState("");
  const all = useTags(brand).data ?? [];
  const on = new Set(tags.filter((t) => t.uses === count).map((t) => t.id));
  const offers = completions(
    text.split(",").at(-1)!,
    all.filter((t) => !on.has(t.id)),
    6,
  );
  const state = useOffers(offers.length, 0);
  const complete = (name: string) => {
    setText(
      [
        ...text
          .split(",")
          .slice(0, -1)
          .map((t) => t.trim()),
        name,
        "",
      ].join(", "),
    );
    state.restart();
  };
  const add = async () => {
    if (!text.trim()) return;
    const done = await addTags(brand, selection(), text);
    if (done) setText("");
  };
  const takeOff = (tag: number) => void takeTagOff(brand, selection(), tag);
  const onKey = (event: React.KeyboardEvent) => {
    const offer = offers[state.at];
    if (event.key === "Tab" && offer) complete(offer.name);
    else if (event.key === "Enter") void add();
    else if (!state.moved(event.key)) return;
    event.preventDefault();
  };
  return (
    <div>
      <p className="mb-1 text-dense font-medium text-ink-soft">Tags</p>
      <ul className="mb-2 flex flex-wrap gap-1.5" aria-label="Tags on the selection">
        {tags.map((t) => (
          <li
            key={t.id}
            className={clsx(
              "inline-flex items-center gap-1 rounded-full border py-0.5 pr-1 pl-2.5 text-dense",
              t.uses < count ? "border-dashed border-line-strong text-ink-soft" : "border-line bg-sunk",
            )}
            title={[t.group, t.fromFiles > 0 && "came with the file"].filter(Boolean).join(", ") || undefined}
          >
            <span className={t.fromFiles > 0 ? "underline decoration-dotted underline-offset-2" : undefined}>{t.name}</span>
            {t.fromFiles > 0 && <span className="sr-only">, came with the file</span>}
            {t.uses < count && (
              <span>
                {t.uses} of {count}
              </span>
            )}
            {may && (
              <button
                type="button"
                aria-label={`Take ${t.name} off`}
                className="grid size-5 place-items-center rounded-full hover:bg-line"
                onClick={() => takeOff(t.id)}
              >
                <X size={13} />
              </button>
            )}
          </li>
        ))}
        {tags.length === 0 && <li className="text-dense text-ink-soft">None yet</li>}
      </ul>
      {may && (
        <div className="relative">
          <input
            {...state.field}
            aria-label="Add tags, with commas between them"
            placeholder="Add tags, with commas"
            className="w-full rounded-patch border border-line-strong bg-card px-2.5 py-1.5 placeholder:text-ink-soft"
            value={text}
            data-tag-entry
            onChange={(e) => {
              setText(e.target.value);
              state.restart();
            }}
            onKeyDown={onKey}
          />
          <OfferList
            offers={offers.map((t) => ({ key: t.id, name: t.name, beside: `${t.group} ${t.uses}` }))}
            state={state}
            label="Tags to choose from"
            className="absolute z-20 w-full shadow-xl"
            onPick={(i) => complete(offers[i]!.name)}
          />
          <p className="mt-1 text-small text-ink-soft">Tab completes, Enter adds.</p>
        </div>
      )}
    </div>
  );
}
