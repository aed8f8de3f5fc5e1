import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useColours } from "~/api/queries";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { TextField } from "~/kit/Field";
import { SavedField } from "~/kit/SavedField";
import { addColour, changeColour, removeColour } from "./acts";

/** ColoursSettings is the colours of a brand's own, by which pictures are found. What is changed saves itself. */
export function ColoursSettings({ brand }: { brand: string }) {
  const colours = useColours(brand).data ?? [];
  const [name, setName] = useState("");
  const [colour, setColour] = useState("#17695f");
  const [problem, setProblem] = useState<string>();
  const add = async (event: React.FormEvent) => {
    event.preventDefault();
    if (!name.trim()) return;
    try {
      await addColour(brand, { name, colour });
      setName("");
      setProblem(undefined);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <section>
      <h2 className="mb-1 text-base">Colours</h2>
      <p className="mb-2 text-dense text-ink-soft">The brand’s own, by name. Under Filter they find the pictures in which they dominate.</p>
      <ul className="mb-2 space-y-1.5">
        {colours.map((c) => (
          <li key={c.id} className="flex items-end gap-2" data-colour={c.name}>
            <Swatch brand={brand} colour={c} onProblem={setProblem} />
            <div className="min-w-0 flex-1">
              <SavedField
                label={`Name of ${c.colour}`}
                value={c.name}
                maxLength={60}
                check={(text) => (text.trim() ? undefined : "A colour needs a name.")}
                onSave={(text) => changeColour(brand, c.id, { name: text, colour: c.colour })}
              />
            </div>
            <IconButton label={`Remove “${c.name}”`} icon={<Trash2 size={16} />} onClick={() => void removeColour(brand, c.id)} />
          </li>
        ))}
      </ul>
      <form className="flex items-end gap-2" data-new-colour onSubmit={(e) => void add(e)}>
        <input
          type="color"
          aria-label="Another colour"
          className="h-9 w-12 rounded border border-line-strong bg-card p-0.5"
          value={colour}
          onChange={(e) => setColour(e.target.value)}
        />
        <div className="min-w-0 flex-1">
          <TextField
            label="Name of another colour"
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

/** Swatch is saved when one has chosen, and not at each colour on the way. */
function Swatch({
  brand,
  colour,
  onProblem,
}: {
  brand: string;
  colour: Schema["BrandColour"];
  onProblem: (problem: string | undefined) => void;
}) {
  const [draft, setDraft] = useState<string>();
  return (
    <input
      type="color"
      aria-label={`Colour of ${colour.name}`}
      className="h-9 w-12 rounded border border-line-strong bg-card p-0.5"
      value={draft ?? colour.colour}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={() => {
        if (draft === undefined || draft === colour.colour) return;
        changeColour(brand, colour.id, { name: colour.name, colour: draft })
          .then(
            () => onProblem(undefined),
            (error: unknown) => onProblem(messageOf(error)),
          )
          .finally(() => setDraft(undefined));
      }}
    />
  );
}
