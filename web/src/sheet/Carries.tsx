import { Check, Minus } from "lucide-react";
import type { Schema } from "~/api/client";

type Policy = Schema["OutputSize"]["metadata"];

/** What is said in a file that goes out, and the policies under which it is. */
const lines: { what: string; under: Policy[] }[] = [
  { what: "Copyright, credit and usage terms", under: ["keep", "strip_private"] },
  { what: "Title, description and tags", under: ["keep"] },
  { what: "Where it was taken", under: ["keep"] },
  { what: "Who is shown", under: ["keep"] },
  { what: "When it was taken, and with what", under: ["keep"] },
];

/** Carries says line by line what is said in the files of an output size, and what is not. */
export function Carries({ policy }: { policy: Policy }) {
  return (
    <ul aria-label="What its files say" className="text-small" data-carries={policy}>
      {lines.map(({ what, under }) => {
        const said = under.includes(policy);
        return (
          <li key={what} className={`flex items-center gap-1.5 ${said ? "" : "text-ink-soft"}`}>
            {said ? <Check size={14} aria-hidden="true" /> : <Minus size={14} aria-hidden="true" />}
            {what}: {said ? "in the file" : "left out"}
          </li>
        );
      })}
    </ul>
  );
}
