import { useEffect, useState } from "react";
import { Switch } from "~/kit/Field";
import { count, path, pixelsOf, type Histogram } from "./histogram";
import { setMode, useMode } from "./mode";
import { useShown } from "./shown";

const height = 40;
const part = (n: number) => (n === 0 ? "none" : n < 0.001 ? "under 0.1 %" : `${(n * 100).toFixed(1)} %`);

/** HistogramOf says how bright what is seen is, and how much of it is lost at either end. */
export function HistogramOf({ id }: { id: number }) {
  const shown = useShown((s) => (s.id === id ? s.address : undefined));
  const lost = useMode((s) => s.lost);
  const [counted, setCounted] = useState<Histogram>();
  useEffect(() => {
    if (!shown) return;
    let gone = false;
    pixelsOf(shown, 320).then(
      ({ data }) => !gone && setCounted(count(data.data)),
      () => undefined, // what was shown was let go of; the next is measured
    );
    return () => {
      gone = true;
    };
  }, [shown]);
  if (!counted) return <div className="h-24" />;
  return (
    <div>
      <svg
        viewBox={`0 0 63 ${height}`}
        preserveAspectRatio="none"
        className="h-14 w-full rounded-patch bg-sunk mix-blend-normal"
        role="img"
        aria-label={`How bright it is. Lost in black: ${part(counted.dark)}; in white: ${part(counted.bright)}`}
      >
        <path d={path(counted.red, height)} className="fill-tomato opacity-45" />
        <path d={path(counted.green, height)} className="fill-sea opacity-45" />
        <path d={path(counted.blue, height)} className="fill-plum opacity-45" />
      </svg>
      <div className="mt-1 flex items-center justify-between text-small text-ink-soft">
        <span>black: {part(counted.dark)}</span>
        <span>white: {part(counted.bright)}</span>
      </div>
      <Switch label="Mark on the picture what is lost" checked={!!lost} onChange={(on) => setMode({ lost: on })} />
    </div>
  );
}
