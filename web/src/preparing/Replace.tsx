import { clsx } from "clsx";
import { FileUp } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { messageOf } from "~/api/client";
import { useIntake } from "~/api/queries";
import { rows, useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { titleOf } from "~/kit/words";
import { tell, warn } from "~/kit/notes";
import { bringInto, leaveNothing, type Dropped } from "~/sheet/dropped";
import { filesTarget } from "~/sheet/drag";
import { asSelection } from "~/sheet/selection";
import { planReplacing } from "./acts";
import { endReplacing, useReplacing, type Planned, type Wanted } from "./replacing";
import { ReplacePlan } from "./ReplacePlan";

/** Replace asks for what takes the place of something, shows everything that will change, and does it. */
export function Replace({ brand }: { brand: string }) {
  const wanted = useReplacing((s) => s.wanted);
  if (!wanted) return null;
  return <Asking key={JSON.stringify(wanted)} brand={brand} wanted={wanted} />;
}

function Asking({ brand, wanted }: { brand: string; wanted: Wanted }) {
  const [pair, setPair] = useState(wanted.with === "another" ? wanted.pair : undefined);
  const [plan, setPlan] = useState<{ pairs: Planned[]; alone: number }>();
  const [wrong, setWrong] = useState<string>();
  const [intake, setIntake] = useState<number>();
  const leave = () => {
    endReplacing();
    if (intake === undefined) return;
    tell("Nothing was replaced, and the new file is not kept");
    void leaveNothing(intake)?.catch((error: unknown) => warn(messageOf(error)));
  };
  const of = useRow(wanted.with === "a file" ? wanted.of : -1);
  const ready = pair ?? (wanted.with === "namesakes" ? "namesakes" : undefined);
  useEffect(() => {
    if (ready === undefined) return;
    let left = false;
    const question = ready === "namesakes" ? { selection: asSelection() } : { pairs: [{ of: ready[0], with: ready[1] }] };
    planReplacing(brand, question).then(
      (found) => !left && setPlan(found),
      (error: unknown) => !left && setWrong(messageOf(error)),
    );
    return () => {
      left = true;
    };
  }, [brand, ready]);
  const title = {
    "a file": of ? `Replace “${titleOf(of)}”` : "Replace the file",
    another: "Replace one by the other",
    namesakes: "Replace items of the same name",
  }[wanted.with];
  return (
    <Dialog wide title={title} about={plan ? undefined : about[wanted.with]} onClose={leave}>
      {wrong && (
        <p role="alert" className="mb-3 text-tomato">
          {wrong}
        </p>
      )}
      {!ready && wanted.with === "a file" && (
        <NewFile
          brand={brand}
          wanted={wanted}
          intake={intake}
          onIntake={setIntake}
          onWrong={setWrong}
          onItem={(id) => setPair([wanted.of, id])}
        />
      )}
      {ready && !plan && !wrong && <p className="text-ink-soft">Looking up where it is shown…</p>}
      {plan && (
        <ReplacePlan
          key={plan.pairs.map((p) => p.of.id).join()}
          brand={brand}
          plan={plan}
          fresh={wanted.with === "a file"}
          onSwap={wanted.with === "another" && pair ? () => setPair([pair[1], pair[0]]) : undefined}
        />
      )}
    </Dialog>
  );
}

const about = {
  "a file": "It takes the place of this one everywhere. Title, tags, albums and galleries stay, and the old file can be brought back.",
  another: undefined,
  namesakes: undefined,
};

/** NewFile takes the file, brings it in as an item beside the one that it is for, and says which item it became. */
function NewFile({
  brand,
  wanted,
  intake,
  onIntake,
  onItem,
  onWrong,
}: {
  brand: string;
  wanted: Extract<Wanted, { with: "a file" }>;
  intake: number | undefined;
  onIntake: (id: number | undefined) => void;
  onItem: (id: number) => void;
  onWrong: (why?: string) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const field = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const began = useRef(false);
  const file = useIntake(brand, intake).data?.files[0];
  const take = async (dropped: Dropped) => {
    if (dropped.files.length !== 1)
      return onWrong("It takes one file. To replace many, bring them in, select them, and choose “Replace items of the same name”.");
    onWrong(undefined);
    onIntake(await bringInto(dropped, { folder: wanted.folder, policy: "keep_both" }));
  };
  const latest = useRef({ take, onItem, onWrong, onIntake });
  useEffect(() => {
    latest.current = { take, onItem, onWrong, onIntake };
  });
  useEffect(() => {
    if (wanted.dropped && !began.current) {
      began.current = true;
      void latest.current.take(wanted.dropped);
    }
  }, [wanted.dropped]);
  useEffect(() => {
    if (box.current) return filesTarget(box.current, setOver, (dropped) => void latest.current.take(dropped));
  }, []);
  const outcome = file?.state;
  useEffect(() => {
    if (outcome === "added" && file?.asset !== undefined) {
      rows.want([file.asset]);
      latest.current.onItem(file.asset);
    } else if (outcome === "refused" || outcome === "cancelled") {
      latest.current.onWrong(`“${file!.name}” was not taken. ${file!.why ?? ""} Nothing was replaced.`);
      latest.current.onIntake(undefined);
    }
  }, [outcome, file]);
  if (intake !== undefined) return <p aria-live="polite">Bringing “{file?.name ?? "the file"}” in…</p>;
  return (
    <div
      ref={box}
      className={clsx(
        "grid place-items-center gap-3 rounded-xl border-2 border-dashed p-8",
        over ? "border-saffron bg-saffron-wash" : "border-line-strong",
      )}
    >
      <p className="text-ink-soft max-md:hidden">Drop the new file here, or</p>
      <Button tone="main" autoFocus icon={<FileUp size={18} />} onClick={() => field.current?.click()}>
        Choose the new file…
      </Button>
      <input
        ref={field}
        type="file"
        aria-label="The new file"
        className="hidden"
        onChange={(e) => {
          const chosen = [...(e.target.files ?? [])];
          e.target.value = "";
          void take({ files: chosen.map((f) => ({ file: f, path: "" })), leftOut: 0, unread: [] });
        }}
      />
      <p className="text-dense text-ink-soft">You will see where it is shown before anything changes.</p>
    </div>
  );
}
