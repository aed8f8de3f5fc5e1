import { useNavigate } from "@tanstack/react-router";
import { useState, type FormEvent } from "react";
import { messageOf, type Selection } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { items } from "~/kit/words";
import { rehearse } from "./acts";

/** RehearseDialog begins to try out items as a post or an advertisement, under a name. */
export function RehearseDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  onClose: () => void;
}) {
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const id = await rehearse(brand, name, selection);
      onClose();
      void navigate({ to: "/b/$brand/rehearsals/$id", params: { brand, id: String(id) } });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title={`Try ${items(count)} out as a post`}
      about="Nobody outside sees it. Colleagues can say what they think of it."
      onClose={onClose}
    >
      <form className="space-y-3" onSubmit={(e) => void submit(e)} data-rehearse>
        <TextField
          label="Name of the rehearsal"
          autoFocus
          placeholder="Spring sale, first idea"
          value={name}
          maxLength={200}
          problem={problem}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit" tone="strap" disabled={!name.trim()}>
          Make the rehearsal
        </Button>
      </form>
    </Dialog>
  );
}
