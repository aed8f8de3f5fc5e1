import { Copy } from "lucide-react";
import { useState } from "react";
import { ProblemError, messageOf, type Schema } from "~/api/client";
import { useKnown } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextField } from "~/kit/Field";
import { copyText } from "~/kit/notes";
import { exactly } from "~/kit/words";
import { invite } from "./acts";
import { roles } from "./roles";

type Role = Schema["Role"];
type Invited = Schema["Invited"];

/** InviteDialog lets somebody into the brand, and shows the link with which they choose their password. */
export function InviteDialog({ brand, onClose }: { brand: string; onClose: () => void }) {
  const known = useKnown(brand).data ?? [];
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  const [role, setRole] = useState<Role>("contributor");
  const [problem, setProblem] = useState<{ field?: string; text: string }>();
  const [done, setDone] = useState<Invited>();
  const add = async () => {
    try {
      setDone(await invite(brand, { name, email: email.trim(), role }));
    } catch (error) {
      setProblem({ field: error instanceof ProblemError ? error.problem.field : undefined, text: messageOf(error) });
    }
  };
  if (done) return <LinkDialog name={name} invited={done} onClose={onClose} />;
  return (
    <Dialog title="Add somebody" about="They choose their own password, with a link that goes to them by e-mail." onClose={onClose}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        {known.length > 0 && (
          <Choice
            label="Known from your other brands (optional)"
            value={known.some((k) => k.email === email) ? email : ""}
            options={[{ value: "", label: "Somebody new" }, ...known.map((k) => ({ value: k.email, label: `${k.name}, ${k.email}` }))]}
            onChange={(value) => {
              setEmail(value);
              setName(known.find((k) => k.email === value)?.name ?? "");
            }}
          />
        )}
        <TextField
          label="Name"
          autoFocus
          value={name}
          maxLength={100}
          problem={problem?.field === "name" ? problem.text : undefined}
          onChange={(e) => setName(e.target.value)}
          autoComplete="off"
        />
        <TextField
          label="E-mail"
          type="email"
          value={email}
          maxLength={200}
          problem={problem && problem.field !== "name" ? problem.text : undefined}
          onChange={(e) => {
            setEmail(e.target.value);
            setProblem(undefined);
          }}
          autoComplete="off"
        />
        <Choice label="Role" value={role} options={roles} onChange={setRole} />
        <p className="text-dense text-ink-soft">{roles.find((r) => r.value === role)?.about}</p>
        <Button type="submit" tone="main" disabled={!name.trim() || !email.trim()}>
          Add {name.trim() || "them"}
        </Button>
      </form>
    </Dialog>
  );
}

/** LinkDialog shows a link to be handed over; it is never shown again. */
export function LinkDialog({ name, invited, onClose }: { name: string; invited: Invited; onClose: () => void }) {
  const link = invited.token && `${window.location.origin}/join/${invited.token}`;
  return (
    <Dialog
      title={link ? `A link for ${name}` : `${name} was added`}
      about={
        link
          ? invited.sent
            ? "It is on its way to them by e-mail. You can hand it to them yourself, too: it works once, and it is shown only now."
            : "Hand it to them yourself. It works once, and it is shown only now."
          : "They are known from another brand and sign in with the password that they have."
      }
      onClose={onClose}
    >
      {link ? (
        <div className="space-y-3">
          <input
            readOnly
            aria-label="The link"
            data-join-link
            value={link}
            className="w-full rounded-patch border border-line bg-sunk px-2 py-1.5"
            onFocus={(e) => e.target.select()}
          />
          {invited.ends && <p className="text-dense text-ink-soft">It works until {exactly(invited.ends)}.</p>}
          <div className="flex gap-2">
            <Button tone="main" icon={<Copy size={16} />} onClick={() => void copyText(link, "the link")}>
              Copy the link
            </Button>
            <Button onClick={onClose}>Done</Button>
          </div>
        </div>
      ) : (
        <Button tone="main" onClick={onClose}>
          Done
        </Button>
      )}
    </Dialog>
  );
}
