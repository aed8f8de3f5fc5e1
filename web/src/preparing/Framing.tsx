import { Crop, FlipHorizontal2, RotateCcwSquare, RotateCwSquare, Spline } from "lucide-react";
import { useAsset, useOutputSizes, usePageCrops } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice } from "~/kit/Field";
import { useKeys } from "~/kit/keys";
import { Slider } from "~/kit/Slider";
import { propose } from "./acts";
import { Fold } from "./Fold";
import { setMode, useMode } from "./mode";
import { boundsOf, usual, type Named } from "./proportions";
import { changedIn, without } from "./recipe";
import { move, settle, useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** Framing turns, mirrors and crops, and straightens what can be made level. */
export function Framing({ brand, id, work, level }: { brand: string; id: number; work: Work; level: boolean }) {
  const { framing, proportion } = useMode();
  const asset = useAsset(brand, id).data;
  const sizes = useOutputSizes(brand).data ?? [];
  const pages = usePageCrops(brand, id).data ?? [];
  const turn = async (what: "right" | "left" | "mirror") => {
    const now = useWork.getState().work;
    const found = now && (await propose(brand, id, what, now.recipe));
    if (found) settle(found.recipe, { right: "turning right", left: "turning left", mirror: "mirroring" }[what]);
  };
  const horizon = async () => {
    const found = await propose(brand, id, "horizon", work.recipe);
    if (found) settle(found.recipe, "straightening");
  };
  const turned = (work.recipe.turn ?? 0) % 180 !== 0;
  const original = asset && (turned ? [asset.fileHeight, asset.fileWidth] : [asset.fileWidth, asset.fileHeight]);
  const filled = sizes.filter((s) => s.fit === "fill" && s.width && s.height);
  const choices: Named[] = [
    ...(original ? [{ label: "as it is", width: original[0]!, height: original[1]! }] : []),
    ...usual,
    ...filled.map((s) => ({ label: s.name, width: s.width, height: s.height })),
    ...boundsOf(pages),
  ];
  const at = choices.findIndex((c) => proportion !== undefined && Math.abs(c.width / c.height - proportion) < 1e-6);
  const choose = async (n: number) => {
    const c = choices[n];
    setMode({ proportion: c && c.width / c.height, framing: "crop" });
    if (!c) return;
    const found = await propose(brand, id, "proportion", work.recipe, { x: c.width, y: c.height });
    if (found) settle(found.recipe, "the crop");
  };
  useKeys("Framing", [
    { press: "r", does: "turn to the right", run: () => void turn("right") },
    { press: "l", does: "turn to the left", run: () => void turn("left") },
    { press: "f", does: "mirror it: left and right change places", run: () => void turn("mirror") },
    { press: "c", does: "crop, or be done with it", run: () => setMode({ framing: framing ? undefined : "crop" }) },
    ...(framing ? [{ press: "Escape", does: "be done with the crop", run: () => setMode({ framing: undefined }), first: true }] : []),
  ]);
  return (
    <Fold
      name="Framing"
      changed={changedIn("framing", work.settled, [])}
      onBack={() => settle(without(work.settled, "framing", []), "putting the framing back")}
    >
      <div className="grid grid-cols-3 gap-1.5">
        <Button aria-label="Turn to the left" icon={<RotateCcwSquare size={18} />} onClick={() => void turn("left")}>
          Left
        </Button>
        <Button aria-label="Turn to the right" icon={<RotateCwSquare size={18} />} onClick={() => void turn("right")}>
          Right
        </Button>
        <Button icon={<FlipHorizontal2 size={18} />} onClick={() => void turn("mirror")}>
          Mirror
        </Button>
      </div>
      <Button
        className="w-full aria-pressed:bg-saffron-wash"
        aria-pressed={framing === "crop"}
        icon={<Crop size={18} />}
        onClick={() =>
          setMode({ framing: framing === "crop" ? undefined : "crop", grey: false, eye: false, size: undefined, beside: false })
        }
      >
        {framing === "crop" ? "Done with the crop" : work.settled.crop ? "Change the crop" : "Crop"}
      </Button>
      <Choice
        label="Proportion of the crop"
        value={at}
        options={[{ value: -1, label: "free" }, ...choices.map((c, value) => ({ value, label: c.label }))]}
        onChange={(n) => void choose(n)}
      />
      {level && (
        <>
          <Slider
            label="Straighten"
            unit="°"
            from={-45}
            to={45}
            step={0.1}
            value={work.recipe.straighten ?? 0}
            onMove={(n) => move({ ...work.recipe, straighten: n || undefined })}
            onSet={(n) => settle({ ...work.recipe, straighten: n || undefined }, n ? "straightening" : "putting straightening back")}
          />
          <div className="grid grid-cols-2 gap-1.5">
            <Button
              className="aria-pressed:bg-saffron-wash"
              aria-pressed={framing === "line"}
              icon={<Spline size={16} />}
              onClick={() =>
                setMode({ framing: framing === "line" ? undefined : "line", grey: false, eye: false, size: undefined, beside: false })
              }
            >
              {framing === "line" ? "Draw it" : "Draw a line"}
            </Button>
            <Button onClick={() => void horizon()}>Straighten automatically</Button>
          </div>
        </>
      )}
    </Fold>
  );
}
