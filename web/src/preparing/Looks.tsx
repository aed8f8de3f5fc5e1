import { clsx } from "clsx";
import { Download, Trash2, Upload } from "lucide-react";
import { useRef, useState } from "react";
import { useLooks, useMe } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { TextField } from "~/kit/Field";
import { warn } from "~/kit/notes";
import { Slider } from "~/kit/Slider";
import { removeLook, saveLook, type Control, type Look, type Part } from "./acts";
import { Fold } from "./Fold";
import { Parts } from "./Parts";
import { adjustmentsOf, changedIn, groups, without } from "./recipe";
import { move, settle, type useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** Looks are saved sets of adjustments: seen on the picture while one points at them, and put on with a strength. */
export function Looks({ brand, work, controls }: { brand: string; work: Work; controls: Control[] }) {
  const looks = useLooks(brand).data ?? [];
  const keeps = useMe().data?.everywhere.includes("prepare") ?? false; // looks are the brand's
  const on = work.recipe.look;
  const wearing = (l: Look, strength = 100) => ({ ...work.settled, look: { id: l.id, strength, values: l.values } });
  return (
    <Fold name="Looks" changed={work.settled.look ? 1 : 0} onBack={() => settle(without(work.settled, "look", []), "taking the look off")}>
      {looks.length === 0 && keeps && (
        <p className="text-dense text-ink-soft">Save what you have set here under a name, and put it on others.</p>
      )}
      <ul>
        {looks.map((l) => (
          <li key={l.id} className="flex items-center gap-1">
            <button
              type="button"
              aria-pressed={on?.id === l.id}
              title={l.words.join(", ")}
              className={clsx(
                "min-h-8 min-w-0 flex-1 truncate rounded-patch px-2 text-left hover:bg-saffron-wash",
                "focus-visible:bg-saffron-wash aria-pressed:bg-saffron-wash aria-pressed:font-medium",
              )}
              onPointerEnter={() => move(wearing(l))}
              onPointerLeave={() => move(work.settled)}
              onFocus={() => move(wearing(l))}
              onBlur={() => move(work.settled)}
              onClick={() => settle(wearing(l), `the look “${l.name}”`)}
            >
              {l.name}
            </button>
            <IconButton label={`Save ${l.name} as a file`} icon={<Download size={16} />} onClick={() => asFile(l)} />
            {keeps && <IconButton label={`Remove ${l.name}`} icon={<Trash2 size={16} />} onClick={() => void removeLook(brand, l.id)} />}
          </li>
        ))}
      </ul>
      {on && (
        <Slider
          label="Strength of the look"
          unit="%"
          from={0}
          to={100}
          step={1}
          neutral={100}
          value={on.strength}
          onMove={(n) => move({ ...work.recipe, look: { ...on, strength: n } })}
          onSet={(n) =>
            settle(n === 0 ? without(work.recipe, "look", []) : { ...work.recipe, look: { ...on, strength: n } }, `the look at ${n} %`)
          }
        />
      )}
      {keeps && <SaveAs brand={brand} work={work} controls={controls} />}
    </Fold>
  );
}

/** asFile saves a look as JSON (RFC 8259). */
function asFile(l: Look) {
  const text = JSON.stringify({ version: 1, name: l.name, groups: l.groups, values: l.values }, undefined, 2);
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
  link.download = `${l.name}.json`;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}

function SaveAs({ brand, work, controls }: { brand: string; work: Work; controls: Control[] }) {
  const [name, setName] = useState("");
  const [left, setLeft] = useState<Part[]>([]); // the groups that are not taken along
  const file = useRef<HTMLInputElement>(null);
  const able = groups.filter((g) => changedIn(g.part, work.settled, controls) > 0);
  const taken = able.filter((g) => !left.includes(g.part));
  const values = adjustmentsOf(work.settled, controls);
  const save = async () => {
    const done = await saveLook(brand, { name, groups: taken.map((g) => g.part), values });
    if (done) setName("");
  };
  const bringIn = async (f: File | undefined) => {
    if (!f) return;
    try {
      const read = JSON.parse(await f.text()) as Parameters<typeof saveLook>[1];
      await saveLook(brand, { version: read.version, name: read.name, groups: read.groups, values: read.values });
    } catch {
      warn(`“${f.name}” is no look. Nothing was brought in.`);
    }
  };
  return (
    <div className="space-y-2 border-t border-line pt-2">
      {able.length > 0 && (
        <form
          className="space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            void save();
          }}
        >
          <TextField label="Save these settings as" value={name} onChange={(e) => setName(e.target.value)} placeholder="Late sun" />
          <Parts
            all={able}
            taken={taken.map((g) => g.part)}
            onTake={(parts) => setLeft(groups.map((g) => g.part).filter((p) => !parts.includes(p)))}
          />
          <Button type="submit" disabled={!name.trim() || taken.length === 0} className="w-full">
            Save the look
          </Button>
        </form>
      )}
      <Button tone="quiet" className="min-h-7" icon={<Upload size={16} />} onClick={() => file.current?.click()}>
        Bring in a look from a file
      </Button>
      <input
        ref={file}
        type="file"
        accept="application/json,.json"
        aria-label="A look from a file"
        className="hidden"
        onChange={(e) => {
          void bringIn(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
    </div>
  );
}
