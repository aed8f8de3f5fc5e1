import { clsx } from "clsx";
import { X } from "lucide-react";
import { useId, useState } from "react";
import { type Selection, type Schema } from "~/api/client";
import { useTags } from "~/api/queries";
import { addTags, takeTagOff } from "./acts";
import { completions } from "~/kit/completion";

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
  const [at, setAt] = useState(0);
  const list = useId();
  const all = useTags(brand).data ?? [];
  const on = new Set(tags.filter((t) => t.uses === count).map((t) => t.id));
  const offers = completions(
    text.split(",").at(-1)!,
    all.filter((t) => !on.has(t.id)),
    6,
  );
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
    setAt(0);
  };
  const add = async () => {
    if (!text.trim()) return;
    const done = await addTags(brand, selection(), text);
    if (done) setText("");
  };
  const takeOff = (tag: number) => void takeTagOff(brand, selection(), tag);
  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === "ArrowDown" && offers.length > 0) setAt((at + 1) % offers.length);
    else if (event.key === "ArrowUp" && offers.length > 0) setAt((at + offers.length - 1) % offers.length);
    else if (event.key === "Tab" && offers[at]) complete(offers[at].name);
    else if (event.key === "Enter") void add();
    else return;
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
            role="combobox"
            aria-label="Add tags, with commas between them"
            aria-expanded={offers.length > 0}
            aria-controls={list}
            aria-autocomplete="list"
            placeholder="Add tags, with commas"
            className="w-full rounded-patch border border-line-strong bg-card px-2.5 py-1.5 placeholder:text-ink-soft"
            value={text}
            autoComplete="off"
            data-tag-entry
            onChange={(e) => {
              setText(e.target.value);
              setAt(0);
            }}
            onKeyDown={onKey}
          />
          <ul
            id={list}
            role="listbox"
            aria-label="Tags to choose from"
            hidden={offers.length === 0}
            className="absolute z-20 mt-1 w-full rounded-lg border border-line bg-card p-1 shadow-xl"
          >
            {offers.map((t, i) => (
              <li
                key={t.id}
                role="option"
                aria-selected={i === at}
                className={`flex cursor-pointer items-center gap-2 rounded px-2 py-1 ${i === at ? "bg-sunk" : ""}`}
                onMouseDown={(e) => e.preventDefault()}
                onClick={() => complete(t.name)}
              >
                <span className="flex-1">{t.name}</span>
                <span className="text-small text-ink-soft">
                  {t.group} {t.uses}
                </span>
              </li>
            ))}
          </ul>
          <p className="mt-1 text-small text-ink-soft">Tab completes, Enter adds.</p>
        </div>
      )}
    </div>
  );
}
