import { create } from "zustand";

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

export const useNotes = create<Notes>(() => ({ now: undefined, log: [], missed: false }));

function say(note: Omit<Note, "id" | "at">) {
  const said = { ...note, id: ++last, at: new Date() };
  useNotes.setState((s) => ({ now: said, log: [said, ...s.log].slice(0, kept), missed: s.missed || !!s.now?.wrong }));
  if (!note.wrong) setTimeout(() => drop(said.id), shownFor);
}

/** drop closes what is said now, if it is that. */
export const drop = (id: number) => useNotes.setState((s) => (s.now?.id === id ? { now: undefined } : {}));

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

/** useSaying says whether something is said now that offers something. */
export const useSaying = () => useNotes((s) => s.now?.action !== undefined);
