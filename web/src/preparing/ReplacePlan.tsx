import { ArrowLeftRight } from "lucide-react";
import { useState } from "react";
import { Button } from "~/kit/Button";
import { Switch } from "~/kit/Field";
import { items, titleOf } from "~/kit/words";
import { Side } from "~/sheet/Side";
import { replace } from "./acts";
import { endReplacing, outsideIn, shownIn, type Planned } from "./replacing";

/** ReplacePlan lists what will change before it does, asks what stays, and replaces. Fresh says that the other item came for this alone. */
export function ReplacePlan(p: { brand: string; plan: { pairs: Planned[]; alone: number }; fresh: boolean; onSwap?: () => void }) {
  const { pairs, alone } = p.plan;
  const [left, setLeft] = useState<number[]>([]);
  const [recipe, setRecipe] = useState(true);
  const [focal, setFocal] = useState(!pairs.some((pair) => pair.differs.some((d) => d.startsWith("Other proportions"))));
  const [bin, setBin] = useState(p.fresh);
  const able = pairs.filter((pair) => pair.mine && !pair.same);
  const taken = able.filter((pair) => !left.includes(pair.of.id));
  const go = () => {
    endReplacing();
    void replace(p.brand, { pairs: taken.map((pair) => ({ of: pair.of.id, with: pair.with.id })), recipe, focal, bin, fresh: p.fresh });
  };
  if (pairs.length === 0) return <p className="text-ink-soft">Nothing else here has the file name of what you selected.</p>;
  const outside = outsideIn(taken);
  return (
    <div className="space-y-4">
      <p>
        {items(taken.length)} will show another file
        {outside && `, and people outside will see it at once in ${outside}`}.
        {alone > 0 && ` ${items(alone)} of your selection ${alone === 1 ? "has" : "have"} no namesake.`}
      </p>
      <ul className="space-y-3" aria-label="What will change">
        {pairs.map((pair) => (
          <li key={pair.of.id} className="rounded-xl border border-line p-3" data-replaced={pair.of.id}>
            {pairs.length > 1 && (
              <label className="mb-2 flex items-center gap-2">
                <input
                  type="checkbox"
                  className="size-4 accent-sea"
                  disabled={!able.includes(pair)}
                  checked={taken.includes(pair)}
                  onChange={(e) => setLeft(e.target.checked ? left.filter((id) => id !== pair.of.id) : [...left, pair.of.id])}
                />
                <span className="truncate">{titleOf(pair.of)}</span>
              </label>
            )}
            <div className="grid grid-cols-2 gap-3">
              <Side low brand={p.brand} row={pair.of} heading="Now" />
              <Side low brand={p.brand} row={pair.with} heading="Then" />
            </div>
            <Changes pair={pair} />
          </li>
        ))}
      </ul>
      <div className="space-y-1">
        {taken.some((pair) => pair.prepared) && (
          <Switch label="Keep how it is prepared: crop, brightness and all else" checked={recipe} onChange={setRecipe} />
        )}
        <Switch label="Keep the focal point, rather than find it anew" checked={focal} onChange={setFocal} />
        <Switch
          label={
            taken.length > 1
              ? "Put the items that the new files come from in the bin afterwards"
              : "Put the item that the new file comes from in the bin afterwards"
          }
          checked={bin}
          onChange={setBin}
        />
      </div>
      <div className="flex flex-wrap gap-2">
        <Button tone="main" disabled={taken.length === 0} onClick={go}>
          Replace {items(taken.length)}
        </Button>
        {p.onSwap && (
          <Button icon={<ArrowLeftRight size={16} />} onClick={p.onSwap}>
            The other way round
          </Button>
        )}
        <Button tone="quiet" onClick={endReplacing}>
          {p.fresh ? "Leave it, and keep the new file as an item" : "Leave it"}
        </Button>
      </div>
    </div>
  );
}

function Changes({ pair }: { pair: Planned }) {
  const shown = shownIn(pair.showing);
  return (
    <ul className="mt-2 list-disc pl-5 text-dense">
      {!pair.mine && <li className="text-tomato">You can’t change this one, so it stays.</li>}
      {pair.differs.map((d) => (
        <li key={d}>{d}</li>
      ))}
      {pair.differs.length === 0 && <li>Same proportions, size and kind</li>}
      {shown.map((s) => (
        <li key={s.text} className={s.outside ? "text-plum" : ""}>
          Shown in {s.text}
        </li>
      ))}
      {shown.length === 0 && <li>Shown in no album, gallery or embed</li>}
    </ul>
  );
}
