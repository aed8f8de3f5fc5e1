import { Button } from "~/kit/Button";
import { Slider } from "~/kit/Slider";
import { plural } from "~/kit/words";
import { propose } from "./acts";
import { Fold } from "./Fold";
import { setMode, useMode } from "./mode";
import { without } from "./recipe";
import { move, settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** Eyes mends red eyes: found in the faces, or by a press on each. */
export function Eyes({ brand, id, work }: { brand: string; id: number; work: Work }) {
  const eye = useMode((s) => s.eye);
  const eyes = work.recipe.red_eyes ?? [];
  const last = eyes.at(-1);
  const find = async () => {
    const found = await propose(brand, id, "eyes", work.recipe);
    if (found) settle(found.recipe, "mending red eyes");
  };
  const sized = (percent: number) => ({ ...work.recipe, red_eyes: [...eyes.slice(0, -1), { ...last!, radius: percent / 100 }] });
  return (
    <Fold name="Red eyes" changed={eyes.length} onBack={() => settle(without(work.settled, "eyes", []), "putting red eyes back")}>
      <div className="grid grid-cols-2 gap-1.5">
        <Button onClick={() => void find()}>Find them</Button>
        <Button
          className="aria-pressed:bg-saffron-wash"
          aria-pressed={!!eye}
          onClick={() => setMode({ eye: !eye, grey: false, framing: undefined })}
        >
          {eye ? "Click an eye" : "Click each eye"}
        </Button>
      </div>
      {eyes.length > 0 && <p className="text-dense text-ink-soft">{plural(eyes.length, "eye")} mended. Click one to take it away.</p>}
      {last && (
        <Slider
          label="Size of the last"
          unit="%"
          from={0.1}
          to={5}
          step={0.1}
          neutral={0.8}
          value={Math.min(5, last.radius * 100)}
          onMove={(n) => move(sized(n))}
          onSet={(n) => settle(sized(n), "the size of a red eye")}
        />
      )}
    </Fold>
  );
}
