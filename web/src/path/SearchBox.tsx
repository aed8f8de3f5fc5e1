import { Search } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { meansDays, queries, ruleOffersQuery, useRuleOffers } from "~/api/queries";
import { useKeys } from "~/kit/keys";
import { OfferList, useOffers } from "~/kit/Offers";
import { items } from "~/kit/words";
import { withCondition, withRule, withWords, wordsOf } from "~/sheet/filters";
import { useBrand, useGo, usePlace } from "~/sheet/place";

/** How long one pauses before what was typed is searched for, in milliseconds. */
const pause = 250;

/** SearchBox looks for words in the present place as they are typed, and offers the conditions that they may mean. */
export function SearchBox() {
  const brand = useBrand();
  const place = usePlace();
  const { change } = useGo();
  const filter = place.filter;
  const shown = wordsOf(filter) ?? "";
  const [words, setWords] = useState(shown);
  const [listed, setListed] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const typed = useRef(false);
  useEffect(() => {
    // what says the same stays as it was typed: the space after a word is for the next one
    if (!typed.current) setWords((now) => ((wordsOf(withWords(undefined, now)) ?? "") === shown ? now : shown));
  }, [shown]);
  useEffect(() => {
    if (!typed.current) return;
    const timer = setTimeout(() => {
      typed.current = false;
      change({ filter: withWords(filter, words) });
    }, pause);
    return () => clearTimeout(timer);
  }, [words, change, filter]);
  const others = withCondition(filter, "words");
  const asked = { place: place.place, id: place.id, below: place.below, filter: others };
  const found = useRuleOffers(brand, asked, listed ? words.trim() : "");
  const offers = listed && words.trim().length > 1 ? (found.data ?? []) : [];
  const state = useOffers(offers.length, -1);
  const pick = ({ rule, rest }: (typeof offers)[number]) => {
    typed.current = false;
    setWords(rest);
    setListed(false);
    change({ filter: withRule(withWords(others, rest), rule) });
    field.current?.focus();
  };
  /** enter takes a day, month or season that was typed for that, and anything else for the words that it is. */
  const enter = async () => {
    setListed(false);
    const text = words.trim();
    const pending = typed.current;
    typed.current = false; // the pause is over
    const meant =
      text.length > 1 ? await queries.fetchQuery({ ...ruleOffersQuery(brand, asked, text), staleTime: 2000 }).catch(() => []) : [];
    const days = meansDays(meant[0]);
    if (typed.current) return; // typed on meanwhile
    if (days) pick(days);
    else if (pending) change({ filter: withWords(filter, words) });
  };
  useKeys("Everywhere", [{ press: "/", does: "search", run: () => field.current?.focus() }]);
  return (
    <form
      role="search"
      className="relative w-40 min-w-20 max-md:ml-auto max-lg:w-28"
      onSubmit={(e) => {
        e.preventDefault();
        void enter();
      }}
    >
      <input
        {...state.field}
        ref={field}
        type="search"
        aria-label="Search this place"
        placeholder="Search"
        className="w-full rounded-patch border border-line bg-paper py-1 pr-8 pl-2.5 placeholder:text-ink-soft"
        value={words}
        onChange={(e) => {
          typed.current = true;
          setWords(e.target.value);
          setListed(true);
          state.restart();
        }}
        onBlur={() => setListed(false)}
        onKeyDown={(e) => {
          if (e.key === "Enter") {
            if (state.at >= 0) pick(offers[state.at]!);
            else void enter();
          } else if (e.key === "Escape") {
            if (offers.length > 0) setListed(false);
            else e.currentTarget.blur();
          } else if (e.key === "ArrowDown" && !listed) setListed(true);
          else if (!state.moved(e.key)) return;
          e.preventDefault();
        }}
      />
      <button
        type="submit"
        aria-label="Search"
        title="Search"
        className="absolute inset-y-0 right-0 grid w-8 place-items-center rounded-patch text-ink-soft hover:text-ink"
        onMouseDown={(e) => {
          e.preventDefault(); // the field keeps the focus
          field.current?.focus();
        }}
      >
        <Search size={16} />
      </button>
      <OfferList
        offers={offers.map((o) => ({
          key: JSON.stringify(o.rule),
          name: o.rest ? `“${o.rest}”, ${o.said}` : o.said,
          beside: items(o.items),
        }))}
        state={state}
        label="What this may mean"
        className="absolute right-0 z-40 w-80 max-w-[calc(100vw-1rem)] shadow-xl"
        onPick={(at) => pick(offers[at]!)}
      />
    </form>
  );
}
