import { clsx } from "clsx";
import { Check, Plus } from "lucide-react";
import { mark } from "./acts";
import { marksOf, mineIn, useDoing, type Talk } from "./talk";
import { fill, words } from "./words";

/** ListButtons put a picture into the lists of a gallery, or take it out. */
export function ListButtons({ code, talk, picture, className }: { code: string; talk: Talk; picture: string; className: string }) {
  const doing = useDoing();
  return talk.lists.map((l) => {
    const marks = marksOf(talk, l.id, picture);
    const mine = marks.some((m) => m.mine);
    const others = marks.filter((m) => !m.mine).map((m) => m.name);
    return (
      <button
        key={l.id}
        type="button"
        data-list={l.name}
        aria-pressed={mine}
        className={clsx(className, mine && "bg-saffron !text-on-saffron")}
        title={[l.most ? fill(words.listUpTo, { n: l.most }) : "", others.length ? fill(words.alsoBy, { names: others.join(", ") }) : ""]
          .filter(Boolean)
          .join(", ")}
        onClick={() => doing(() => mark(code, l.id, picture, !mine))}
      >
        {mine ? <Check size={16} aria-hidden="true" /> : <Plus size={16} aria-hidden="true" />}
        <span className="max-w-40 truncate">{l.name}</span>
        {others.length > 0 && <span>+{others.length}</span>}
      </button>
    );
  });
}

/** ListChoice shows only what is in a list, and hands that out. */
export function ListChoice({ talk, chosen, setChosen }: { talk: Talk; chosen?: number; setChosen: (list: number | undefined) => void }) {
  const filled = talk.lists.filter((l) => mineIn(talk, l.id).size > 0);
  if (filled.length === 0) return null;
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label={words.lists}>
      {filled.map((l) => (
        <button
          key={l.id}
          type="button"
          aria-pressed={chosen === l.id}
          className={clsx(
            "rounded-full border px-3 py-1",
            chosen === l.id ? "border-accent bg-accent text-on-accent" : "border-line-strong hover:bg-sunk",
          )}
          onClick={() => setChosen(chosen === l.id ? undefined : l.id)}
        >
          {chosen === l.id ? words.showAll : fill(words.showList, { list: l.name, n: mineIn(talk, l.id).size })}
        </button>
      ))}
    </div>
  );
}
