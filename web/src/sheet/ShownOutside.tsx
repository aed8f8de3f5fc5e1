import type { Schema } from "~/api/client";
import { dayName, plural } from "~/kit/words";

type Shown = Schema["ShownAt"];

const named: Record<Shown["kind"], (name: string) => string> = {
  gallery: (name) => `the gallery “${name}”`,
  embed: (name) => `the embed “${name}”`,
  address: () => "its public address",
  page: (name) => `the page “${name}”`,
};

/** ShownOutside lists where an item is shown outside now, with a way there. */
export function ShownOutside({ shown }: { shown: Shown[] }) {
  return (
    <ul data-shown-outside>
      {shown.map((s) => (
        <li key={s.path}>
          <a href={s.path} target="_blank" rel="noreferrer" className="text-plum underline">
            {named[s.kind](s.name)}
          </a>
          <span className="text-small text-ink-soft">
            {s.since && `, since ${dayName(s.since.slice(0, 10))}`}
            {s.size && `, ${s.size}`}
            {s.older && ", with the file it had before. A page takes no new file in its place: take it back and send it again."}
            {s.pages > 0 && `, seen on ${plural(s.pages, "page")}`}
          </span>
        </li>
      ))}
    </ul>
  );
}
