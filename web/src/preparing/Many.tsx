import { FlipHorizontal2, RotateCcw, RotateCcwSquare, RotateCwSquare } from "lucide-react";
import { useState } from "react";
import { useLooks } from "~/api/queries";
import { rows } from "~/api/rows";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice } from "~/kit/Field";
import { useKeys } from "~/kit/keys";
import { Slider } from "~/kit/Slider";
import { items, titleOf } from "~/kit/words";
import { asSelection, inOrder } from "~/sheet/selection";
import { changeMany, likenessTo, makeAlike, type Change, type Part } from "./acts";
import { useCopied } from "./copied";
import { Parts } from "./Parts";
import { groups } from "./recipe";
import { ShootRound } from "./ShootRound";

const parts: { part: Part; name: string }[] = [...groups, { part: "framing", name: "Framing" }, { part: "look", name: "Look" }];
const everything: Part[] = [...parts.map((p) => p.part), "eyes"];
const proportions: [number, number][] = [
  [1, 1],
  [4, 5],
  [3, 2],
  [2, 3],
  [16, 9],
  [9, 16],
];

/** Many is what goes for all that is selected. */
export function Many({ brand, count, download }: { brand: string; count: number; download: boolean }) {
  const looks = useLooks(brand).data ?? [];
  const [strength, setStrength] = useState(100);
  const [look, setLook] = useState(0);
  const copied = useCopied();
  const [taken, setTaken] = useState<Part[]>([...groups.map((g) => g.part), "look"]);
  const change = (c: Change) => void changeMany(brand, asSelection(), inOrder(), c);
  useKeys("Prepare", [
    { press: "r", does: "turn the selection to the right", run: () => change({ turn: 90 }) },
    { press: "l", does: "turn the selection to the left", run: () => change({ turn: 270 }) },
    { press: "f", does: "mirror the selection", run: () => change({ flip: true }) },
  ]);
  const first = () => inOrder()[0];
  const model = copied.id === undefined ? undefined : rows.get(copied.id);
  const chosen = look || looks[0]?.id;
  return (
    <div className="space-y-4">
      <p className="text-dense text-ink-soft">{items(count)} selected. Pictures change, and clips as far as it suits them.</p>
      <div className="grid grid-cols-3 gap-1.5">
        <Button aria-label="Turn them to the left" icon={<RotateCcwSquare size={18} />} onClick={() => change({ turn: 270 })}>
          Left
        </Button>
        <Button aria-label="Turn them to the right" icon={<RotateCwSquare size={18} />} onClick={() => change({ turn: 90 })}>
          Right
        </Button>
        <Button icon={<FlipHorizontal2 size={18} />} onClick={() => change({ flip: true })}>
          Mirror
        </Button>
      </div>
      <section className="space-y-2 border-t border-line pt-3">
        <h3 className="font-medium">Look</h3>
        {looks.length === 0 ? (
          <p className="text-dense text-ink-soft">There is no look yet. Open a picture, set it as you like, and save that as a look.</p>
        ) : (
          <>
            <Choice label="Which look" value={chosen!} options={looks.map((l) => ({ value: l.id, label: l.name }))} onChange={setLook} />
            <Slider
              label="Strength"
              unit="%"
              from={0}
              to={100}
              step={1}
              neutral={100}
              value={strength}
              onMove={setStrength}
              onSet={setStrength}
            />
            <Button tone="main" className="w-full" disabled={strength === 0} onClick={() => change({ look: chosen, strength })}>
              Put it on {count.toLocaleString("en-GB")}
            </Button>
          </>
        )}
        <Button className="w-full" onClick={() => change({ back: ["look"] })}>
          Take looks off
        </Button>
      </section>
      <section className="space-y-2 border-t border-line pt-3">
        <h3 className="font-medium">Carry over</h3>
        {count === 1 && (
          <Button className="w-full" onClick={() => useCopied.setState({ id: first() })}>
            Remember this one’s settings
          </Button>
        )}
        {model && (
          <>
            <p className="truncate text-dense">From “{titleOf(model)}”:</p>
            <Parts all={parts} taken={taken} onTake={setTaken} />
            <Button className="w-full" disabled={taken.length === 0} onClick={() => change({ parts: taken, from: model.id })}>
              Carry them to {count.toLocaleString("en-GB")}
            </Button>
          </>
        )}
        {count > 1 && <Alike brand={brand} count={count} />}
      </section>
      <section className="space-y-2 border-t border-line pt-3">
        <h3 className="font-medium">Crop around the focal point</h3>
        <div className="grid grid-cols-3 gap-1.5">
          {proportions.map(([width, height]) => (
            <Button key={`${width}:${height}`} onClick={() => change({ width, height })}>
              {width} : {height}
            </Button>
          ))}
        </div>
      </section>
      <section className="space-y-2 border-t border-line pt-3">
        {download && <ShootRound brand={brand} count={count} />}
        <Button className="w-full" icon={<RotateCcw size={18} />} onClick={() => change({ back: everything })}>
          Back to the originals
        </Button>
      </section>
    </div>
  );
}

/** Alike gives a burst the exposure and white of its first, after showing by how much. */
function Alike({ brand, count }: { brand: string; count: number }) {
  const [found, setFound] = useState<{ model: number; list: NonNullable<Awaited<ReturnType<typeof likenessTo>>> }>();
  const look = async () => {
    const model = inOrder()[0];
    if (model === undefined) return;
    const list = await likenessTo(brand, asSelection(), model);
    if (list) setFound({ model, list });
  };
  const sign = (n: number, unit: string) => `${n < 0 ? "−" : "+"}${Math.abs(n).toFixed(unit ? 2 : 0)}${unit}`;
  const model = found && rows.get(found.model);
  return (
    <>
      <Button className="w-full" onClick={() => void look()}>
        Same exposure and white as the first…
      </Button>
      {found && (
        <Dialog title="Same exposure and white" onClose={() => setFound(undefined)}>
          <p className="mb-2">
            {items(found.list.length)} of {count} become like “{model ? titleOf(model) : "the first"}”, which stays as it is.
          </p>
          <ul className="max-h-72 overflow-y-auto text-dense">
            {found.list.map((l) => (
              <li key={l.id} className="flex justify-between gap-3 border-b border-line py-1">
                <span className="truncate">{titleOf(rows.get(l.id) ?? { title: "", fileName: `item ${l.id}` })}</span>
                <span className="shrink-0 tabular-nums">
                  exposure {sign(l.exposure, " EV")}, warmth {sign(l.warmth, "")}, tint {sign(l.tint, "")}
                </span>
              </li>
            ))}
          </ul>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={() => setFound(undefined)}>Leave them</Button>
            <Button
              tone="main"
              onClick={() => {
                void makeAlike(brand, asSelection(), found.model);
                setFound(undefined);
              }}
            >
              Make {found.list.length} alike
            </Button>
          </div>
        </Dialog>
      )}
    </>
  );
}
