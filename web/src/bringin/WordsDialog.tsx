import { useState, type FormEvent } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useAlbums, useTags } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, TextArea, TextField } from "~/kit/Field";
import { plural } from "~/kit/words";
import { describeIntake } from "./acts";

type File = Schema["IntakeFile"];

const turns = [
  { value: -1, label: "leave" },
  { value: 90, label: "a quarter to the right" },
  { value: 180, label: "upside down" },
  { value: 270, label: "a quarter to the left" },
  { value: 0, label: "undo" },
] as const;

const commas = (text: string) => text.split(",").flatMap((w) => (w.trim() ? [w.trim()] : []));

/** WordsDialog describes files while they travel, and those of the intake that are in already. What is left empty stays
 * as the files say it. */
export function WordsDialog({
  brand,
  intake,
  files,
  some,
  onClose,
}: {
  brand: string;
  intake: Schema["Intake"];
  files: File[];
  some: boolean;
  onClose: () => void;
}) {
  const albums = useAlbums(brand).data ?? [];
  const tags = useTags(brand).data ?? [];
  const describable = files.filter((f) => !f.sidecar && ["waiting", "arrived", "added"].includes(f.state));
  const one = describable.length === 1 ? describable[0]!.words : {};
  const [words, setWords] = useState({
    title: one.title ?? "",
    description: one.description ?? "",
    alt: one.alt ?? "",
    credit: one.credit ?? "",
    tags: "",
    people: "",
    album: 0,
    turn: -1 as (typeof turns)[number]["value"],
  });
  const [problem, setProblem] = useState<string>();
  const set = (by: Partial<typeof words>) => setWords({ ...words, ...by });
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const said = (text: string) => text.trim() || undefined;
    const body = {
      codes: some ? describable.map((f) => f.code) : undefined,
      words: {
        title: said(words.title),
        description: said(words.description),
        alt: said(words.alt),
        credit: said(words.credit),
        tags: commas(words.tags),
        people: commas(words.people),
        album: words.album || undefined,
        turn: words.turn === -1 ? undefined : words.turn,
      },
    };
    try {
      await describeIntake(brand, intake.id, body);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const people = tags.filter((t) => t.group === "People");
  return (
    <Dialog
      title={some ? `Describe ${plural(describable.length, "file")}` : `Describe all ${plural(describable.length, "file")}`}
      about="You can do this while they upload. What is left empty stays as it is."
      onClose={onClose}
    >
      <form className="space-y-3" onSubmit={(e) => void submit(e)}>
        <TextField
          label="Title"
          autoFocus
          value={words.title}
          problem={problem}
          hint="{n} is the number in the batch, {name} the file name: Spring meet {n}"
          onChange={(e) => set({ title: e.target.value })}
          autoComplete="off"
        />
        <TextArea label="Alt text" rows={2} value={words.alt} onChange={(e) => set({ alt: e.target.value })} />
        <TextField
          label="Tags"
          value={words.tags}
          list="intake-tags"
          hint="Several with commas"
          onChange={(e) => set({ tags: e.target.value })}
          autoComplete="off"
        />
        <TextField
          label="People"
          value={words.people}
          list="intake-people"
          hint="Several with commas"
          onChange={(e) => set({ people: e.target.value })}
          autoComplete="off"
        />
        <TextField label="Credit" value={words.credit} onChange={(e) => set({ credit: e.target.value })} autoComplete="off" />
        <TextArea label="Description" rows={2} value={words.description} onChange={(e) => set({ description: e.target.value })} />
        <Choice
          label="Album"
          value={words.album}
          options={[{ value: 0, label: "none" }, ...albums.map((a) => ({ value: a.id, label: a.name }))]}
          onChange={(album) => set({ album })}
        />
        <Choice label="Rotation" value={words.turn} options={[...turns]} onChange={(turn) => set({ turn })} />
        <datalist id="intake-tags">
          {tags.map((t) => (
            <option key={t.id} value={t.name} />
          ))}
        </datalist>
        <datalist id="intake-people">
          {people.map((t) => (
            <option key={t.id} value={t.name} />
          ))}
        </datalist>
        <Button type="submit" tone="main" disabled={describable.length === 0}>
          Describe {plural(describable.length, "file")}
        </Button>
      </form>
    </Dialog>
  );
}
