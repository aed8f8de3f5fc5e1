import { Bookmark, Layers } from "lucide-react";
import type { ReactNode } from "react";
import { Dialog } from "~/kit/Dialog";
import { usePresentKeys } from "~/kit/keys";

const spoken: Record<string, string> = { ArrowRight: "→", ArrowLeft: "←", ArrowUp: "↑", ArrowDown: "↓", Escape: "Esc" };

/** What the signs on tiles and tags mean. */
const signs: [ReactNode, string][] = [
  ["4 ★", "the team’s stars"],
  [<Bookmark key="keeper" size={14} className="fill-saffron" />, "my keeper"],
  [<Layers key="stack" size={14} />, "the front of a stack, with how many are in it"],
  [<span key="live" className="inline-block size-2 rounded-full bg-plum" />, "shown outside, in a client gallery that is open"],
  [
    <span key="file" className="rounded-full bg-sunk px-2 text-dense underline decoration-dotted underline-offset-2">
      moor
    </span>,
    "this tag came with the file",
  ],
  [
    <span key="some" className="rounded-full border border-dashed border-line-strong px-2 text-dense text-ink-soft">
      moor
    </span>,
    "this tag is on some of the selection",
  ],
];

/** KeysDialog lists the keys that work on the present board, and what the symbols mean. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const all = usePresentKeys();
  const owners = [...new Set(all.map((e) => e.owner))];
  return (
    <Dialog title="Keys and symbols" wide onClose={onClose}>
      <div className="grid gap-5 md:grid-cols-2" tabIndex={0} role="group" aria-label="All keys and symbols">
        {owners.map((owner) => (
          <section key={owner}>
            <h3 className="mb-1">{owner}</h3>
            <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
              {all
                .filter((e) => e.owner === owner)
                .flatMap((e) => e.keys)
                .map((k) => (
                  <div key={k.press} className="contents">
                    <dt>
                      <kbd className="rounded border border-line-strong bg-sunk px-1.5 font-sans text-dense">
                        {spoken[k.press] ?? (k.press.length === 1 ? k.press.toUpperCase() : k.press)}
                      </kbd>
                    </dt>
                    <dd>{k.does}</dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
        <section>
          <h3 className="mb-1">Symbols</h3>
          <dl className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1">
            {signs.map(([sign, means]) => (
              <div key={means} className="contents">
                <dt className="justify-self-center">{sign}</dt>
                <dd>{means}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
    </Dialog>
  );
}
