import { clsx } from "clsx";
import { MessageSquareText, X } from "lucide-react";
import { Popover } from "radix-ui";
import { create } from "zustand";
import { Button, IconButton } from "./Button";

interface Note {
  id: number;
  at: Date;
  text: string;
  wrong: boolean;
  action?: { label: string; run: () => void };
}

interface Notes {
  /** What is said now; one at a time. */
  now: Note | undefined;
  /** What was said, the newest first. */
  log: Note[];
  /** Something went wrong, and something else was said before one had closed that. */
  missed: boolean;
}

let last = 0;
const shownFor = 9000;
const kept = 50;

const useNotes = create<Notes>(() => ({ now: undefined, log: [], missed: false }));

function say(note: Omit<Note, "id" | "at">) {
  const said = { ...note, id: ++last, at: new Date() };
  useNotes.setState((s) => ({ now: said, log: [said, ...s.log].slice(0, kept), missed: s.missed || !!s.now?.wrong }));
  if (!note.wrong) setTimeout(() => drop(said.id), shownFor);
}

const drop = (id: number) => useNotes.setState((s) => (s.now?.id === id ? { now: undefined } : {}));

/** tell says what was done, with an action such as Undo beside it. */
export const tell = (text: string, action?: Note["action"]) => say({ text, action, wrong: false });

/** warn says what went wrong; it stays until it is closed or something else is said. */
export const warn = (text: string) => say({ text, wrong: true });

/** copyText copies a text, and says so when it was. */
export async function copyText(text: string, what: string) {
  try {
    await navigator.clipboard.writeText(text);
    tell(`Copied ${what}`);
  } catch {
    warn(`This browser did not let it be copied. It is: ${text}`);
  }
}

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

/** useSaying says whether something is said now that offers something. */
export const useSaying = () => useNotes((s) => s.now?.action !== undefined);

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
