import { useState, type FormEvent } from "react";
import { useQuery } from "@tanstack/react-query";
import { messageOf, type Me } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextField } from "~/kit/Field";
import { Mark } from "~/kit/Mark";
import { exactly } from "~/kit/words";
import { join, viewInvitation } from "./acts";

/** JoinPage is where a link leads with which one chooses a password. */
export function JoinPage({ token, onIn }: { token: string; onIn: (me: Me) => void }) {
  const { data: invitation, error } = useQuery({ queryKey: ["invitation", token], retry: false, queryFn: () => viewInvitation(token) });
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    if (form.get("password") !== form.get("again")) {
      setProblem("The two are not the same.");
      return;
    }
    try {
      onIn(await join(token, String(form.get("password"))));
    } catch (problem) {
      setProblem(messageOf(problem));
    }
  };
  if (error)
    return (
      <main className="grid min-h-full place-items-center p-6">
        <div className="max-w-sm text-center">
          <h1 className="mb-2 text-2xl">This link does not work</h1>
          <p className="mb-4 text-ink-soft">{messageOf(error)}</p>
          <a href="/sign-in" className="text-sea underline">
            Sign in
          </a>
        </div>
      </main>
    );
  if (!invitation) return null;
  return (
    <main className="grid min-h-full place-items-center p-6">
      <form className="w-full max-w-sm" onSubmit={(e) => void submit(e)}>
        <div className="mb-1 flex items-center gap-3">
          <Mark size={44} />
          <h1 className="text-2xl">{invitation.returned ? "Choose a new password" : `Welcome, ${invitation.name}`}</h1>
        </div>
        <p className="stitch-b mb-5 pb-4 text-ink-soft">
          {invitation.returned
            ? `For ${invitation.name} at ${invitation.brandName}.`
            : `You were added to ${invitation.brandName}. Choose a password, and you are in.`}{" "}
          This link works once, until {exactly(invitation.ends)}.
        </p>
        <div className="space-y-3">
          <TextField label="E-mail" value={invitation.email} readOnly autoComplete="username" />
          <TextField
            label="Password"
            name="password"
            type="password"
            required
            autoFocus
            hint="At least 10 characters"
            autoComplete="new-password"
          />
          <TextField label="The same again" name="again" type="password" required problem={problem} autoComplete="new-password" />
          <Button type="submit" tone="main" className="w-full">
            Choose it and sign in
          </Button>
        </div>
      </form>
    </main>
  );
}
