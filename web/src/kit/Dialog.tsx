import { clsx } from "clsx";
import { X } from "lucide-react";
import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

/** Dialog asks for one decision. It closes with Escape, and gives the focus back to where it was. */
export function Dialog({
  title,
  about,
  children,
  onClose,
  wide,
}: {
  title: string;
  about?: string;
  children: ReactNode;
  onClose: () => void;
  wide?: boolean;
}) {
  return (
    <Radix.Root open onOpenChange={(open) => !open && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-shade" />
        <Radix.Content
          aria-describedby={undefined}
          onEscapeKeyDown={(e) => {
            // the first Escape takes back what is not saved, the next one closes
            if (e.target instanceof Element && e.target.closest("[data-unsaved]")) e.preventDefault();
          }}
          className={clsx(
            "fixed top-[12vh] left-1/2 z-40 flex max-h-[76vh] w-[calc(100vw-32px)] -translate-x-1/2",
            "flex-col rounded-xl border border-line bg-card shadow-2xl",
            wide ? "max-w-2xl" : "max-w-md",
          )}
        >
          <header className="flex items-start gap-3 px-5 pt-4 pb-3">
            <div className="min-w-0 flex-1">
              <Radix.Title className="text-lg leading-tight">{title}</Radix.Title>
              {about && <p className="mt-1 text-ink-soft">{about}</p>}
            </div>
            {/* no tooltip here: it would open with the focus, and take the first Escape for itself */}
            <Radix.Close
              aria-label="Close"
              className="grid size-8 shrink-0 place-items-center rounded-patch text-ink-soft hover:bg-sunk hover:text-ink"
            >
              <X size={18} />
            </Radix.Close>
          </header>
          <div className="min-h-0 overflow-y-auto px-5 pb-5">{children}</div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
