import { clsx } from "clsx";
import { useState } from "react";
import { useTags } from "~/api/queries";
import { completions, plain } from "~/kit/completion";
import { OfferList, useOffers } from "~/kit/Offers";

/** The tag group of those who are shown. */
export const peopleGroup = "People";

/** NameEntry takes the name of a person. What is typed picks who is known, the likeliest first; somebody new is a line of its own, which
 * Ctrl+Enter takes too, and the first one only where nobody known is called so. */
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
  const tags = useTags(brand).data ?? [];
  const people = tags.filter((t) => t.group === peopleGroup || proposed.includes(t.name));
  const typed = text.trim();
  const asked = typed === known || typed === "";
  const same = people.find((p) => plain(p.name) === plain(typed));
  const meant = asked ? proposed.slice(0, 6) : [...(same ? [same.name] : []), ...completions(text, people, 6).map((t) => t.name)];
  const begins =
    meant.length > 0 &&
    plain(meant[0]!)
      .split(" ")
      .some((_, i, parts) => parts.slice(i).join(" ").startsWith(plain(typed)));
  const fresh = !asked && !same;
  const offers = !fresh ? meant : begins ? [...meant, typed] : [typed, ...meant];
  const state = useOffers(offers.length, asked ? -1 : 0);
  const give = (name: string) => onName(name.trim());
  const onKey = (event: React.KeyboardEvent) => {
    const offer = offers[Math.max(state.at, 0)];
    if (event.key === "Tab" && !event.shiftKey && offer && !asked) setText(meant[state.at] ?? meant[0] ?? typed);
    else if (event.key === "Enter") give(!event.ctrlKey && state.at >= 0 ? offer! : text);
    else if (event.key === "Escape" && onLeave) onLeave();
    else if (!state.moved(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={clsx("relative", className)}>
      <input
        {...state.field}
        aria-label={label}
        placeholder="Name"
        className="w-full rounded-patch border border-line-strong bg-card px-2.5 py-1 text-ink placeholder:text-ink-soft"
        value={text}
        maxLength={100}
        autoFocus
        onChange={(e) => {
          setText(e.target.value);
          state.restart();
        }}
        onKeyDown={onKey}
      />
      <OfferList
        offers={offers.map((name) => ({ key: name, name: fresh && name === typed ? `New person “${name}”` : name }))}
        state={state}
        label="People to choose from"
        className={clsx("w-full min-w-40", !open && "absolute z-30 shadow-xl")}
        onPick={(i) => give(offers[i]!)}
      />
    </div>
  );
}
