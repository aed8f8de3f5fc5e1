import { ArrowDown, ArrowUp, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { messageOf } from "~/api/client";
import { useStages } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { TextField } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { changeStage, makeStage, removeStage } from "./acts";

/** StagesSettings is the stages that items of a brand go through, in their order. Names are saved as one types them. */
export function StagesSettings({ brand }: { brand: string }) {
  const stages = useStages(brand).data ?? [];
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const add = async (event: React.FormEvent) => {
    event.preventDefault();
    if (!name.trim()) return;
    try {
      await makeStage(brand, name);
      setName("");
      setProblem(undefined);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <section>
      <h2 className="mb-1 text-base">Stages</h2>
      <p className="mb-2 text-dense text-ink-soft">
        Where an item is on its way, in your words. Files can bring theirs along as the label.
      </p>
      <ul className="mb-2 space-y-1.5">
        {stages.map((s, i) => (
          <li key={s.id} className="flex items-end gap-1" data-stage={s.name}>
            <div className="min-w-0 flex-1">
              <SavedField
                label={`Stage ${i + 1}`}
                value={s.name}
                maxLength={60}
                check={(text) => (text.trim() ? undefined : "A stage needs a name.")}
                onSave={(text) => changeStage(brand, s.id, { name: text })}
              />
            </div>
            <IconButton
              label={`Move “${s.name}” up`}
              icon={<ArrowUp size={16} />}
              disabled={i === 0}
              onClick={() => void changeStage(brand, s.id, { place: i - 1 }).catch((e: unknown) => setProblem(messageOf(e)))}
            />
            <IconButton
              label={`Move “${s.name}” down`}
              icon={<ArrowDown size={16} />}
              disabled={i === stages.length - 1}
              onClick={() => void changeStage(brand, s.id, { place: i + 1 }).catch((e: unknown) => setProblem(messageOf(e)))}
            />
            <IconButton label={`Remove “${s.name}”`} icon={<Trash2 size={16} />} onClick={() => void removeStage(brand, s.id)} />
          </li>
        ))}
      </ul>
      <form className="flex items-end gap-2" data-new-stage onSubmit={(e) => void add(e)}>
        <div className="min-w-0 flex-1">
          <TextField
            label="Another stage"
            value={name}
            maxLength={60}
            problem={problem}
            autoComplete="off"
            onChange={(e) => setName(e.target.value)}
          />
        </div>
        <Button type="submit" icon={<Plus size={16} />} disabled={!name.trim()}>
          Add
        </Button>
      </form>
    </section>
  );
}
