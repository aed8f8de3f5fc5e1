import { useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import { useQuery } from "@tanstack/react-query";
import { messageOf, told, type Schema, type Selection } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextArea, TextField } from "~/kit/Field";
import { warn } from "~/kit/notes";
import { items } from "~/kit/words";
import { type How, textsOf, writeWords } from "./acts";
import { type FieldShown, shown } from "./fields";

/** ManyField is one field of a selection. Where all say the same, or nothing, it saves itself as the field of one item does;
 * where they differ it asks in numbers what becomes of what is there. */
export function ManyField({
  brand,
  selection,
  count,
  field,
  summary,
}: {
  brand: string;
  selection: Selection;
  count: number;
  field: FieldShown;
  /** How far they agree; undefined when there are too many to compare. */
  summary: Schema["SharedWord"] | undefined;
}) {
  const [draft, setDraft] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const [saved, setSaved] = useState(false);
  const [listed, setListed] = useState(false);
  const input = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const question = useRef<HTMLDivElement>(null);
  const questionId = useId();
  const now = shown(field.name, summary?.same ?? "");
  const differs = !summary || summary.different > 1;
  const different = summary ? summary.different - (summary.empty > 0 ? 1 : 0) : 0; // the empty one is no text
  const filled = (count - (summary?.empty ?? 0)).toLocaleString("en-GB");
  const typed = draft !== undefined && draft !== now;
  const worded = field.kind === "line" || field.kind === "text";
  const sending = useRef(false);

  const write = async (how: How) => {
    if (draft === undefined || sending.current) return;
    if (input.current?.validity.badInput) return setProblem("Type the whole date.");
    sending.current = true;
    try {
      told(brand, await writeWords(brand, selection, field.name, how, draft));
      setDraft(undefined);
      setSaved(true);
    } catch (error) {
      setProblem(messageOf(error));
    }
    sending.current = false;
  };
  const waiting = useRef<string>(undefined);
  useEffect(() => {
    waiting.current = differs && typed ? draft : undefined;
  });
  useEffect(
    () => () => {
      if (waiting.current) warn(`Not written: “${waiting.current}”. It asks first what becomes of the different ${field.many}.`);
    },
    [field.many],
  );
  const leave = () => {
    setDraft(undefined);
    setProblem(undefined);
  };
  const props = {
    label: saved && !typed ? `${field.label} · Saved` : field.label,
    "aria-label": field.label,
    "aria-describedby": differs && typed ? questionId : undefined,
    hint: field.hint,
    problem,
    value: draft ?? now,
    placeholder: !differs ? field.placeholder : different === 1 ? `Filled in for ${filled} of ${items(count)}` : "Different",
    "data-unsaved": typed || undefined,
    ref: input,
    onChange: (e: { target: { value: string } }) => {
      setDraft(e.target.value);
      setProblem(undefined);
      setSaved(false);
    },
    onBlur: () => typed && !differs && void write("replace"),
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key === "Enter" && (field.kind !== "text" || e.ctrlKey)) {
        e.preventDefault();
        if (typed && differs) question.current?.querySelector("button")?.focus();
        else if (typed) void write("replace");
      }
      if (e.key === "Escape" && draft !== undefined) {
        leave();
        e.stopPropagation();
      }
    },
  };
  return (
    <div data-field={field.name}>
      {field.kind === "text" ? (
        <TextArea rows={2} {...props} />
      ) : (
        <TextField type={field.kind === "day" ? "date" : "text"} autoComplete="off" {...props} />
      )}
      {differs && typed && (
        <div ref={question} id={questionId} className="mt-1 rounded-patch bg-saffron-wash p-2 text-dense" role="group">
          <p>{whatIsThere(field, different, summary?.empty ?? 0, count)}</p>
          <div className="mt-1 flex flex-wrap gap-1.5">
            {!!draft && !!summary?.empty && (
              <Button onClick={() => void write("fill")}>Fill in the {summary.empty.toLocaleString("en-GB")}</Button>
            )}
            <Button onClick={() => void write("replace")}>{draft ? `Replace ${filled}` : `Empty ${items(count)}`}</Button>
            {worded && draft && <Button onClick={() => void write("before")}>Put it before</Button>}
            {worded && draft && <Button onClick={() => void write("after")}>Put it after</Button>}
            <Button tone="quiet" onClick={leave}>
              Leave them
            </Button>
          </div>
        </div>
      )}
      {summary && summary.different > 1 && (
        <div className="mt-1">
          <button type="button" className="text-dense text-sea underline" aria-expanded={listed} onClick={() => setListed(!listed)}>
            {different === 1 ? `${filled} filled in` : `${different.toLocaleString("en-GB")} different ${field.many}`}
            {summary.empty > 0 && ", "}
            {summary.empty > 0 && `${summary.empty.toLocaleString("en-GB")} empty`}
          </button>
          {listed && <Texts brand={brand} selection={selection} field={field} onTake={setDraft} />}
        </div>
      )}
    </div>
  );
}

function whatIsThere(field: FieldShown, different: number, empty: number, count: number) {
  if (different === 0) return `${items(count)} may have ${field.many} of their own.`;
  const texts = different === 1 ? "one already" : `${different.toLocaleString("en-GB")} different ${field.many}`;
  const none = `${empty.toLocaleString("en-GB")} ${empty === 1 ? "has" : "have"} none`;
  const those = count - empty === 1 ? "1 has" : `${(count - empty).toLocaleString("en-GB")} have`;
  return `${those} ${texts}${empty > 0 ? `, ${none}` : ""}.`;
}

/** Texts are what the items say in one field, with how many say it; one of them can be taken for all. */
function Texts({
  brand,
  selection,
  field,
  onTake,
}: {
  brand: string;
  selection: Selection;
  field: FieldShown;
  onTake: (text: string) => void;
}) {
  const { data, error } = useQuery({
    queryKey: ["texts", selection, field.name],
    queryFn: () => textsOf(brand, selection, field.name),
  });
  if (error) return <p role="alert">{messageOf(error)}</p>;
  if (!data) return <p className="text-dense text-ink-soft">Reading them…</p>;
  return (
    <ul className="mt-1 max-h-56 overflow-y-auto rounded-patch border border-line text-dense" aria-label={`Different ${field.many}`}>
      {data.map((t) => (
        <li key={t.text} className="flex items-start gap-2 border-b border-line px-2 py-1 last:border-0">
          <span className="min-w-0 flex-1 break-words">{t.text ? shown(field.name, t.text) : <i className="text-ink-soft">empty</i>}</span>
          <span className="text-ink-soft">{t.items.toLocaleString("en-GB")}</span>
          {t.text && (
            <button type="button" className="text-sea underline" onClick={() => onTake(shown(field.name, t.text))}>
              Take it
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
