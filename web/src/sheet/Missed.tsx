import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Schema, type SheetQuery } from "~/api/client";
import { Button } from "~/kit/Button";
import { missed } from "./acts";
import { useRuleOffers } from "~/api/queries";
import { nameOfRule, withCondition, withoutRule, withRule, withWords, wordsOf } from "./filters";
import { useMeant } from "./reasons";
import { useBrand, useGo, usePlace } from "./place";

/** Missed offers, where a search shows nothing, the nearest words that items say, and what to leave out. */
export function Missed({ query }: { query: SheetQuery }) {
  const brand = useBrand();
  const { change } = useGo();
  const filter = usePlace().filter;
  const { data } = useQuery({
    queryKey: ["sheet", brand, "miss", query],
    queryFn: () => missed(brand, query),
  });
  const words = wordsOf(filter) ?? "";
  const others = withCondition(filter, "words");
  const read = useRuleOffers(brand, { ...query, filter: others }, words);
  const conditions = read.data?.filter((o) => o.items > 0) ?? [];
  const looked = words.length < 2 || (read.data !== undefined && !read.isPlaceholderData);
  useEffect(() => {
    // what is a condition by itself, such as a day, is not put right as a slip of the pen
    const meant = data?.certain && looked && !conditions[0]?.sure ? data.meant : undefined;
    if (!meant || meant === words || useMeant.getState().asTyped.has(words)) return;
    useMeant.setState({ typed: words, meant });
    change({ filter: withCondition(filter, "words", { names: [meant] }) });
    // once the answer is there, and not whenever the way to go there changes
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [data, looked]);
  if (!data) return null;
  const say = (text: string) => change({ filter: withCondition(filter, "words", text ? { names: [text] } : undefined) });
  const lost = data.words.filter((w) => w.nearest.length === 0);
  const instead = (word: string, other: string) =>
    lost.reduce((text, l) => (l.word === word ? text : replaced(text, l.word, "")), replaced(words, word, other));
  const loosen = (l: Schema["Loosened"]) => (l.word ? say(replaced(words, l.word, "")) : change({ filter: withoutRule(filter, l.rule) }));
  const offers = data.words.flatMap((w) => w.nearest.map((n) => ({ ...n, text: instead(w.word, n.word) })));
  return (
    <div className="w-full space-y-3" data-missed>
      {data.words.length > 0 && <p>Nothing says {data.words.map((w) => `“${w.word}”`).join(" or ")}.</p>}
      {offers.length > 0 && (
        <div className="flex flex-wrap items-center justify-center gap-2">
          Did you mean
          {offers.map((n) => (
            <Button key={n.text} onClick={() => say(n.text)}>
              {n.text} <span className="text-ink-soft">{n.items.toLocaleString("en-GB")}</span>
            </Button>
          ))}
        </div>
      )}
      {conditions.length > 0 && (
        <div className="flex flex-wrap items-center justify-center gap-2">
          Or, instead of the words,
          {conditions.map((o) => (
            <Button key={JSON.stringify(o.rule)} onClick={() => change({ filter: withRule(withWords(others, o.rest), o.rule) })}>
              {o.rest ? `“${o.rest}”, ${o.said}` : o.said} <span className="text-ink-soft">{o.items.toLocaleString("en-GB")}</span>
            </Button>
          ))}
        </div>
      )}
      {data.without.length > 0 && (
        <div className="flex flex-wrap items-center justify-center gap-2">
          {data.without.map((l) => (
            <Button key={`${l.rule} ${l.word ?? ""}`} tone="quiet" onClick={() => loosen(l)}>
              without {l.word ? `“${l.word}”` : nameOfRule(filter?.rules?.[l.rule])}:{" "}
              <span className="text-ink-soft">{l.items.toLocaleString("en-GB")}</span>
            </Button>
          ))}
        </div>
      )}
    </div>
  );
}

/** replaced puts a word in place of another one among several. */
function replaced(words: string, word: string, other: string) {
  const all = words.split(/\s+/);
  const at = all.indexOf(word);
  if (at < 0) return words.replace(word, other).trim(); // a phrase
  return all
    .map((w, i) => (i === at ? other : w))
    .filter(Boolean)
    .join(" ");
}
