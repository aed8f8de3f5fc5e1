import { X } from "lucide-react";
import { useState } from "react";
import { completions, plain } from "~/kit/completion";
import { OfferList, useOffers } from "~/kit/Offers";

interface Named {
  id: number;
  name: string;
  uses: number;
}

/** Picker chooses some of many by typing parts of their names. */
export function Picker({ label, all, ids, onChange }: { label: string; all: Named[]; ids: number[]; onChange: (ids: number[]) => void }) {
  const [text, setText] = useState("");
  const left = all.filter((n) => !ids.includes(n.id));
  const exact = left.find((n) => plain(n.name) === plain(text.trim()));
  const offers = text.trim() ? [...(exact ? [exact] : []), ...completions(text, left, 6)] : [];
  const state = useOffers(offers.length, 0);
  const pick = (id: number) => {
    onChange([...ids, id]);
    setText("");
    state.restart();
  };
  return (
    <div className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5">
      {ids.map((id) => (
        <span key={id} className="inline-flex items-center gap-1 rounded-full bg-sunk py-0.5 pr-1 pl-2.5 text-dense">
          {all.find((n) => n.id === id)?.name ?? "something that was removed"}
          <button
            type="button"
            aria-label={`Without ${all.find((n) => n.id === id)?.name ?? "it"}`}
            className="grid size-5 place-items-center rounded-full hover:bg-line"
            onClick={() => onChange(ids.filter((other) => other !== id))}
          >
            <X size={13} />
          </button>
        </span>
      ))}
      <span className="relative min-w-32 flex-1">
        <input
          {...state.field}
          aria-label={label}
          placeholder={ids.length > 0 ? "or…" : "Type a name"}
          className="w-full rounded-patch border border-line-strong bg-card px-2 py-1 placeholder:text-ink-soft"
          value={text}
          data-unsaved={text || undefined}
          onChange={(e) => {
            setText(e.target.value);
            state.restart();
          }}
          onKeyDown={(e) => {
            const offer = offers[state.at];
            if ((e.key === "Enter" || e.key === "Tab") && offer) pick(offer.id);
            else if (e.key === "Backspace" && text === "" && ids.length > 0) onChange(ids.slice(0, -1));
            else if (e.key === "Escape" && text) setText("");
            else if (!state.moved(e.key)) return;
            e.preventDefault();
            e.stopPropagation();
          }}
        />
        <OfferList
          offers={offers.map((n) => ({ key: n.id, name: n.name, beside: n.uses.toLocaleString("en-GB") }))}
          state={state}
          label={`${label}: to choose from`}
          className="absolute z-20 w-full min-w-48 shadow-xl"
          onPick={(i) => pick(offers[i]!.id)}
        />
      </span>
    </div>
  );
}
