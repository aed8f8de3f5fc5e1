import { Pipette, Waves } from "lucide-react";
import { Button } from "~/kit/Button";
import { Slider } from "~/kit/Slider";
import { propose, type Control, type Part } from "./acts";
import { Curve } from "./Curve";
import { Fold } from "./Fold";
import { HistogramOf } from "./HistogramOf";
import { setMode, useMode } from "./mode";
import { changedIn, say, valueOf, withValue, without } from "./recipe";
import { move, settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** Group is the sliders of a part. Those that belong to another one come once that does something. */
export function Group(p: { part: Part; name: string; controls: Control[]; work: Work; brand: string; id: number }) {
  const { part, name, controls, work } = p;
  const recipe = work.recipe;
  const grey = useMode((s) => s.grey);
  const own = controls.filter((c) => c.group === part);
  const idle = (c: Control) =>
    !!c.with &&
    !valueOf(
      own.find((o) => o.name === c.with)!,
      recipe,
    );
  const denoise = async () => {
    const found = await propose(p.brand, p.id, "noise", work.recipe);
    if (found) settle(found.recipe, "taking out noise");
  };
  return (
    <Fold
      name={name}
      changed={changedIn(part, work.settled, controls)}
      onBack={() => settle(without(work.settled, part, controls), `putting ${part} back`)}
    >
      {part === "brightness" && <HistogramOf id={p.id} />}
      {part === "colour" && (
        <Button
          className="w-full aria-pressed:bg-saffron-wash"
          aria-pressed={!!grey}
          icon={<Pipette size={16} />}
          onClick={() => setMode({ grey: !grey, eye: false, framing: undefined })}
        >
          {grey ? "Click something grey" : "This is grey…"}
        </Button>
      )}
      {own
        .filter((c) => !idle(c))
        .map((c) => (
          <div key={c.name} className={c.with ? "border-l-2 border-line pl-3" : undefined}>
            <Slider
              label={c.words}
              unit={c.unit}
              from={c.from}
              to={c.to}
              step={c.step}
              neutral={c.neutral}
              value={valueOf(c, recipe)}
              onMove={(n) => move(withValue(recipe, c, n))}
              onSet={(n) => settle(withValue(recipe, c, n), n === c.neutral ? `putting ${c.words.toLowerCase()} back` : say(c, n))}
            />
          </div>
        ))}
      {part === "texture" && (
        <Button className="w-full" icon={<Waves size={16} />} onClick={() => void denoise()}>
          Take out what noise there is
        </Button>
      )}
      {part === "brightness" && <Curve work={work} />}
    </Fold>
  );
}
