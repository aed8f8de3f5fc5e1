import { useEffect, useState } from "react";
import { useQueue } from "./queue";

/** useTimeLeft estimates, from what travelled in the last half minute, how long the rest takes; undefined while that is
 * not known. */
export function useTimeLeft(): string | undefined {
  const [left, setLeft] = useState<string>();
  useEffect(() => {
    let samples: { at: number; rest: number }[] = [];
    const timer = setInterval(() => {
      const rest = useQueue.getState().sending.reduce((n, s) => n + s.file.size - s.sent, 0);
      const at = performance.now();
      if (rest === 0 || rest > (samples.at(-1)?.rest ?? Infinity)) samples = []; // done, or something was added
      samples = [...samples.filter((s) => at - s.at < 30_000), { at, rest }];
      const first = samples[0]!;
      const pace = (first.rest - rest) / (at - first.at);
      setLeft(samples.length < 3 || !(pace > 0) ? undefined : words(rest / pace / 1000));
    }, 1000);
    return () => clearInterval(timer);
  }, []);
  return left;
}

function words(seconds: number) {
  if (seconds < 50) return `${Math.max(5, Math.ceil(seconds / 5) * 5)} s left`;
  if (seconds < 3300) return `${Math.ceil(seconds / 60)} min left`;
  return `${(seconds / 3600).toFixed(1)} h left`;
}
