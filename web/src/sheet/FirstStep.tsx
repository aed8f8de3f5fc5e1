import type { ReactNode } from "react";
import type { Me } from "~/api/client";
import { Button } from "~/kit/Button";
import { useGo } from "./place";

/** FirstStep says, while the library is empty, what belongs on a board, and what to do first. */
export function FirstStep({ me, children }: { me: Me; children: ReactNode }) {
  const { goToStep } = useGo();
  const may = me.can.includes("bring_in");
  return (
    <div className="mb-3 rounded-lg border border-dashed border-line-strong p-4 text-ink-soft" data-first-step>
      <p className="mb-2">{children}</p>
      <p className={may ? "mb-3" : ""}>
        The library is empty{may ? ": bring in the first files." : ". Somebody who may bring in files begins."}
      </p>
      {may && <Button onClick={() => goToStep("bring-in")}>Bring in files</Button>}
    </div>
  );
}
