import { useState, type FormEvent } from "react";
import { messageOf } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { Tips } from "~/kit/IconButton";
import { forgotPassword } from "./acts";

/** ForgottenDialog has a link sent to somebody who forgot their password. Whether anybody has the address is not told. */
export function ForgottenDialog({ onClose }: { onClose: () => void }) {
  const [problem, setProblem] = useState<string>();
  const [sent, setSent] = useState(false);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    try {
      await forgotPassword(String(new FormData(event.currentTarget).get("email")).trim());
      setSent(true);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  if (sent)
    return (
      <Tips>
        <Dialog
          title="Look in your e-mail"
          about="If somebody has that address, an e-mail with a link to choose another password is on its way. The link works for an hour."
          onClose={onClose}
        >
          <Button tone="main" onClick={onClose}>
            Done
          </Button>
        </Dialog>
      </Tips>
    );
  return (
    <Tips>
      <Dialog title="Choose another password" about="We send you a link." onClose={onClose}>
        <form className="space-y-3" onSubmit={(e) => void submit(e)}>
          <TextField label="Your e-mail" name="email" type="email" required autoFocus problem={problem} autoComplete="username" />
          <Button type="submit" tone="main">
            Send me a link
          </Button>
        </form>
      </Dialog>
    </Tips>
  );
}
