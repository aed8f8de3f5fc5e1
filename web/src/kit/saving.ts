import { useCallback, useEffect, useRef } from "react";

/** useSaving saves changes of something whole one after the other, each on top of those before it, also while one is on its way. */
export function useSaving<T extends object>(value: T, save: (whole: T) => Promise<unknown>, onBegin: () => void) {
  const latest = useRef(value);
  const waiting = useRef(0);
  const before = useRef<Promise<unknown>>(Promise.resolve());
  const now = useRef({ save, onBegin });
  useEffect(() => {
    if (waiting.current === 0) latest.current = value;
    now.current = { save, onBegin };
  });
  return useCallback((change: Partial<T>) => {
    now.current.onBegin();
    const was = latest.current;
    latest.current = { ...was, ...change };
    const whole = latest.current;
    waiting.current++;
    const saved = before.current.then(() => now.current.save(whole));
    before.current = saved
      .catch(() => {
        if (latest.current === whole) latest.current = was; // it was refused
      })
      .finally(() => waiting.current--);
    return saved;
  }, []);
}
