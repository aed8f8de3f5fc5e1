import { fieldOf, inWords, useReasons } from "./reasons";

/** Why says below a tile why a search found it: the word that was found, and in which field; the words around it on request. */
export function Why({ id }: { id: number }) {
  const reasons = useReasons((s) => s.of.get(id));
  const first = reasons?.[0];
  return (
    <p
      data-why={first?.field}
      title={reasons?.map((r) => `${fieldOf(r)}: ${r.before}${r.match}${r.after}`).join("\n")}
      className="h-[18px] truncate pt-0.5 text-small text-[var(--on-backdrop)]"
      aria-hidden="true"
    >
      {first && <mark className="rounded-sm bg-saffron-wash px-0.5 text-ink">{first.match}</mark>}
      {reasons && inWords(reasons).slice(first?.match.length)}
    </p>
  );
}
