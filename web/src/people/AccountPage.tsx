import { useState, type FormEvent } from "react";
import { messageOf, ProblemError, type Me } from "~/api/client";
import { useSessions } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, Switch, TextField } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { useSettings, type Backdrop, type Theme } from "~/kit/settings";
import { exactly, when } from "~/kit/words";
import { DrivePasswords } from "./DrivePasswords";
import { changePassword, endSession, leaveBrand, renameMe } from "./acts";

const themes: Theme[] = ["as the system", "light", "dark"];
const backdrops: Backdrop[] = ["paper", "grey", "night"];

/** AccountPage is one's own: name, password, where one is signed in, how the screen looks, and leaving the brand. */
export function AccountPage({ me }: { me: Me }) {
  const { theme, backdrop, set } = useSettings();
  const [leaving, setLeaving] = useState(false);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="account">
      <div className="stitch-b px-4 py-2">
        <h1 className="text-lg">My account</h1>
      </div>
      <div className="space-y-8 page-column">
        <section className="space-y-3">
          <SavedField
            label="Name"
            value={me.name}
            maxLength={100}
            check={(text) => (text.trim() ? undefined : "A name has at least one character.")}
            onSave={renameMe}
          />
          <p className="text-ink-soft">
            {me.email}, {me.role} of {me.brandName}
          </p>
        </section>
        <Password />
        <section className="grid grid-cols-2 gap-3">
          <Choice label="Theme" value={theme} options={themes.map((t) => ({ value: t, label: t }))} onChange={(t) => set({ theme: t })} />
          <Choice
            label="Backdrop of pictures"
            value={backdrop}
            options={backdrops.map((b) => ({ value: b, label: b }))}
            onChange={(b) => set({ backdrop: b })}
          />
        </section>
        <Sessions />
        <DrivePasswords brand={me.brand} email={me.email} />
        <section>
          <h2 className="mb-1 text-base">Leave {me.brandName}</h2>
          <p className="mb-2 text-ink-soft">What you brought in and made stays. Only a steward can let you in again.</p>
          <Button tone="danger" onClick={() => setLeaving(true)}>
            Leave the brand…
          </Button>
        </section>
      </div>
      {leaving && <LeaveDialog brand={me.brand} person={{ id: me.id, name: me.name }} own onClose={() => setLeaving(false)} />}
    </div>
  );
}

function Password() {
  const [present, setPresent] = useState("");
  const [next, setNext] = useState("");
  const [keep, setKeep] = useState(false);
  const [state, setState] = useState<{ problem?: string; said?: string }>({});
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await changePassword(present, next, keep);
      setPresent("");
      setNext("");
      setState({
        said: keep
          ? "Changed. You were signed out everywhere else; your devices still open the drive."
          : "Changed. You were signed out everywhere else, and passwords for the drive have ended.",
      });
    } catch (error) {
      setState({ problem: messageOf(error) });
    }
  };
  return (
    <form className="space-y-3" onSubmit={(e) => void submit(e)} aria-label="Password">
      <h2 className="text-base">Password</h2>
      <TextField
        label="Present password"
        type="password"
        value={present}
        onChange={(e) => setPresent(e.target.value)}
        autoComplete="current-password"
      />
      <TextField
        label="New password"
        type="password"
        value={next}
        problem={state.problem}
        hint="At least 10 characters"
        onChange={(e) => setNext(e.target.value)}
        autoComplete="new-password"
      />
      <Switch label="My devices go on opening the drive" checked={keep} onChange={setKeep} />
      <div className="flex items-center gap-3">
        <Button type="submit" disabled={!present || !next}>
          Change the password
        </Button>
        <p role="status" className="text-dense text-ink-soft">
          {state.said}
        </p>
      </div>
    </form>
  );
}

function Sessions() {
  const { data: sessions, refetch } = useSessions();
  return (
    <section>
      <h2 className="mb-1 text-base">Where you are signed in</h2>
      <ul className="divide-y divide-line" aria-label="Sessions">
        {sessions?.map((s) => (
          <li key={s.id} className="flex items-center gap-3 py-2">
            <span className="min-w-0 flex-1">
              <span className="block truncate" title={s.browser}>
                {browserName(s.browser)}, {s.place}
              </span>
              <time className="text-dense text-ink-soft" title={exactly(s.begun)}>
                since {when(s.begun)}
              </time>
            </span>
            {s.current ? (
              <span className="text-dense text-ink-soft">this one</span>
            ) : (
              <Button onClick={() => void endSession(s.id).then(() => refetch())}>Sign out there</Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** browserName is the part of a User-Agent that a person knows. */
function browserName(agent: string) {
  const system = /Windows|Android|iPhone|iPad|Mac OS|Linux/.exec(agent)?.[0]?.replace("Mac OS", "macOS");
  const browser = /Edg|Firefox|Chrome|Safari/.exec(agent)?.[0]?.replace("Edg", "Edge");
  return [browser ?? "A browser", system].filter(Boolean).join(" on ");
}

/** LeaveDialog takes somebody out of the brand: oneself, or another person. */
export function LeaveDialog({
  brand,
  person,
  own,
  onClose,
}: {
  brand: string;
  person: { id: number; name: string };
  own?: boolean;
  onClose: () => void;
}) {
  const [problem, setProblem] = useState<string>();
  const leave = async () => {
    try {
      await leaveBrand(brand, person.id);
      if (own) window.location.href = "/";
      else onClose();
    } catch (error) {
      setProblem(error instanceof ProblemError ? error.message : messageOf(error));
    }
  };
  return (
    <Dialog
      title={own ? "Leave the brand?" : `Take ${person.name} out of the brand?`}
      about={
        own
          ? "You do not see its library any more. What you brought in and made stays."
          : "They do not see its library any more, and their grants end. What they brought in and made stays."
      }
      onClose={onClose}
    >
      {problem && (
        <p role="alert" className="mb-3 text-tomato">
          {problem}
        </p>
      )}
      <Button tone="danger" onClick={() => void leave()}>
        {own ? "Leave the brand" : `Take ${person.name} out`}
      </Button>
    </Dialog>
  );
}
