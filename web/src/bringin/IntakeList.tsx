import { ArrowUpToLine, Pause, PencilLine, Play, Undo2, X } from "lucide-react";
import { later } from "~/kit/later";
import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useIntake } from "~/api/queries";
import { Button } from "~/kit/Button";
import { tell, warn } from "~/kit/notes";
import { binned, plural, when } from "~/kit/words";
import { undoneUnasked, undoStep } from "~/sheet/Undoing";
import { putBack } from "~/api/acts";
import { FileRow } from "./FileRow";
import { sourceOf, sumOf } from "./intake";
import { forget } from "./queue";
import { cancelIntake, steerIntake } from "./acts";

const TwinsDialog = later(async () => (await import("./TwinsDialog")).TwinsDialog);
const WordsDialog = later(async () => (await import("./WordsDialog")).WordsDialog);

type Intake = Schema["Intake"];
const piece = 200;

/** IntakeList is one intake: its numbers, what one can do with it, and every file with its outcome. */
export function IntakeList({ brand, intake, ahead, onLeave }: { brand: string; intake: Intake; ahead: boolean; onLeave: () => void }) {
  const files = useIntake(brand, intake.id).data?.files ?? [];
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [shown, setShown] = useState(piece);
  const [asked, setAsked] = useState<"words" | "twins">();
  const change = async (body: Schema["IntakeChange"]) => {
    try {
      await steerIntake(brand, intake.id, body);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  const cancel = async () => {
    try {
      const done = await cancelIntake(brand, intake.id);
      forget(brand, intake.id);
      tell(done.said);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  const pick = (code: string, on: boolean) =>
    setPicked((before) => {
      const after = new Set(before);
      if (on) after.add(code);
      else after.delete(code);
      return after;
    });
  const back = (asset: number) => void putBack(brand, { ids: [asset] });
  const open = !intake.finished;
  const twins = files.filter((f) => f.twin).length;
  return (
    <section data-intake-list={intake.id} className="mb-3 last:mb-0">
      <h3>{sumOf(intake)}</h3>
      <p className="text-dense text-ink-soft">
        {[intake.by, when(intake.started), intake.folderName ? `to ${intake.folderName}` : "to Unfiled", sourceOf(intake)]
          .filter(Boolean)
          .join(", ")}
        {intake.leftOut > 0 &&
          `. ${intake.leftOut} ${intake.source === "outlet" ? "that are here already" : "hidden or system files"} left out`}
      </p>
      <div className="my-1.5 flex flex-wrap gap-1.5">
        {open && (
          <Button icon={intake.paused ? <Play size={16} /> : <Pause size={16} />} onClick={() => void change({ paused: !intake.paused })}>
            {intake.paused ? "Go on" : "Pause"}
          </Button>
        )}
        {open && ahead && (
          <Button icon={<ArrowUpToLine size={16} />} onClick={() => void change({ ahead: true })}>
            Move ahead
          </Button>
        )}
        {intake.total > intake.versions + intake.skipped + intake.refused + intake.cancelled && (
          <Button icon={<PencilLine size={16} />} onClick={() => setAsked("words")}>
            {picked.size > 0 ? `Describe ${picked.size}…` : "Describe all…"}
          </Button>
        )}
        {open && (
          <Button icon={<X size={16} />} className="ml-auto" onClick={() => void cancel()}>
            Cancel the rest
          </Button>
        )}
        {!open && intake.trail !== undefined && intake.added + intake.versions > 0 && (
          <Button
            icon={<Undo2 size={16} />}
            onClick={() =>
              void undoStep(brand, {
                id: intake.trail!,
                said: sumOf(intake),
                asks: intake.added > undoneUnasked ? binned(intake.added) : "",
              })
            }
          >
            Undo this intake
          </Button>
        )}
      </div>
      <ul className="space-y-0.5">
        {files.slice(0, shown).map((f) => (
          <FileRow
            key={f.code}
            brand={brand}
            intake={intake.id}
            file={f}
            picked={picked.has(f.code)}
            onPick={(on) => pick(f.code, on)}
            onPutBack={back}
            onTwins={() => setAsked("twins")}
            onLeave={onLeave}
          />
        ))}
      </ul>
      {/* below the rows, which must not move when duplicates are found */}
      {twins > 0 && (
        <Button className="mt-2" onClick={() => setAsked("twins")}>
          Look at {plural(twins, "possible duplicate")}
        </Button>
      )}
      {files.length > shown && (
        <Button tone="quiet" className="mt-1" onClick={() => setShown(shown + piece)}>
          Show {Math.min(piece, files.length - shown)} more
        </Button>
      )}
      {asked === "words" && (
        <WordsDialog
          brand={brand}
          intake={intake}
          files={picked.size > 0 ? files.filter((f) => picked.has(f.code)) : files}
          some={picked.size > 0}
          onClose={() => setAsked(undefined)}
        />
      )}
      {asked === "twins" && <TwinsDialog brand={brand} intake={intake.id} onClose={() => setAsked(undefined)} />}
    </section>
  );
}
