import { X } from "lucide-react";
import { useState } from "react";
import { messageOf, ProblemError, type Schema } from "~/api/client";
import { useTag } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice, TextField } from "~/kit/Field";
import { items, plural } from "~/kit/words";
import { withFacets } from "~/sheet/filters";
import { useGo } from "~/sheet/place";
import { completions } from "~/kit/completion";
import { groupTags, mergeTags, removeTags, renameTag, spellTag, unspellTag } from "./acts";

type Tag = Schema["Tag"];

/** TagCard is everything about one tag, and what can be done with it. */
export function TagCard({
  brand,
  id,
  tags,
  groups,
  spellings,
}: {
  brand: string;
  id: number;
  tags: Tag[];
  groups: Schema["TagGroup"][];
  spellings: Schema["Spelling"][];
}) {
  const { goTo } = useGo();
  const { data: tag, error } = useTag(brand, id);
  if (error) return <p role="alert">{messageOf(error)}</p>;
  if (!tag) return <p className="text-ink-soft">Loading the tag…</p>;
  return (
    <section className="space-y-4">
      <h2 className="text-lg break-words">{tag.name}</h2>
      <p className="text-ink-soft">
        On {items(tag.items)}
        {tag.fromFiles > 0 && `: ${tag.fromFiles.toLocaleString("en-GB")} came with the files`}
        {tag.fromFiles > 0 && tag.items > tag.fromFiles && `, ${(tag.items - tag.fromFiles).toLocaleString("en-GB")} typed here`}
        {tag.folders > 0 && `. On ${plural(tag.folders, "folder")}`}.
      </p>
      <Button
        disabled={tag.items === 0 && tag.folders === 0}
        onClick={() => goTo({ place: "everything", filter: withFacets(undefined, { tag: { how: "any", values: [id] } }) })}
      >
        Show what has it
      </Button>
      <Renaming key={tag.name} brand={brand} tag={tag} />
      <Choice
        label="Group"
        value={tag.group}
        options={[{ value: "", label: "None" }, ...groups.map((g) => ({ value: g.name, label: g.closed ? `${g.name} (closed)` : g.name }))]}
        onChange={(group) => void groupTags(brand, [id], group)}
      />
      <Spellings brand={brand} tag={tag} spellings={spellings} />
      <Merging brand={brand} tag={tag} tags={tags} />
      <div className="border-t border-line pt-3">
        <Button tone="danger" onClick={() => void removeTags(brand, [id])}>
          Remove it from {items(tag.items)}
        </Button>
      </div>
    </section>
  );
}

/** Renaming asks before two tags become one. */
function Renaming({ brand, tag }: { brand: string; tag: Schema["KeptTag"] }) {
  const [name, setName] = useState(tag.name);
  const [problem, setProblem] = useState<string>();
  const [taken, setTaken] = useState(false);
  const rename = async (merge: boolean) => {
    try {
      await renameTag(brand, tag.id, name, merge);
    } catch (error) {
      setProblem(messageOf(error));
      setTaken(error instanceof ProblemError && error.problem.status === 409);
    }
  };
  const changed = name.trim() !== "" && name !== tag.name;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (changed) void rename(false);
      }}
    >
      <TextField
        label="Name"
        value={name}
        maxLength={100}
        autoComplete="off"
        problem={problem}
        onChange={(e) => {
          setName(e.target.value);
          setProblem(undefined);
          setTaken(false);
        }}
        onKeyDown={(e) => {
          if (e.key !== "Escape" || !changed) return;
          setName(tag.name);
          setProblem(undefined);
          setTaken(false);
        }}
      />
      {changed && !taken && (
        <Button type="submit" className="mt-2">
          Rename it on {items(tag.items)}
        </Button>
      )}
      {taken && (
        <Button className="mt-2" onClick={() => void rename(true)}>
          Merge “{tag.name}” into “{name.trim()}”
        </Button>
      )}
    </form>
  );
}

