import { clsx } from "clsx";
import { MessageSquareText, X } from "lucide-react";
import { Popover } from "radix-ui";
import { Button } from "./Button";
import { IconButton } from "./IconButton";
import { drop, useNotes } from "./notes";

/** Message is what was said last, in a line of the strap, where it covers nothing. */
export function Message() {
  const note = useNotes((s) => s.now);
  return (
    <div role="status" aria-live="polite" className="min-w-0">
      {note && (
        <div className="flex min-w-0 items-center gap-1.5" data-message={note.wrong ? "wrong" : "done"}>
          <span className={clsx("truncate", note.wrong && "font-medium text-tomato")} title={note.text}>
            {note.text}
          </span>
          {note.action && (
            <Button
              className="shrink-0 whitespace-nowrap"
              onClick={() => {
                drop(note.id);
                note.action!.run();
              }}
            >
              {note.action.label}
            </Button>
          )}
          <IconButton label="Close" className="size-7" icon={<X size={16} />} onClick={() => drop(note.id)} />
        </div>
      )}
    </div>
  );
}

/** MessageLog opens what was said before. */
export function MessageLog() {
  const { log, missed } = useNotes();
  if (log.length === 0) return null;
  const label = missed ? "What was said, and what went wrong" : "What was said";
  return (
    <Popover.Root onOpenChange={() => useNotes.setState({ missed: false })}>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={label}
          title={label}
          className="relative grid size-8 shrink-0 place-items-center rounded-patch text-ink-soft hover:bg-sunk hover:text-ink"
        >
          <MessageSquareText size={18} />
          {missed && <span aria-hidden="true" className="absolute top-1 right-1 size-2 rounded-full bg-tomato" />}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          sideOffset={8}
          collisionPadding={8}
          aria-label="What was said"
          className="z-30 max-h-[60vh] w-[min(460px,calc(100vw-16px))] overflow-y-auto rounded-xl border border-line bg-card p-3 shadow-2xl"
        >
          <ol className="divide-y divide-line">
            {log.map((n) => (
              <li key={n.id} className="flex gap-3 py-1.5">
                <time className="shrink-0 text-dense text-ink-soft">
                  {n.at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}
                </time>
                <span className={clsx("min-w-0 break-words", n.wrong && "text-tomato")}>{n.text}</span>
              </li>
            ))}
          </ol>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
