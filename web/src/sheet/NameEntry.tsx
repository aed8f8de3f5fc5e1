import { clsx } from "clsx";
import { useId, useState } from "react";
import { useTags } from "~/api/queries";
import { completions } from "~/kit/completion";

/** The tag group of those who are shown. */
export const peopleGroup = "People";

/** NameEntry takes the name of a person, completing those who are known. Enter gives it; with nothing typed it gives the first of
 * those that are proposed. */
export function NameEntry({
  brand,
  label,
  known = "",
  proposed = [],
  open = false,
  className,
  onName,
  onLeave,
}: {
  brand: string;
  label: string;
  known?: string;
  proposed?: string[];
  /** The list of names takes room of its own instead of covering what is below. */
  open?: boolean;
  className?: string;
  onName: (name: string) => void;
  onLeave?: () => void;
}) {
  const [text, setText] = useState(known);
  const [at, setAt] = useState(-1);
  const list = useId();
  const tags = useTags(brand).data ?? [];
  const people = tags.filter((t) => t.group === peopleGroup || proposed.includes(t.name));
  const offers = text.trim() === known ? proposed.slice(0, 6) : completions(text, people, 6).map((t) => t.name);
  const give = (name: string) => onName(name.trim());
  const onKey = (event: React.KeyboardEvent) => {
    const n = offers.length;
    if (event.key === "ArrowDown" && n > 0) setAt((at + 1) % n);
    else if (event.key === "ArrowUp" && n > 0) setAt((Math.max(at, 0) + n - 1) % n);
    else if (event.key === "Tab" && !event.shiftKey && n > 0 && text.trim() !== known) setText(offers[Math.max(at, 0)]!);
    else if (event.key === "Enter") give(at >= 0 ? offers[at]! : text);
    else if (event.key === "Escape" && onLeave) onLeave();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={clsx("relative", className)}>
      <input
        role="combobox"
        aria-label={label}
        aria-expanded={offers.length > 0}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={at >= 0 ? `${list}-${at}` : undefined}
        placeholder="Name"
        className="w-full rounded-patch border border-line-strong bg-card px-2.5 py-1 text-ink placeholder:text-ink-soft"
        value={text}
        maxLength={100}
        autoComplete="off"
        autoFocus
        onChange={(e) => {
          setText(e.target.value);
          setAt(-1);
        }}
        onKeyDown={onKey}
      />
      <ul
        id={list}
        role="listbox"
        aria-label="People to choose from"
        hidden={offers.length === 0}
        className={clsx("mt-1 w-full min-w-40 rounded-lg border border-line bg-card p-1 text-ink", !open && "absolute z-30 shadow-xl")}
      >
        {offers.map((name, i) => (
          <li
            key={name}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === at}
            className={clsx("cursor-pointer truncate rounded px-2 py-1", i === at && "bg-sunk")}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => give(name)}
          >
            {name}
          </li>
        ))}
      </ul>
    </div>
  );
}
