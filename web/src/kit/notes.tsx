import { clsx } from "clsx";
import { X } from "lucide-react";
import { create } from "zustand";
import { Button, IconButton } from "./Button";

interface Note {
  id: number;
  text: string;
  wrong: boolean;
  action?: { label: string; run: () => void };
}

interface Notes {
  notes: Note[];
  add: (note: Omit<Note, "id">) => void;
  drop: (id: number) => void;
}

let last = 0;
const shownFor = 9000;

const useNotes = create<Notes>((set, get) => ({
  notes: [],
  add: (note) => {
    const id = ++last;
    set({ notes: [...get().notes.slice(-2), { ...note, id }] });
    if (!note.wrong) setTimeout(() => get().drop(id), shownFor);
  },
  drop: (id) => set({ notes: get().notes.filter((n) => n.id !== id) }),
}));

/** tell says what was done, with an action such as Undo beside it. */
export function tell(text: string, action?: Note["action"]) {
  useNotes.getState().add({ text, action, wrong: false });
}

/** warn says what went wrong; it stays until it is closed. */
export function warn(text: string) {
  useNotes.getState().add({ text, wrong: true });
}

/** Notes shows what was told, above the strap. */
export function Notes() {
  const { notes, drop } = useNotes();
  return (
    <div
      role="status"
      aria-live="polite"
      className={clsx(
        "pointer-events-none fixed inset-x-0 bottom-14 z-50 flex flex-col items-center gap-2 px-4",
        "max-md:bottom-28 [[data-strap-open]_&]:top-16 [[data-strap-open]_&]:bottom-auto",
      )}
    >
      {notes.map((n) => (
        <div
          key={n.id}
          className={clsx(
            "pointer-events-auto flex max-w-xl items-center gap-2 rounded-lg border py-1.5 pr-1.5 pl-4",
            "shadow-lg",
            n.wrong ? "border-tomato bg-card text-tomato" : "border-transparent bg-ink text-paper",
          )}
        >
          <span className="py-1">{n.text}</span>
          {n.action && (
            <Button
              tone="strap"
              onClick={() => {
                drop(n.id);
                n.action!.run();
              }}
            >
              {n.action.label}
            </Button>
          )}
          <IconButton
            label="Close"
            className={n.wrong ? "" : "text-paper hover:text-ink"}
            icon={<X size={16} />}
            onClick={() => drop(n.id)}
          />
        </div>
      ))}
    </div>
  );
}
