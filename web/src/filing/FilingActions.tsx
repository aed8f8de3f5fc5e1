import { FolderInput, Trash2, Undo2 } from "lucide-react";
import { useState } from "react";
import { act, client, type Me } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { useKeys } from "~/kit/keys";
import { items } from "~/kit/words";
import { usePlace } from "~/sheet/place";
import { asSelection, useChosen } from "~/sheet/selection";
import { MoveDialog } from "./MoveDialog";

/** FilingActions is what can be done with a selection: move it, put it in the bin, or back. It keeps its place when nothing
 * is selected: a drag selects, and the rows that one drags to must not jump then. */
export function FilingActions({ me }: { me: Me }) {
  const { brand, place } = usePlace();
  const count = useChosen((s) => s.selected.size);
  const [asked, setAsked] = useState<"move" | "bin">();
  const mayFile = me.can.includes("file");
  const mayRemove = me.can.includes("remove");
  const inBin = place.place === "bin";
  const restore = () => void act(brand, client.POST("/api/brands/{brand}/bin/restore", { params: { path: { brand } }, body: asSelection() }));
  const bin = () => {
    setAsked(undefined);
    void act(brand, client.POST("/api/brands/{brand}/bin", { params: { path: { brand } }, body: asSelection() }));
  };
  useKeys("File", [
    ...(mayFile ? [{ press: "m", does: "move the selection to…", run: () => count > 0 && setAsked("move") }] : []),
    ...(mayRemove ? [{ press: "Delete", does: "put the selection in the bin", run: () => count > 0 && !inBin && setAsked("bin") }] : []),
  ]);
  if (!mayFile && !mayRemove) return null;
  if (count === 0) return <p className="mb-4 flex h-8 items-center text-dense text-ink-soft">{inBin ? "Select items to put them back." : "Drag items onto a folder, or select them."}</p>;
  return (
    <div className="mb-4 flex min-h-8 flex-wrap gap-2">
      {mayFile && !inBin && (
        <Button tone="main" icon={<FolderInput size={18} />} onClick={() => setAsked("move")}>
          Move {count} to…
        </Button>
      )}
      {mayRemove && !inBin && (
        <Button tone="danger" icon={<Trash2 size={18} />} onClick={() => setAsked("bin")}>
          Put {count} in the bin
        </Button>
      )}
      {mayRemove && inBin && (
        <Button tone="main" icon={<Undo2 size={18} />} onClick={restore}>
          Put {count} back
        </Button>
      )}
      {asked === "move" && <MoveDialog brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
      {asked === "bin" && (
        <Dialog title={`Put ${items(count)} in the bin?`} about="They stay there for 60 days and can be put back. Albums and galleries stop showing them meanwhile." onClose={() => setAsked(undefined)}>
          <Button tone="danger" autoFocus onClick={bin}>
            Put {count} in the bin
          </Button>
        </Dialog>
      )}
    </div>
  );
}
