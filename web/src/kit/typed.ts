import { useCallback, useState } from "react";

/** useTyped is what somebody has typed into a field and not saved yet, undefined for nothing. With a name it survives a reload of this
 * window, as long as what was there is still there. */
export function useTyped(name: string | undefined, value: string) {
  const key = name && `typed ${name}`;
  const [typed, setTyped] = useState<string | undefined>(() => read(key, value));
  const set = useCallback(
    (next: string | undefined | ((now: string | undefined) => string | undefined)) =>
      setTyped((now) => {
        const text = typeof next === "function" ? next(now) : next;
        write(key, text === undefined ? undefined : { was: value, text });
        return text;
      }),
    [key, value],
  );
  return [typed, set] as const;
}

function read(key: string | undefined, value: string): string | undefined {
  try {
    const kept = key && (JSON.parse(sessionStorage.getItem(key) ?? "null") as { was: string; text: string } | null);
    return kept && kept.was === value ? kept.text : undefined;
  } catch {
    return undefined;
  }
}

function write(key: string | undefined, kept: { was: string; text: string } | undefined) {
  if (!key) return;
  try {
    if (kept) sessionStorage.setItem(key, JSON.stringify(kept));
    else sessionStorage.removeItem(key);
  } catch {
    // it is kept in the field only
  }
}
