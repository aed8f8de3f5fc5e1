import { Dialog as Radix } from "radix-ui";
import { useState, type FormEvent } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { messageOf } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextField } from "~/kit/Field";
import { introduce } from "./acts";
import { useAsked } from "./talk";
import { fill, words } from "./words";

/** NameDialog asks a guest once what they are called, and then does what they wanted. */
export function NameDialog({ code, brand }: { code: string; brand: string }) {
  const then = useAsked((s) => s.then);
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string>();
  if (!then) return null;
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    try {
      await introduce(code, String(new FormData(event.currentTarget).get("name")));
      await cache.invalidateQueries({ queryKey: ["talk"] });
      useAsked.setState({ then: undefined });
      then();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Radix.Root open onOpenChange={(open) => !open && useAsked.setState({ then: undefined })}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-50 bg-shade" />
        <Radix.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 w-[min(24rem,calc(100%-2rem))] -translate-1/2 rounded-xl bg-card p-5 text-ink shadow-xl"
        >
          <Radix.Title className="mb-1 text-lg">{words.yourName}</Radix.Title>
          <p className="mb-3 text-ink-soft">{fill(words.nameWhy, { brand })}</p>
          <form onSubmit={(e) => void submit(e)}>
            <TextField label={words.yourName} name="name" required autoFocus maxLength={80} problem={problem} autoComplete="name" />
            <Button type="submit" tone="main" className="mt-3">
              {words.nameGo}
            </Button>
          </form>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
