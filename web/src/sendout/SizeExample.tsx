import { useEffect, useState } from "react";
import { mediaAddress, messageOf, type Schema } from "~/api/client";
import { useRow } from "~/api/rows";
import { useSheet } from "~/api/sheets";
import { bytes, titleOf } from "~/kit/words";
import { tryOut } from "./acts";

/** SizeExample tries a size on a picture: what comes out, how many bytes, how like it is, and what the file says. */
export function SizeExample({ brand, size }: { brand: string; size: Schema["OutputSizeValues"] }) {
  const sheet = useSheet(brand, { place: "everything", filter: { field: "kind", names: ["picture"] } }).data;
  const ids = sheet?.ids.filter((id) => id > 0).slice(0, 12) ?? [];
  const [chosen, setChosen] = useState<number>();
  const asset = chosen ?? ids[0];
  const { example, problem, busy } = useTrial(brand, asset, size);
  if (asset === undefined) return null;
  return (
    <section aria-label="Tried on a picture" className="rounded-xl border border-line bg-card p-4">
      <h2 className="mb-2 text-base">Tried on a picture</h2>
      <ul className="mb-3 flex gap-1.5 overflow-x-auto p-1" aria-label="Pictures to try it on">
        {ids.map((id) => (
          <li key={id}>
            <Sample brand={brand} id={id} chosen={id === asset} onChoose={() => setChosen(id)} />
          </li>
        ))}
      </ul>
      <div className={busy ? "[&_img]:opacity-60" : ""} aria-busy={busy}>
        {problem && <p className="text-tomato">{problem}</p>}
        {example?.why && <p className="text-tomato">{example.why}</p>}
        {example && !example.why && (
          <>
            <p data-example={example.bytes}>
              {example.width} × {example.height}, <strong className="font-medium">{bytes(example.bytes)}</strong>
              {size.format !== "png" && `, quality ${example.quality}`}, made in {example.seconds.toFixed(2)} s
            </p>
            {example.likeness !== undefined && (
              <p className="text-dense text-ink-soft">
                Likeness to what it was written from: {example.likeness.toFixed(3)} of 1 (structural similarity, Wang and others, 2004)
              </p>
            )}
            <Says says={example.says} />
          </>
        )}
      </div>
    </section>
  );
}

function Says({ says }: { says: Record<string, string> }) {
  const lines = Object.entries(says).sort(([a], [b]) => a.localeCompare(b));
  if (lines.length === 0) return <p className="mt-2 text-dense">The file says nothing about the picture.</p>;
  return (
    <details className="mt-2" open={lines.length <= 8}>
      <summary className="cursor-pointer text-dense">What the file says, {lines.length} values</summary>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 text-small">
        {lines.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-ink-soft">{name}</dt>
            <dd className="min-w-0 break-words">{value}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

function Sample({ brand, id, chosen, onChoose }: { brand: string; id: number; chosen: boolean; onChoose: () => void }) {
  const row = useRow(id);
  return (
    <button
      type="button"
      aria-pressed={chosen}
      aria-label={`Try it on ${row ? titleOf(row) : "this picture"}`}
      className="block h-14 min-w-10 overflow-hidden rounded bg-sunk aria-pressed:outline-3 aria-pressed:outline-saffron"
      onClick={onChoose}
    >
      {row && <img src={mediaAddress(brand, row, "small")} alt="" className="h-14" />}
    </button>
  );
}

/** useTrial tries a size out, a moment after something changed. */
function useTrial(brand: string, asset: number | undefined, size: Schema["OutputSizeValues"]) {
  const [answer, setAnswer] = useState<{ of: string; example?: Schema["SizeExample"]; problem?: string }>({ of: "" });
  const text = asset === undefined ? "" : JSON.stringify({ asset, size });
  useEffect(() => {
    let stale = false;
    if (text === "") return;
    const timer = setTimeout(() => {
      tryOut(brand, JSON.parse(text) as Schema["SizeTrial"]).then(
        (example) => !stale && setAnswer({ of: text, example }),
        (error) => !stale && setAnswer({ of: text, problem: messageOf(error) }),
      );
    }, 300);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [brand, text]);
  return { ...answer, busy: answer.of !== text };
}
