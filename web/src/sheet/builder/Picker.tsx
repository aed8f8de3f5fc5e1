import { clsx } from "clsx";
import { X } from "lucide-react";
import { useId, useState } from "react";
import { completions, plain } from "~/kit/completion";

interface Named {
  id: number;
  name: string;
  uses: number;
}

/** Picker chooses some of many by typing parts of their names. */
export function Picker({ label, all, ids, onChange }: { label: string; all: Named[]; ids: number[]; onChange: (ids: number[]) => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const list = useId();
  const left = all.filter((n) => !ids.includes(n.id));
  const exact = left.find((n) => plain(n.name) === plain(text.trim()));
  const offers = text.trim() ? [...(exact ? [exact] : []), ...completions(text, left, 6)] : [];
  const pick = (id: number) => {
    onChange([...ids, id]);
    setText("");
    setAt(0);
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
          role="combobox"
          aria-label={label}
          aria-expanded={offers.length > 0}
          aria-controls={list}
          aria-autocomplete="list"
          placeholder={ids.length > 0 ? "or…" : "Type a name"}
          className="w-full rounded-patch border border-line-strong bg-card px-2 py-1 placeholder:text-ink-soft"
          value={text}
          data-unsaved={text || undefined}
          autoComplete="off"
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
          }}
          onKeyDown={(e) => {
            if (e.key === "ArrowDown" && offers.length > 0) setAt((at + 1) % offers.length);
            else if (e.key === "ArrowUp" && offers.length > 0) setAt((at + offers.length - 1) % offers.length);
            else if ((e.key === "Enter" || e.key === "Tab") && offers[at]) pick(offers[at].id);
            else if (e.key === "Backspace" && text === "" && ids.length > 0) onChange(ids.slice(0, -1));
            else if (e.key === "Escape" && text) setText("");
            else return;
            e.preventDefault();
            e.stopPropagation();
          }}
        />
        <ul
          id={list}
          role="listbox"
          aria-label={`${label}: to choose from`}
          hidden={offers.length === 0}
          className="absolute z-20 mt-1 w-full min-w-48 rounded-lg border border-line bg-card p-1 shadow-xl"
        >
          {offers.map((n, i) => (
            <li
              key={n.id}
              role="option"
              aria-selected={i === at}
              className={clsx("flex cursor-pointer gap-2 rounded px-2 py-1", i === at && "bg-sunk")}
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => pick(n.id)}
            >
              <span className="flex-1 truncate">{n.name}</span>
              <span className="text-small text-ink-soft">{n.uses.toLocaleString("en-GB")}</span>
            </li>
          ))}
        </ul>
      </span>
    </div>
  );
}