function Spellings({ brand, tag, spellings }: { brand: string; tag: Schema["KeptTag"]; spellings: Schema["Spelling"][] }) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const add = async () => {
    try {
      await spellTag(brand, tag.id, name);
      setName("");
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <div>
      <h3 className="mb-1 text-dense font-medium text-ink-soft">Other spellings</h3>
      <ul className="mb-2 flex flex-wrap gap-1.5">
        {spellings.map((s) => (
          <li key={s.id} className="inline-flex items-center gap-1 rounded-full border border-line bg-sunk py-0.5 pr-1 pl-2.5 text-dense">
            {s.name}
            <button
              type="button"
              aria-label={`Remove the spelling ${s.name}`}
              className="grid size-5 place-items-center rounded-full hover:bg-line"
              onClick={() => void unspellTag(brand, s.id)}
            >
              <X size={13} />
            </button>
          </li>
        ))}
        {spellings.length === 0 && <li className="text-dense text-ink-soft">None</li>}
      </ul>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) void add();
        }}
      >
        <TextField
          label="Add one"
          data-spelling
          hint={`Whoever types it gets “${tag.name}”, and a search for it finds the same.`}
          value={name}
          maxLength={100}
          autoComplete="off"
          problem={problem}
          onChange={(e) => {
            setName(e.target.value);
            setProblem(undefined);
          }}
        />
      </form>
    </div>
  );
}

function Merging({ brand, tag, tags }: { brand: string; tag: Schema["KeptTag"]; tags: Tag[] }) {
  const [typed, setTyped] = useState("");
  const offers = completions(
    typed,
    tags.filter((t) => t.id !== tag.id),
    5,
  );
  return (
    <div>
      <TextField
        label="Merge it into"
        placeholder="Type another tag"
        value={typed}
        autoComplete="off"
        onChange={(e) => setTyped(e.target.value)}
      />
      {offers.length > 0 && (
        <ul className="mt-1 space-y-1" aria-label="Tags to merge into">
          {offers.map((t) => (
            <li key={t.id}>
              <Button onClick={() => void mergeTags(brand, t.id, [tag.id])}>
                Into “{t.name}” ({t.uses.toLocaleString("en-GB")})
              </Button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** SeveralTags merges, groups or removes several tags at once. */
export function SeveralTags({
  brand,
  chosen,
  groups,
  onDone,
}: {
  brand: string;
  chosen: Tag[];
  groups: Schema["TagGroup"][];
  onDone: () => void;
}) {
  const most = chosen.reduce((a, b) => (b.uses > a.uses ? b : a));
  const [into, setInto] = useState(most.id);
  const target = chosen.find((t) => t.id === into) ?? most;
  const others = chosen.filter((t) => t.id !== target.id);
  const ids = chosen.map((t) => t.id);
  return (
    <section className="space-y-4">
      <h2 className="text-lg">{plural(chosen.length, "tag")}</h2>
      <div>
        <Choice
          label="Keep"
          value={target.id}
          options={chosen.map((t) => ({ value: t.id, label: `${t.name} (${t.uses})` }))}
          onChange={setInto}
        />
        <Button
          className="mt-2"
          onClick={() =>
            void mergeTags(
              brand,
              target.id,
              others.map((t) => t.id),
            ).then((done) => done && onDone())
          }
        >
          Merge {others.length === 1 ? `“${others[0]!.name}”` : plural(others.length, "other")} into “{target.name}”
        </Button>
      </div>
      <Choice
        label="Move them to a group"
        value={"?" as string}
        options={[{ value: "?", label: "Choose…" }, { value: "", label: "None" }, ...groups.map((g) => ({ value: g.name, label: g.name }))]}
        onChange={(group) => group !== "?" && void groupTags(brand, ids, group)}
      />
      <Button tone="danger" onClick={() => void removeTags(brand, ids).then((done) => done && onDone())}>
        Remove {plural(chosen.length, "tag")} everywhere
      </Button>
    </section>
  );
}
