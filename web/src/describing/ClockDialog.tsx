import { useState } from "react";
import { useAsset } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { items, moment } from "~/kit/words";
import { inOrder } from "~/sheet/selection";
import { OneOf } from "./OneOf";
import { apart, amountOf, wallTime } from "./clock";
import { setClock } from "./acts";
import { shown } from "./fields";
import type { ForSelection } from "./selection";

type Way = "by" | "one" | "zone" | "back";

const ways: { value: Way; label: string }[] = [
  { value: "one", label: "Say when one of them really was; the others follow" },
  { value: "by", label: "Move all by some time" },
  { value: "zone", label: "Set the time zone; the clock stays" },
  { value: "back", label: "Bring back what the files say" },
];

const zones = ["Z", "+01:00", "+02:00", "Europe/London", "Europe/Amsterdam", "America/New_York", "Asia/Tokyo", "Australia/Sydney"];

/** ClockDialog puts the moments of capture of a selection right, when a camera's clock was wrong. */
export function ClockDialog({ brand, selection, count, onClose }: ForSelection) {
  const [way, setWay] = useState<Way>("one");
  const [at, setAt] = useState(0);
  const [really, setReally] = useState("");
  const [amount, setAmount] = useState({ days: "", hours: "", minutes: "" });
  const [back, setBack] = useState(false);
  const [zone, setZone] = useState("");
  const ids = inOrder();
  const one = useAsset(brand, ids[at] ?? 0).data;
  const seconds = way === "one" ? apart(one?.taken, really) : amountOf(amount) * (back ? -1 : 1);
  const change =
    way === "back"
      ? { back: true }
      : way === "zone"
        ? zone.trim()
          ? { zone: zone.trim() }
          : undefined
        : seconds
          ? { seconds }
          : undefined;
  const example = one?.taken && seconds !== undefined && (way === "one" || way === "by") ? wallTime(one.taken, seconds) : undefined;
  const put = () => {
    onClose();
    void setClock(brand, selection, change!);
  };
  return (
    <Dialog
      title="Put the clock right"
      about={`For ${items(count)}. What is undated stays so, and what the files say can be brought back.`}
      onClose={onClose}
    >
      <Choice label="How" value={way} options={ways} onChange={setWay} />
      {(way === "one" || way === "by") && one && (
        <OneOf brand={brand} asset={one} at={at} of={ids.length} onAt={setAt}>
          {one.taken ? shown("taken", one.taken) : "undated: choose another"}
        </OneOf>
      )}
      <div className="mt-3">
        {way === "one" && (
          <TextField
            label="It really was"
            placeholder={one?.taken ? shown("taken", one.taken) : "2026-05-17 14:30"}
            value={really}
            autoComplete="off"
            problem={really && one?.taken && seconds === undefined ? "Type it as 2026-05-17 14:30." : undefined}
            onChange={(e) => setReally(e.target.value)}
          />
        )}
        {way === "by" && (
          <div className="grid grid-cols-3 gap-2">
            {(["days", "hours", "minutes"] as const).map((unit) => (
              <TextField
                key={unit}
                label={unit[0]!.toUpperCase() + unit.slice(1)}
                inputMode="numeric"
                value={amount[unit]}
                onChange={(e) => setAmount({ ...amount, [unit]: e.target.value.replace(/\D/g, "") })}
              />
            ))}
            <div className="col-span-3">
              <Choice
                label="Which way"
                value={back ? "back" : "on"}
                options={[
                  { value: "on", label: "Forwards: the clock was slow" },
                  { value: "back", label: "Backwards: the clock was fast" },
                ]}
                onChange={(v) => setBack(v === "back")}
              />
            </div>
          </div>
        )}
        {way === "zone" && (
          <>
            <TextField
              label="Time zone"
              placeholder="+02:00 or Europe/London"
              list="zones"
              value={zone}
              autoComplete="off"
              onChange={(e) => setZone(e.target.value)}
            />
            <datalist id="zones">
              {zones.map((z) => (
                <option key={z} value={z} />
              ))}
            </datalist>
          </>
        )}
      </div>
      {example && <p className="mt-2 text-dense text-ink-soft">Becomes {moment(example)}, and the others move as far.</p>}
      <div className="mt-4">
        <Button tone="main" disabled={!change} onClick={put}>
          {way === "back" ? "Bring it back for" : way === "zone" ? "Set it for" : "Move"} {items(count)}
        </Button>
      </div>
    </Dialog>
  );
}
