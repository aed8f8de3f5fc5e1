import { clsx } from "clsx";
import { useId, useState, type ReactNode } from "react";

/** useOffers goes by the arrow keys through what is offered below a field, beginning at the first (0) or at none of them (-1). */
export function useOffers(count: number, begin: 0 | -1) {
  const [at, setAt] = useState<number>(begin);
  const list = useId();
  return {
    at: Math.min(at, count - 1),
    list,
    restart: () => setAt(begin),
    /** moved says whether a key went to another offer. */
    moved: (key: string) => {
      if (count === 0 || (key !== "ArrowDown" && key !== "ArrowUp")) return false;
      setAt(key === "ArrowDown" ? (at + 1) % count : (Math.max(at, 0) + count - 1) % count);
      return true;
    },
    field: {
      role: "combobox",
      autoComplete: "off",
      "aria-expanded": count > 0,
      "aria-controls": list,
      "aria-autocomplete": "list",
      "aria-activedescendant": at >= 0 && at < count ? `${list}-${at}` : undefined,
    } as const,
  };
}

interface Offered {
  key: string | number;
  name: string;
  /** What is said beside it in small letters. */
  beside?: ReactNode;
}

/** OfferList shows what is offered, with the present one marked. */
export function OfferList({
  offers,
  state: { at, list },
  label,
  className,
  onPick,
}: {
  offers: Offered[];
  state: ReturnType<typeof useOffers>;
  label: string;
  className: string;
  onPick: (at: number) => void;
}) {
  return (
    <ul
      id={list}
      role="listbox"
      aria-label={label}
      hidden={offers.length === 0}
      className={clsx("mt-1 rounded-lg border border-line bg-card p-1 text-ink", className)}
    >
      {offers.map((o, i) => (
        <li
          key={o.key}
          id={`${list}-${i}`}
          role="option"
          aria-selected={i === at}
          className={clsx("flex cursor-pointer items-center gap-2 rounded px-2 py-1 hover:bg-sunk", i === at && "bg-sunk")}
          onMouseDown={(e) => e.preventDefault()}
          onClick={() => onPick(i)}
        >
          <span className="min-w-0 flex-1 truncate">{o.name}</span>
          {o.beside !== undefined && <span className="shrink-0 text-small text-ink-soft">{o.beside}</span>}
        </li>
      ))}
    </ul>
  );
}
