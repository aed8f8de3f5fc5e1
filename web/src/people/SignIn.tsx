import { useState, type FormEvent } from "react";
import { messageOf, type Me } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextField } from "~/kit/Field";
import { Mark } from "~/kit/Mark";
import { later } from "~/kit/later";
import { signIn } from "./acts";

const ForgottenDialog = later(async () => (await import("./ForgottenDialog")).ForgottenDialog);

/** SignIn asks who one is. */
export function SignIn({ onIn, again }: { onIn: (me: Me) => void; again?: boolean }) {
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const [forgot, setForgot] = useState(false);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    try {
      onIn(await signIn(String(form.get("email")).trim(), String(form.get("password"))));
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className="grid min-h-full place-items-center p-6">
      <form className="w-full max-w-sm" onSubmit={(e) => void submit(e)}>
        <div className="mb-1 flex items-center gap-3">
          <Mark size={44} />
          <h1 className="text-3xl">Bright Satchel</h1>
        </div>
        <p className="stitch-b mb-5 pb-4 text-ink-soft">
          {again
            ? "You were signed out. Sign in again; what is on its way goes on."
            : "Your brand's pictures, carried to where they are needed."}
        </p>
        <div className="space-y-3">
          <TextField label="E-mail" name="email" type="email" autoComplete="username" required autoFocus />
          <TextField label="Password" name="password" type="password" autoComplete="current-password" required problem={problem} />
          <Button type="submit" tone="main" className="w-full" disabled={busy}>
            Sign in
          </Button>
          <button type="button" className="text-sea underline" onClick={() => setForgot(true)}>
            I forgot my password
          </button>
        </div>
      </form>
      {forgot && <ForgottenDialog onClose={() => setForgot(false)} />}
    </main>
  );
}
