import { useEffect, useRef } from "react";
import { create } from "zustand";
import { elsewhere } from "./focus";

/** A key of a board: what is pressed (as KeyboardEvent.key, with "Ctrl+" before it if need be) and what it does. */
export interface Key {
  press: string;
  does: string;
  /** Returns false where it has nothing to do now, and the press is left to whoever else has a use for it. */
  run: (event: KeyboardEvent) => unknown;
  /** It is the sheet's only: not while another part of the screen has the focus. */
  inSheet?: boolean;
  /** It works while somebody types in a field too, outside of dialogs: no field has a use of its own for it. */
  inFields?: boolean;
  /** It comes before what the same key does elsewhere: for what lies within something that has a use for the key too. */
  first?: boolean;
}

interface Registered {
  owner: string;
  keys: Key[];
}

const useRegistered = create<{ all: Registered[] }>(() => ({ all: [] }));

/** usePresentKeys lists the keys that work now, by the part of the screen that they belong to. */
export const usePresentKeys = () => useRegistered((s) => s.all);

/** useKeys makes keys work while the calling part is on the screen. They stay quiet while somebody types. */
export function useKeys(owner: string, keys: Key[]) {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  const signature = keys.map((k) => k.press + k.does).join("|");
  useEffect(() => {
    const entry: Registered = { owner, keys: latest.current };
    useRegistered.setState((s) => ({ all: [...s.all, entry] }));
    const listen = (event: KeyboardEvent) => {
      const early = event.eventPhase === Event.CAPTURING_PHASE;
      if (event.defaultPrevented || others(event)) return;
      const pressed = (withCtrl(event) ? "Ctrl+" : "") + event.key;
      const key = latest.current.find((k) => k.press.toLowerCase() === pressed.toLowerCase() && !!k.first === early);
      if (!key || typing(event, key) || (key.inSheet && elsewhere(event.target))) return;
      if (key.run(event) !== false) event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    window.addEventListener("keydown", listen, true);
    return () => {
      window.removeEventListener("keydown", listen);
      window.removeEventListener("keydown", listen, true);
      useRegistered.setState((s) => ({ all: s.all.filter((e) => e !== entry) }));
    };
  }, [owner, signature]);
}

const fields = "input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, select, [contenteditable=true]";

/** typing says whether a press belongs to a field, a menu or a dialog and not to the key. */
function typing(event: KeyboardEvent, key: Key) {
  const target = event.target as HTMLElement;
  if (target.closest("[role=dialog], [role=menu]")) return true;
  return !!target.closest(fields) && !key.inFields && event.key !== "Escape";
}

/** withCtrl: some layouts write signs with AltGr, which is told as Ctrl and Alt. */
const withCtrl = (event: KeyboardEvent) => (event.ctrlKey || event.metaKey) && !event.getModifierState("AltGraph");

/** others says whether a key belongs to the browser or the system, which are never taken from them. */
const others = (event: KeyboardEvent) => (event.altKey && !event.getModifierState("AltGraph")) || (withCtrl(event) && event.shiftKey);
