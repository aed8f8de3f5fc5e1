import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { messageOf, ProblemError, type Asset } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextArea, TextField } from "~/kit/Field";
import { useTyped } from "~/kit/typed";
import { describe } from "./acts";
import { type FieldShown, questionOf, textOf } from "./fields";

/** Words is one text of an item. It saves itself when one leaves it or stops typing, and says when somebody else has
 * written there meanwhile. */
export function Words({ brand, asset, field, may }: { brand: string; asset: Asset; field: FieldShown; may: boolean }) {
  const { name, label, kind } = field;
  const now = textOf(asset, name);
  const [draft, setDraft] = useTyped(`${brand} ${asset.id} ${name}`, now);
  const [state, setState] = useState<"" | "saved">("");
  const [problem, setProblem] = useState<ProblemError["problem"] | { detail: string; theirs?: undefined }>();
  const revision = useRef(asset.revision);
  const input = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const typing = draft !== undefined;
  const undecided = problem?.theirs !== undefined; // nothing is written until one has said whose words stay
  const turn = useRef(0); // an answer counts only if nothing was written or decided after its question
  useEffect(() => {
    if (!typing) revision.current = asset.revision; // what one sees while typing is what one began from
  }, [typing, asset.revision]);
  const save = async (text: string, from: number) => {
    const mine = ++turn.current;
    try {
      await describe(brand, asset.id, from, name, text);
      if (mine !== turn.current) return;
      setProblem(undefined);
      setState("saved");
      setDraft((d) => (d === text ? undefined : d));
    } catch (error) {
      if (mine !== turn.current) return;
      setProblem(error instanceof ProblemError ? error.problem : { detail: messageOf(error) });
    }
  };
  const latest = useRef(save);
  useEffect(() => {
    latest.current = save;
  });
  useEffect(() => {
    // days and the like are whole only when one leaves them
    if (draft === undefined || draft === now || undecided || kind === "day" || kind === "exact") return;
    const timer = setTimeout(() => void latest.current(draft, revision.current), 900);
    return () => clearTimeout(timer);
  }, [draft, now, kind, undecided]);
  const saveNow = () => {
    if (input.current?.validity.badInput) setProblem({ detail: "Type the whole date." });
    else if (draft !== undefined && draft !== now && !undecided) void save(draft, revision.current);
  };
  if (!may)
    return now ? (
      <div data-field={name}>
        <h3 className="mb-0.5 text-dense font-medium text-ink-soft">{label}</h3>
        <p className="break-words whitespace-pre-wrap">{now}</p>
      </div>
    ) : null;
  const shared = {
    label: state === "saved" && !typing ? `${label} · Saved` : label,
    "aria-label": label,
    hint: (name === "alt" && questionOf(draft ?? now, asset.fileName)) || field.hint,
    placeholder: field.placeholder,
    problem: problem?.detail,
    value: draft ?? now,
    ref: input,
    "data-unsaved": draft !== undefined && draft !== now ? true : undefined,
    onChange: (e: { target: { value: string } }) => {
      setDraft(e.target.value);
      setState("");
    },
    onBlur: saveNow,
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key === "Enter" && kind !== "text") saveNow();
      if (e.key === "Escape" && draft !== undefined && !undecided) {
        turn.current++;
        setDraft(undefined);
        setProblem(undefined);
        e.stopPropagation();
      }
    },
  };
  return (
    <div data-field={name}>
      {kind === "text" ? (
        <TextArea rows={3} {...shared} />
      ) : (
        <TextField type={kind === "day" ? "date" : "text"} autoComplete="off" {...shared} />
      )}
      {undecided && (
        <div className="mt-1 rounded-patch bg-saffron-wash p-2 text-dense">
          <p>It says now: “{problem.theirs}”</p>
          <div className="mt-1 flex gap-2">
            <Button
              onClick={() => {
                turn.current++;
                setDraft(undefined);
                setProblem(undefined);
              }}
            >
              Take theirs
            </Button>
            <Button onClick={() => void save(draft!, asset.revision)}>Keep mine</Button>
          </div>
        </div>
      )}
    </div>
  );
}
