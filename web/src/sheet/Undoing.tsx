import { create } from "zustand";
import { undo, type Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";

/** A step that can be taken back, and what is said first: many items or the public would notice. */
export type Taken = Pick<Schema["TrailEntry"], "id" | "said" | "asks">;

/** Of what was brought in, up to so many items are undone without a question, here as in the trail. */
export const undoneUnasked = 20;

const useAsked = create<{ step?: Taken }>(() => ({}));

/** undoStep takes a step back; one that many or the public would notice is named, and asked about, first. */
export async function undoStep(brand: string, step: Taken) {
  if (step.asks) useAsked.setState({ step });
  else await undo(brand, step.id);
}

/** UndoAsked is that question. */
export function UndoAsked({ brand }: { brand: string }) {
  const step = useAsked((s) => s.step);
  const close = () => useAsked.setState({ step: undefined });
  if (!step) return null;
  return (
    <Dialog title={`Undo this? ${step.said}`} about={step.asks} onClose={close}>
      <div className="flex flex-wrap justify-end gap-2">
        <Button onClick={close}>Leave it as it is</Button>
        <Button
          tone="danger"
          data-undo-asked=""
          onClick={() => {
            close();
            void undo(brand, step.id);
          }}
        >
          Undo it
        </Button>
      </div>
    </Dialog>
  );
}
