import { useState } from "react";
import { useAsset } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { items } from "~/kit/words";
import { inOrder } from "~/sheet/selection";
import { OneOf } from "./OneOf";
import { takeOver } from "./acts";
import { type FieldName, fields, textOf } from "./fields";
import type { ForSelection } from "./selection";

/** TakeOverDialog carries chosen fields of one item of a selection to the others. */
export function TakeOverDialog({ brand, selection, count, onClose }: ForSelection) {
  const ids = inOrder();
  const [at, setAt] = useState(0);
  const [chosen, setChosen] = useState<Set<FieldName | "tags">>(new Set());
  const one = useAsset(brand, ids[at] ?? 0).data;
  const offered = one
    ? [
        ...fields.map((f) => ({ name: f.name as FieldName | "tags", label: f.label, text: textOf(one, f.name) })),
        { name: "tags" as const, label: "Tags (added)", text: one.tags.map((t) => t.name).join(", ") },
      ].filter((f) => f.text)
    : [];
  const taken = offered.filter((f) => chosen.has(f.name)).map((f) => f.name);
  const toggle = (name: FieldName | "tags") => {
    const next = new Set(chosen);
    if (!next.delete(name)) next.add(name);
    setChosen(next);
  };
  const take = () => {
    onClose();
    const words = taken.filter((name) => name !== "tags");
    void takeOver(brand, selection, one!.id, words, taken.includes("tags"));
  };
  return (
    <Dialog
      title="Describe them like one"
      about="What you choose replaces what the others say there; tags are added to theirs."
      onClose={onClose}
    >
      {!one && <p className="text-ink-soft">Loading the card…</p>}
      {one && (
        <OneOf brand={brand} asset={one} at={at} of={ids.length} onAt={setAt}>
          {at + 1} of {ids.length.toLocaleString("en-GB")}
        </OneOf>
      )}
      <ul className="mt-3 space-y-1" aria-label="What to take over">
        {offered.map((f) => (
          <li key={f.name}>
            <label className="flex items-start gap-2">
              <input type="checkbox" className="mt-1 size-4 accent-sea" checked={chosen.has(f.name)} onChange={() => toggle(f.name)} />
              <span className="min-w-0 flex-1">
                {f.label}
                <span className="block truncate text-dense text-ink-soft">{f.text}</span>
              </span>
            </label>
          </li>
        ))}
        {one && offered.length === 0 && <li className="text-ink-soft">It says nothing that could be taken over.</li>}
      </ul>
      <div className="mt-4">
        <Button tone="main" disabled={taken.length === 0} onClick={take}>
          Take it over to {items(count - 1)}
        </Button>
      </div>
    </Dialog>
  );
}
