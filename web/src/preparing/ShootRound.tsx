import { PackageOpen } from "lucide-react";
import { useState } from "react";
import { messageOf } from "~/api/client";
import { useLooks } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice } from "~/kit/Field";
import { tell, warn } from "~/kit/notes";
import { Slider } from "~/kit/Slider";
import { plural } from "~/kit/words";
import { makeFiles } from "~/sheet/acts";
import { FilesToMake, useFilesWanted } from "~/sheet/FilesWanted";
import { asSelection, inOrder } from "~/sheet/selection";
import { changeMany } from "./acts";

/** ShootRound goes from a choice to its files at once: a look, output sizes, and a ZIP or a folder on the server, which are made while
 * one does something else. */
export function ShootRound({ brand, count }: { brand: string; count: number }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button className="w-full" icon={<PackageOpen size={18} />} onClick={() => setAsking(true)}>
        Look and files in one go…
      </Button>
      {asking && <Asking brand={brand} count={count} onClose={() => setAsking(false)} />}
    </>
  );
}

function Asking({ brand, count, onClose }: { brand: string; count: number; onClose: () => void }) {
  const looks = useLooks(brand).data ?? [];
  const [look, setLook] = useState(0);
  const [strength, setStrength] = useState(100);
  const { wanted, change } = useFilesWanted(brand);
  const [wrong, setWrong] = useState<string>();
  const [busy, setBusy] = useState(false);
  const files = plural(count * (wanted?.outputSizes.length ?? 1), "file");
  const go = async () => {
    if (!wanted) return;
    setBusy(true);
    setWrong(undefined);
    const selection = asSelection();
    try {
      const put = look > 0 ? await changeMany(brand, selection, inOrder(), { look, strength }) : undefined;
      if (look > 0 && !put) return setBusy(false); // it was said what is against it
      await makeFiles(brand, { ...wanted, selection, after: put?.trail });
      onClose();
      tell(`Making ${files}. Go on meanwhile; how far it is stays in sight below.`);
    } catch (error) {
      setBusy(false);
      setWrong(messageOf(error));
      if (look > 0) warn("The look was put on, and no files were made.");
    }
  };
  return (
    <Dialog
      title={`Make ${files}`}
      about="First the look is put on, then the files are made. You can go on with something else."
      onClose={onClose}
    >
      <div className="space-y-3">
        <Choice
          label="Look"
          value={look}
          options={[{ value: 0, label: "as they are" }, ...looks.map((l) => ({ value: l.id, label: l.name }))]}
          onChange={setLook}
        />
        {look > 0 && (
          <Slider
            label="Strength"
            unit="%"
            from={1}
            to={100}
            step={1}
            neutral={100}
            value={strength}
            onMove={setStrength}
            onSet={setStrength}
          />
        )}
        {wanted && (
          <FilesToMake
            brand={brand}
            wanted={wanted}
            problem={wrong}
            onChange={(more) => {
              change(more);
              setWrong(undefined);
            }}
          />
        )}
        <Button tone="main" disabled={!wanted || busy} onClick={() => void go()}>
          Make {files} {wanted?.serverFolder === undefined ? "as a ZIP" : "on the server"}
        </Button>
      </div>
    </Dialog>
  );
}
