import { CircleAlert, CircleCheck, TriangleAlert } from "lucide-react";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { items } from "~/kit/words";

type Check = Schema["SendingCheck"];
type Reason = Schema["SendingReason"];

const said: Record<Reason, [one: string, many: string]> = {
  binned: ["is in the bin", "are in the bin"],
  unseen: ["was added by a guest and not looked at yet", "were added by guests and not looked at yet"],
  says_where: ["says in its file where it was taken", "say in their files where they were taken"],
  rights_ended: ["has rights that have ended", "have rights that have ended"],
  not_agreed: ["shows somebody who does not agree", "show somebody who does not agree"],
  agreed_once: ["shows somebody whose consent has run out", "show somebody whose consent has run out"],
  rights_soon: ["has rights that end within 30 days", "have rights that end within 30 days"],
  set_aside: ["was set aside", "were set aside"],
  without_alt: ["has no alt text", "have no alt text"],
};

/** reasonSaid says what is against one item. */
export const reasonSaid = (reason: Reason) => `It ${said[reason][0]}`;

/** inBrief says in a line what is against some items: what hinders first, or how many lack something. */
export function inBrief(check: Check) {
  const hindered = new Set(check.against.filter((a) => a.hinders).flatMap((a) => a.ids)).size;
  const rest = check.items - check.fine - hindered;
  if (hindered > 0) return `${items(hindered)} should not go out${rest > 0 ? `, ${rest.toLocaleString("en-GB")} to look at` : ""}`;
  return rest > 0 ? `${items(rest)} to look at before they go out` : "nothing is against sending them out";
}

/** LeavingCheck lists what is against sending out some items, with a way to them. */
export function LeavingCheck({ check, onSelect }: { check: Check | undefined; onSelect?: (ids: number[]) => void }) {
  if (!check || check.items === 0) return null;
  if (check.against.length === 0)
    return (
      <p className="flex items-center gap-1.5 text-dense text-ink-soft" data-check="fine">
        <CircleCheck size={16} className="shrink-0" aria-hidden="true" /> Rights, consents and alt texts: nothing is against it.
      </p>
    );
  return (
    <ul className="space-y-1 text-dense" aria-label="What is against it" data-check={check.against.map((a) => a.reason).join(" ")}>
      {check.against.map((a) => (
        <li key={a.reason} className={`flex items-center gap-1.5 ${a.hinders ? "text-tomato" : ""}`}>
          {a.hinders ? (
            <CircleAlert size={16} className="shrink-0" aria-hidden="true" />
          ) : (
            <TriangleAlert size={16} className="shrink-0 text-ink-soft" aria-hidden="true" />
          )}
          <span className="min-w-0 flex-1">
            {items(a.items)} {said[a.reason][a.items === 1 ? 0 : 1]}
          </span>
          {onSelect && (
            <Button tone="quiet" className="min-h-6 px-1.5" onClick={() => onSelect(a.ids)}>
              Select {a.items === 1 ? "it" : "them"}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
