import { useEffect, useState, type ReactNode } from "react";
import { later } from "~/kit/later";
import { hearUnheard, type Me } from "~/api/client";
import { useLiveChanges } from "~/api/events";
import { rows } from "~/api/rows";
import { Progress } from "~/bringin/Progress";
import { bringIn } from "~/bringin/queue";
import { takeBackIntake } from "~/bringin/takeBack";
import { useTarget } from "~/bringin/target";
import { PiecesProgress } from "~/filing/PiecesProgress";
import { QuickAlbum } from "~/gathering/QuickAlbum";
import { Tips } from "~/kit/IconButton";
import { useKeys } from "~/kit/keys";
import { loadAhead } from "~/kit/later";
import { warn } from "~/kit/notes";
import { Path } from "~/path/Path";
import { Making } from "~/sendout/Making";
import { Strap } from "~/satchel/Strap";
import { takeFiles, unlessTaken } from "~/sheet/dropped";
import { UndoAsked } from "~/sheet/Undoing";
import { Away } from "./Away";
import { foldBoard, putBoard } from "./Board";
import { useUndo } from "./useUndo";

const GoTo = later(async () => (await import("./GoTo")).GoTo);
const KeysDialog = later(async () => (await import("./KeysDialog")).KeysDialog);

/** Frame is what stays while one works: the path above, the strap below, live changes, and files that are on their way. */
export function Frame({ me, children }: { me: Me; children: ReactNode }) {
  const [shown, setShown] = useState<"keys" | "go">();
  const last = useUndo(me);
  rows.brand = me.brand;
  useLiveChanges(me.brand);
  useEffect(() => hearUnheard(me.brand), [me.brand]);
  useEffect(() => loadAhead(), []);
  useEffect(() => {
    takeFiles({
      take: (dropped, target) => bringIn(me.brand, dropped, { policy: useTarget.getState().policy, ...target }),
      leave: (intake) => takeBackIntake(me.brand, intake),
    });
    const refuse = (event: DragEvent) => event.preventDefault(); // a file dropped beside must not replace the page
    window.addEventListener("dragover", refuse);
    const drop = (event: DragEvent) => {
      refuse(event);
      unlessTaken(event, () =>
        warn("Nothing was brought in: files are taken on the sheet, and on folders and albums where you may bring in."),
      );
    };
    window.addEventListener("drop", drop);
    return () => {
      takeFiles(undefined);
      window.removeEventListener("dragover", refuse);
      window.removeEventListener("drop", drop);
    };
  }, [me.brand]);
  useKeys("Everywhere", [
    { press: "?", does: "list the keys", run: () => setShown("keys") },
    { press: "Ctrl+k", does: "go to…", inFields: true, run: () => setShown("go") },
    { press: "Ctrl+z", does: last.said ? `undo: ${last.said}` : "undo the last thing that I did", run: last.run },
    { press: "Ctrl+y", does: "do again what I undid last", run: last.redo },
  ]);
  return (
    <Tips>
      <div className="flex h-full flex-col max-md:pb-[52px]">
        <Path me={me} onKeys={() => setShown("keys")} onGoTo={() => setShown("go")} onStep={() => putBoard(true)} onAgain={foldBoard} />
        <Away />
        {children}
        <Strap
          brand={me.brand}
          me={me}
          undo={last}
          progress={
            <>
              <PiecesProgress brand={me.brand} />
              {me.can.includes("gather") && <QuickAlbum brand={me.brand} />}
              {me.can.includes("download") && <Making brand={me.brand} />}
              <Progress brand={me.brand} />
            </>
          }
        />
        <UndoAsked brand={me.brand} />
        {shown === "keys" && <KeysDialog onClose={() => setShown(undefined)} />}
        {shown === "go" && <GoTo me={me} onClose={() => setShown(undefined)} />}
      </div>
    </Tips>
  );
}
