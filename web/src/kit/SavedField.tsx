import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { TextArea, TextField } from "./Field";
import { useTyped } from "./typed";

/**
 * SavedField is a line, a text or a day that saves itself: with Enter (a line or a day), when one leaves it, and when what it
 * belongs to closes. A day is saved as well when it is complete and nobody types any more. Escape takes back what is not saved.
 */
export function SavedField({
  label,
  value,
  kind = "line",
  keepAs,
  check,
  onSave,
  ...rest
}: {
  label: string;
  value: string;
  kind?: "line" | "text" | "day";
  hint?: string;
  placeholder?: string;
  maxLength?: number;
  /** What the field is of, by which what was typed survives a reload. */
  keepAs?: string;
  /** What is against a value, if anything is. */
  check?: (text: string) => string | undefined;
  /** Throws what is against it. */
  onSave: (text: string) => Promise<unknown>;
}) {
  const [draft, setDraft] = useTyped(keepAs, value);
  const [problem, setProblem] = useState<string>();
  const [saved, setSaved] = useState(false);
  const field = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const sent = useRef<string>(undefined);
  const unsaved = draft !== undefined && draft !== value && draft !== sent.current;

  const against = (text: string) => (field.current?.validity.badInput ? "Type the whole date." : check?.(text));
  const save = async () => {
    if (draft === undefined) return;
    const wrong = against(draft);
    setProblem(wrong);
    if (wrong || !unsaved) return;
    const before = sent.current;
    sent.current = draft; // whoever leaves the field while it saves does not save again
    try {
      await onSave(draft);
      setSaved(true);
    } catch (error) {
      sent.current = before;
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  const latest = useRef(save);
  useEffect(() => {
    latest.current = save;
  });
  useEffect(() => () => void latest.current(), []);
  useEffect(() => {
    setDraft((d) => (d === sent.current ? undefined : d)); // what was saved has arrived, or somebody has changed it since
    sent.current = undefined;
  }, [value, setDraft]);
  useEffect(() => {
    if (kind !== "day" || !unsaved || against(draft)) return;
    const timer = setTimeout(() => void latest.current(), 1500);
    return () => clearTimeout(timer);
  });

  const shared = {
    label: unsaved ? `${label} · not saved yet` : saved ? `${label} · Saved` : label,
    "aria-label": label,
    problem,
    value: draft ?? value,
    "data-unsaved": unsaved || undefined,
    ref: field,
    onChange: (e: { target: { value: string } }) => {
      setDraft(e.target.value);
      setProblem(undefined);
      setSaved(false);
    },
    onBlur: () => void save(),
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key === "Enter" && kind !== "text") void save();
      if (e.key === "Escape" && unsaved) {
        setDraft(undefined);
        setProblem(undefined);
        e.stopPropagation();
      }
    },
    ...rest,
  };
  return kind === "text" ? (
    <TextArea rows={3} {...shared} />
  ) : (
    <TextField type={kind === "day" ? "date" : "text"} autoComplete="off" {...shared} />
  );
}

/** today is the present day here, as 2026-12-31. */
export const today = (now = new Date()) =>
  `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, "0")}-${String(now.getDate()).padStart(2, "0")}`;
