import { Dialog } from "~/kit/Dialog";
import { usePresentKeys } from "~/kit/keys";

const spoken: Record<string, string> = { ArrowRight: "→", ArrowLeft: "←", ArrowUp: "↑", ArrowDown: "↓", Escape: "Esc" };

/** KeysDialog lists the keys that work on the present board. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const all = usePresentKeys();
  const owners = [...new Set(all.map((e) => e.owner))];
  return (
    <Dialog title="Keys that work here" wide onClose={onClose}>
      <div className="grid gap-5 md:grid-cols-2">
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
      </div>
    </Dialog>
  );
}
