import { useState, type FormEvent } from "react";
import { messageOf, type Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Choice, TextArea } from "~/kit/Field";
import { exactly, when } from "~/kit/words";
import { remarkOnRehearsal, removeRehearsalRemark } from "./acts";

/** RehearsalRemarks is what colleagues say of a rehearsal, or of one of its variants. */
export function RehearsalRemarks({ brand, rehearsal: r, may }: { brand: string; rehearsal: Schema["Rehearsal"]; may: boolean }) {
  const [words, setWords] = useState("");
  const [about, setAbout] = useState(0);
  const [problem, setProblem] = useState<string>();
  const nameOf = (variant: number | undefined) => r.variants.find((v) => v.id === variant)?.name;
  const say = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await remarkOnRehearsal(brand, r.id, words, about || undefined);
      setWords("");
      setProblem(undefined);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <section aria-label="Remarks" className="max-w-2xl">
      <h2 className="mb-1 text-base">Remarks</h2>
      {r.remarks.length === 0 && <p className="text-ink-soft">Nobody has said anything yet.</p>}
      <ul className="divide-y divide-line">
        {r.remarks.map((m) => (
          <li key={m.id} className="py-2" data-remark>
            <p className="text-small text-ink-soft">
              {m.by ?? "Somebody who has left"}
              {nameOf(m.variant) && ` about variant ${nameOf(m.variant)}`}, <time title={exactly(m.said)}>{when(m.said)}</time>
              {(m.mine || may) && (
                <Button tone="quiet" className="ml-2 min-h-0 py-0 text-small" onClick={() => void removeRehearsalRemark(brand, r.id, m.id)}>
                  Remove
                </Button>
              )}
            </p>
            <p dir="auto" className="break-words whitespace-pre-line">
              {m.words}
            </p>
          </li>
        ))}
      </ul>
      <form className="mt-2 space-y-2" onSubmit={(e) => void say(e)} aria-label="A remark">
        <TextArea
          label="What do you think?"
          rows={2}
          value={words}
          maxLength={2000}
          problem={problem}
          onChange={(e) => setWords(e.target.value)}
        />
        <div className="flex flex-wrap items-end gap-2">
          {r.variants.length > 1 && (
            <Choice
              label="About"
              value={about}
              options={[{ value: 0, label: "all of it" }, ...r.variants.map((v) => ({ value: v.id, label: `variant ${v.name}` }))]}
              onChange={setAbout}
            />
          )}
          <Button type="submit" disabled={!words.trim()}>
            Say it
          </Button>
        </div>
      </form>
    </section>
  );
}
