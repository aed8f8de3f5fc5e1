import { useState, type FormEvent } from "react";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { TextArea } from "~/kit/Field";
import { remark, unsay } from "./acts";
import { useDoing, type Talk } from "./talk";
import { fill, words } from "./words";

type Remark = Schema["Remark"];

/** pointsOf are the remarks on points of a picture, numbered from 1 in their order. */
export const pointsOf = (talk: Talk | undefined, picture: string) =>
  (talk?.remarks ?? []).filter((r) => r.picture === picture && r.x !== undefined);

/** Remarks are what was said about a picture, and what else one has to say. Point is where a new remark points to. */
export function Remarks({
  code,
  talk,
  picture,
  brand,
  point,
  pointing,
  setPointing,
}: {
  code: string;
  talk: Talk;
  picture: string;
  brand: string;
  point?: { x: number; y: number };
  pointing: boolean;
  setPointing: (on: boolean) => void;
}) {
  const doing = useDoing();
  const [text, setText] = useState("");
  const [answers, setAnswers] = useState<Remark>();
  const mine = talk.remarks.filter((r) => r.picture === picture);
  const points = pointsOf(talk, picture);
  const send = (event: FormEvent) => {
    event.preventDefault();
    if (!text.trim()) return;
    doing(async () => {
      await remark(code, { picture, words: text, ...(answers ? { answers: answers.id } : point) });
      setText("");
      setAnswers(undefined);
      setPointing(false);
    });
  };
  const under = (r: Remark) => mine.filter((a) => a.answers === r.id);
  const one = (r: Remark, depth: number) => (
    <li key={r.id} data-remark={r.id} className={depth ? "mt-2 ml-4 border-l-2 border-line pl-3" : "border-t border-line pt-2"}>
      <p className="text-dense text-ink-soft">
        {points.includes(r) && (
          <span className="mr-1.5 inline-grid size-5 place-items-center rounded-full bg-saffron text-small font-semibold text-on-saffron">
            {points.indexOf(r) + 1}
          </span>
        )}
        <span className="font-medium text-ink">{r.name}</span>
        {r.team && ` ${fill(words.team, { brand })}`}
        {" · "}
        {new Date(r.at).toLocaleString(words.locale, { dateStyle: "medium", timeStyle: "short" })}
      </p>
      <p className="break-words whitespace-pre-line">{r.words}</p>
      <p className="flex gap-3 text-dense">
        {talk.mayRemark && depth < 3 && (
          <button type="button" className="underline" onClick={() => setAnswers(r)}>
            {words.answer}
          </button>
        )}
        {r.mine && (
          <button type="button" className="underline" onClick={() => doing(() => unsay(code, r.id))}>
            {words.unsay}
          </button>
        )}
      </p>
      {under(r).length > 0 && <ul>{under(r).map((a) => one(a, depth + 1))}</ul>}
    </li>
  );
  return (
    <section aria-label={words.remarks} className="space-y-2" data-remarks>
      <ul className="space-y-2">{mine.filter((r) => !mine.some((o) => o.id === r.answers)).map((r) => one(r, 0))}</ul>
      {talk.mayRemark && (
        <form onSubmit={send} className="space-y-2 border-t border-line pt-2">
          <TextArea
            label={answers ? fill(words.answerTo, { name: answers.name }) : words.remark}
            value={text}
            rows={2}
            maxLength={2000}
            onKeyDown={(e) => e.stopPropagation()} // arrows belong to the text
            onChange={(e) => setText(e.target.value)}
          />
          {pointing && !point && <p className="text-dense">{words.choosePoint}</p>}
          <div className="flex flex-wrap gap-2">
            <Button type="submit" tone="main" disabled={!text.trim()}>
              {words.say}
            </Button>
            {!answers && (
              <Button aria-pressed={pointing} onClick={() => setPointing(!pointing)}>
                {pointing ? words.noPoint : words.onPoint}
              </Button>
            )}
          </div>
        </form>
      )}
    </section>
  );
}
