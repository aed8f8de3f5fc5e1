import { useState, type FormEvent } from "react";
import { mediaAddress, messageOf, type Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextArea } from "~/kit/Field";
import { tell } from "~/kit/notes";
import { plural } from "~/kit/words";
import { planLetters, sendLetters } from "./acts";

type Kind = Schema["Mailing"]["kind"];

const titles: Record<Kind, string> = {
  invitation: "Invite guests",
  new_pictures: "Tell guests of new pictures",
  reminder: "Remind guests",
};

/** LettersDialog writes to guests of a gallery: first words, then the letter as it will look and whom it goes to, then it goes. */
export function LettersDialog({
  brand,
  gallery: g,
  kind,
  ready,
  onClose,
}: {
  brand: string;
  gallery: Schema["Gallery"];
  kind: Kind;
  ready: boolean;
  onClose: () => void;
}) {
  const [to, setTo] = useState("");
  const [words, setWords] = useState("");
  const [plan, setPlan] = useState<Schema["PlannedMailing"]>();
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const mailing = { kind, to, words };
  const guarded = async (what: () => Promise<void>) => {
    setBusy(true);
    try {
      setProblem(undefined);
      await what();
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  const look = (event: FormEvent) => {
    event.preventDefault();
    void guarded(async () => setPlan(await planLetters(brand, g.id, mailing)));
  };
  const send = () =>
    void guarded(async () => {
      const { letters } = await sendLetters(brand, g.id, { ...mailing, leaveOut: true });
      tell(`${plural(letters, "letter")} on the way`);
      onClose();
    });
  if (!ready)
    return (
      <Dialog
        title={titles[kind]}
        about="No mail server is set, so letters cannot be sent from here. Copy the link and send it yourself."
        onClose={onClose}
      >
        <Button onClick={onClose}>Back</Button>
      </Dialog>
    );
  return (
    <Dialog title={titles[kind]} wide={!!plan} onClose={onClose}>
      {!plan && (
        <form className="space-y-3" onSubmit={look}>
          {kind === "invitation" && (
            <TextArea
              label="E-mail addresses"
              autoFocus
              rows={5}
              value={to}
              placeholder={"Maren Holt <maren@example.org>\nbo@example.org"}
              hint="One on each line, or with commas between them"
              onChange={(e) => setTo(e.target.value)}
            />
          )}
          <TextArea label="Your words (optional)" rows={3} maxLength={5000} value={words} onChange={(e) => setWords(e.target.value)} />
          {problem && <Problem text={problem} />}
          <Button type="submit" tone="main" disabled={busy || (kind === "invitation" && !to.trim())}>
            See the letter
          </Button>
        </form>
      )}
      {plan && (
        <div className="space-y-3">
          <p>
            <span className="font-medium">{plural(plan.to.length, "letter")}</span>
            {plan.to.length > 0 && ` to ${short(plan.to)}`}
          </p>
          {plan.wrong.length > 0 && <p className="text-tomato">{notSent(plan.wrong)}</p>}
          {plan.had.length > 0 && <p className="text-ink-soft">Had it already: {short(plan.had)}</p>}
          {plan.silent.length > 0 && <p className="text-ink-soft">Want no more letters: {short(plan.silent)}</p>}
          <p className="font-medium">{plan.subject}</p>
          {g.cover && <img src={mediaAddress(brand, g.cover, "small")} alt="" className="max-h-32 rounded-patch" />}
          <iframe title="The letter" sandbox="" srcDoc={plan.html} className="h-80 w-full rounded-patch border border-line bg-card" />
          <details>
            <summary className="text-sea underline">As plain text</summary>
            <pre className="mt-2 rounded-patch bg-sunk p-3 text-small whitespace-pre-wrap">{plan.text}</pre>
          </details>
          {!g.open && <Problem text="The gallery is closed, so the link would lead nowhere. Open it first." />}
          {problem && <Problem text={problem} />}
          <div className="flex gap-2">
            <Button tone="strap" disabled={busy || !g.open || plan.to.length === 0} onClick={send}>
              Send {plural(plan.to.length, "letter")}
            </Button>
            <Button onClick={() => setPlan(undefined)}>Change it</Button>
          </div>
        </div>
      )}
    </Dialog>
  );
}

function Problem({ text }: { text: string }) {
  return (
    <p role="alert" className="text-tomato">
      {text}
    </p>
  );
}

/** short names a few of those whom something is about. */
function short(all: Schema["MailAddress"][]) {
  const names = all.slice(0, 4).map((a) => a.name || a.email);
  return names.join(", ") + (all.length > 4 ? ` and ${all.length - 4} more` : "");
}

/** notSent says what is no address. */
function notSent(wrong: string[]) {
  const these = wrong.slice(0, 10).join(", ") + (wrong.length > 10 ? ` and ${wrong.length - 10} more` : "");
  return wrong.length === 1
    ? `This is no e-mail address and is left out: ${these}`
    : `These are no e-mail addresses and are left out: ${these}`;
}
