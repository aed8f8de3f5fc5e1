import { useQuery, keepPreviousData } from "@tanstack/react-query";
import { useDeferredValue, useRef, useState } from "react";
import { messageOf } from "~/api/client";
import { useTags } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Switch, TextField } from "~/kit/Field";
import { items, plural } from "~/kit/words";
import { giveTitles, previewTitles, type Pattern } from "./acts";
import type { ForSelection } from "./selection";

const parts: { part: string; label: string }[] = [
  { part: "{n}", label: "Number" },
  { part: "{folder}", label: "Folder" },
  { part: "{place}", label: "Place" },
  { part: "{day}", label: "17 May 2026" },
  { part: "{date}", label: "2026-05-17" },
  { part: "{month}", label: "May 2026" },
  { part: "{year}", label: "2026" },
  { part: "{name}", label: "File name" },
  { part: "{title}", label: "Present title" },
];

/** TitlesDialog gives many items titles by a pattern, and shows beforehand what becomes what. */
export function TitlesDialog({ brand, selection, count, onClose }: ForSelection) {
  const [text, setText] = useState("{folder} {n}");
  const [start, setStart] = useState("1");
  const [digits, setDigits] = useState("0");
  const [distinct, setDistinct] = useState(true);
  const [fill, setFill] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const groups = [...new Set((useTags(brand).data ?? []).map((t) => t.group).filter(Boolean))];
  const pattern: Pattern = {
    pattern: text,
    start: Math.max(0, Number(start) || 0),
    digits: Math.min(8, Number(digits) || 0),
    distinct,
    fill,
  };
  const asked = useDeferredValue(JSON.stringify(pattern));
  const { data, error } = useQuery({
    queryKey: ["titles", selection, asked],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => previewTitles(brand, selection, JSON.parse(asked) as Pattern),
  });
  const insert = (part: string) => {
    const at = field.current?.selectionStart ?? text.length;
    const to = field.current?.selectionEnd ?? at;
    setText(text.slice(0, at) + part + text.slice(to));
    requestAnimationFrame(() => {
      field.current?.focus();
      field.current?.setSelectionRange(at + part.length, at + part.length);
    });
  };
  const same = data?.titles.filter((t) => t.was === t.becomes).length ?? 0;
  const give = () => {
    onClose();
    void giveTitles(brand, selection, pattern);
  };
  return (
    <Dialog wide title={`Titles for ${items(count)}`} about="The original file names stay, and are found too." onClose={onClose}>
      <TextField
        ref={field}
        label="Pattern"
        value={text}
        maxLength={300}
        autoFocus
        autoComplete="off"
        problem={error ? messageOf(error) : undefined}
        onChange={(e) => setText(e.target.value)}
      />
      <div className="mt-2 flex flex-wrap gap-1.5" role="group" aria-label="Parts to put in">
        {[...parts, ...groups.map((g) => ({ part: `{tag ${g}}`, label: `${g} tags` }))].map((p) => (
          <button
            key={p.part}
            type="button"
            className="rounded-full border border-line px-2.5 py-0.5 text-dense hover:bg-sunk"
            title={p.part}
            onClick={() => insert(p.part)}
          >
            {p.label}
          </button>
        ))}
      </div>
      <div className="mt-3 grid grid-cols-2 gap-3">
        <TextField label="First number" inputMode="numeric" value={start} onChange={(e) => setStart(e.target.value.replace(/\D/g, ""))} />
        <TextField
          label="Digits, at least"
          inputMode="numeric"
          value={digits}
          onChange={(e) => setDigits(e.target.value.replace(/\D/g, ""))}
        />
      </div>
      <div className="mt-2">
        <Switch label="No two titles the same (they end in the number)" checked={distinct} onChange={setDistinct} />
        <Switch label="Only where there is no title yet" checked={fill} onChange={setFill} />
      </div>
      <div className="mt-3 max-h-[26vh] overflow-y-auto" tabIndex={0} role="group" aria-label="Titles">
        <table className="w-full table-fixed text-dense" aria-label="What becomes what">
          <thead>
            <tr className="text-left text-ink-soft">
              <th className="py-1 pr-2 font-medium">Title now</th>
              <th className="py-1 font-medium">Becomes</th>
            </tr>
          </thead>
          <tbody>
            {data?.titles.slice(0, 30).map((t) => (
              <tr key={t.id} className="border-t border-line align-top">
                <td className="py-1 pr-2 break-words text-ink-soft">{t.was || "–"}</td>
                <td className="py-1 break-words">{t.was === t.becomes ? <span className="text-ink-soft">stays</span> : t.becomes}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {data && data.items > 30 && <p className="mt-1 text-dense text-ink-soft">… and {items(data.items - 30)} more</p>}
      <div className="mt-4">
        <Button tone="main" disabled={!data || !!error || (data.items <= data.titles.length && same === data.items)} onClick={give}>
          Give {plural(data?.items ?? count, "title")}
        </Button>
      </div>
    </Dialog>
  );
}
