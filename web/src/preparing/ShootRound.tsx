import { PackageOpen } from "lucide-react";
import { useState } from "react";
import { messageOf } from "~/api/client";
import { useLooks, useOutputSizes } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, Switch, TextField } from "~/kit/Field";
import { tell, warn } from "~/kit/notes";
import { Slider } from "~/kit/Slider";
import { plural } from "~/kit/words";
import { asSelection, inOrder } from "~/sheet/selection";
import { changeMany, makeFiles } from "./acts";

/** ShootRound goes from a choice to its files at once: a look, an output size, and a ZIP that is made while one does something else. */
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
  const sizes = useOutputSizes(brand).data ?? [];
  const [look, setLook] = useState(0);
  const [strength, setStrength] = useState(100);
  const [sizeId, setSizeId] = useState<number>();
  const [pattern, setPattern] = useState<string>();
  const [keepFolders, setKeepFolders] = useState(false);
  const [wrong, setWrong] = useState<string>();
  const [busy, setBusy] = useState(false);
  const size = sizes.find((s) => s.id === sizeId) ?? sizes[0];
  const files = plural(count, "file");
  const go = async () => {
    if (!size) return;
    setBusy(true);
    setWrong(undefined);
    const selection = asSelection();
    try {
      const put = look > 0 ? await changeMany(brand, selection, inOrder(), { look, strength }) : undefined;
      if (look > 0 && !put) return setBusy(false); // it was said what is against it
      const names = pattern ?? size.pattern;
      await makeFiles(brand, { selection, outputSize: size.id, pattern: names, keepFolders, after: put?.trail });
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
        {size && (
          <>
            <Choice
              label="Output size"
              value={size.id}
              options={sizes.map((s) => ({ value: s.id, label: s.name }))}
              onChange={(id) => {
                setSizeId(id);
                setPattern(undefined);
              }}
            />
            <TextField
              label="Names"
              value={pattern ?? size.pattern}
              problem={wrong}
              hint="{name} {title} {n} {date} {size} {width} {height}"
              autoComplete="off"
              onChange={(e) => {
                setPattern(e.target.value);
                setWrong(undefined);
              }}
            />
          </>
        )}
        <Switch label="Keep the folders" checked={keepFolders} onChange={setKeepFolders} />
        <Button tone="main" disabled={!size || busy} onClick={() => void go()}>
          Make {files} as a ZIP
        </Button>
      </div>
    </Dialog>
  );
}
