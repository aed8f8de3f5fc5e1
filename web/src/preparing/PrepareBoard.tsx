import { Redo2, RotateCcw, Undo2 } from "lucide-react";
import type { Me } from "~/api/client";
import { useAsset, useControls, useOverview } from "~/api/queries";
import { useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Switch } from "~/kit/Field";
import { useKeys } from "~/kit/keys";
import { plural, titleOf } from "~/kit/words";
import { FirstStep } from "~/sheet/FirstStep";
import { useBrand } from "~/sheet/place";
import { useMay } from "~/sheet/rights";
import { ShownOutside } from "~/sheet/ShownOutside";
import { openBig, useChosen, useCount } from "~/sheet/selection";
import { propose } from "./acts";
import { ClipGroup } from "./ClipGroup";
import { Crops } from "./Crops";
import { Earlier } from "./Earlier";
import { Eyes } from "./Eyes";
import { Framing } from "./Framing";
import { Group } from "./Group";
import { Looks } from "./Looks";
import { Many } from "./Many";
import { groups, neutral } from "./recipe";
import { back, forth, keepMine, keepTheirs, settle, useWork } from "./working";

/** PrepareBoard is how a picture should be seen: of the one that is open everything, of a selection what goes for many. */
export function PrepareBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const open = useChosen((s) => s.open);
  const count = useCount();
  const row = useRow(open ?? -1);
  const may = useMay(me)("prepare");
  const empty = useOverview(brand).data?.everything === 0;
  if (open !== undefined && row)
    return (
      <section className="space-y-4">
        <h2 className="truncate text-lg">{titleOf(row)}</h2>
        {row.kind !== "picture" && row.kind !== "clip" ? (
          <p className="text-ink-soft">Pictures and clips can be prepared. This is {kindSaid[row.kind] ?? `a ${row.kind}`}.</p>
        ) : may ? (
          <One key={open} brand={brand} id={open} />
        ) : (
          <p className="text-ink-soft">You may look at this, and not prepare it.</p>
        )}
      </section>
    );
  const cursor = [...useChosen.getState().selected][0];
  return (
    <section className="space-y-4">
      <h2 className="text-lg">Prepare</h2>
      {empty ? (
        <FirstStep me={me}>Here pictures get the look that they should be seen with. The files stay as they came.</FirstStep>
      ) : count === 0 ? (
        <p className="text-ink-soft">
          Open a picture or a clip to prepare it, or select several and treat them alike. The files stay as they came, and everything can be
          put back.
        </p>
      ) : (
        <>
          {count === 1 && (
            <Button tone="main" className="w-full" onClick={() => cursor && openBig(cursor)}>
              Prepare this one
            </Button>
          )}
          {may && <Many brand={brand} count={count} download={me.can.includes("download")} />}
        </>
      )}
    </section>
  );
}

const kindSaid: Record<string, string> = {
  document: "a document",
  vector: "a drawing, which is sharp and clear at any size as it is",
  animation: "an animation",
  file: "a file that is kept as it is",
};

/** One is everything that can be done to one picture or clip. */
function One({ brand, id }: { brand: string; id: number }) {
  const asset = useAsset(brand, id).data;
  const controls = useControls(brand).data;
  const work = useWork((s) => (s.work?.asset === id ? s.work : undefined));
  const last = work?.past.at(-1)?.what;
  const next = work?.future.at(-1)?.what;
  const enhance = async () => {
    const now = useWork.getState().work;
    if (!now) return;
    const found = await propose(brand, id, "enhance", now.recipe);
    if (found) settle(found.recipe, "enhancing");
  };
  useKeys("Prepare", [
    { press: "Ctrl+z", does: last ? `undo ${last}` : "undo the last thing that I did", run: back, first: true },
    { press: "Ctrl+y", does: "do it again", run: forth, first: true },
    { press: "e", does: "enhance it in one press", run: () => void enhance() },
  ]);
  if (!work || !controls || !asset) return <p className="text-ink-soft">One moment…</p>;
  const clip = asset.kind === "clip";
  const suitable = clip ? controls.filter((c) => c.film) : controls;
  return (
    <>
      {work.meanwhile && (
        <div role="alert" className="space-y-2 rounded-patch border border-tomato p-3">
          <p>{work.meanwhile}</p>
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => keepTheirs(brand, asset)}>Take theirs</Button>
            <Button tone="danger" onClick={() => keepMine(asset)}>
              Put mine over it
            </Button>
          </div>
        </div>
      )}
      <div className="flex items-center gap-2">
        <Button tone="main" className="min-w-0 flex-1" onClick={() => void enhance()}>
          Enhance
        </Button>
        <IconButton label={last ? `Undo ${last}` : "Nothing to undo here"} disabled={!last} icon={<Undo2 size={18} />} onClick={back} />
        <IconButton label={next ? `Do ${next} again` : "Nothing to do again"} disabled={!next} icon={<Redo2 size={18} />} onClick={forth} />
        <IconButton
          label="Back to the original"
          disabled={neutral(work.settled)}
          icon={<RotateCcw size={18} />}
          onClick={() => settle({}, "putting everything back")}
        />
      </div>
      <p className="h-5 truncate text-small text-ink-soft" aria-live="polite" data-last-done="">
        {last ? `Last: ${last}` : neutral(work.settled) ? "As it came." : "Prepared before."}
      </p>
      {asset.shown.length > 0 && (
        <details className="text-small" data-changes-outside={asset.shown.length}>
          <summary className="cursor-pointer text-plum">
            People outside see what you change here: in {plural(asset.shown.length, "place")}
          </summary>
          <ShownOutside shown={asset.shown} />
        </details>
      )}
      {asset.raw && (
        <Switch
          label="From the sensor, and not the picture that the camera put in"
          checked={!!work.recipe.sensor}
          onChange={(on) =>
            settle({ ...work.settled, sensor: on || undefined }, on ? "taking it from the sensor" : "taking the camera’s picture")
          }
        />
      )}
      {clip && <ClipGroup work={work} seconds={asset.fileSeconds ?? 0} />}
      <Framing brand={brand} id={id} work={work} level={!clip} />
      {groups
        .filter((g) => suitable.some((c) => c.group === g.part))
        .map((g) => (
          <Group key={g.part} part={g.part} name={g.name} controls={suitable} work={work} brand={brand} id={id} />
        ))}
      {!clip && <Eyes brand={brand} id={id} work={work} />}
      {!clip && <Crops brand={brand} id={id} />}
      <Looks brand={brand} work={work} controls={controls} />
      <Earlier brand={brand} id={id} work={work} />
    </>
  );
}
