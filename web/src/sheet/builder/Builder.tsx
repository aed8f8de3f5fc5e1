import { useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { changeRule, keepByRule } from "~/api/acts";
import { prefer, preferences } from "~/api/preferences";
import { useRuleCounts } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { tell } from "~/kit/notes";
import { items } from "~/kit/words";
import type { Rule } from "../filters";
import { useBrand, useGo, usePlace } from "../place";
import { Group } from "./Group";
import { asGroup, flat, isPersonal, tidy } from "./tree";

type Asked = "album" | "search";

/** Builder puts a filter together out of groups, saying at once how many items each part finds. What was built is shown, kept as a
 * rule album or as a search of one's own, or becomes the rule of an album that is there. */
export function Builder({
  from,
  album,
  mayKeep,
  onClose,
}: {
  from?: Rule;
  album?: Schema["Album"];
  mayKeep: boolean;
  onClose: () => void;
}) {
  const brand = useBrand();
  const place = usePlace();
  const { goTo, change } = useGo();
  const [tree, setTree] = useState<Rule>(() => asGroup(from));
  const [asked, setAsked] = useState<Asked>();
  const where = album ? ({ place: "everything" } as const) : { ...place, filter: undefined };
  const parts = flat(tree).filter((p) => tidy(p.rule));
  const found = useRuleCounts(
    brand,
    where,
    parts.map((p) => tidy(p.rule)!),
  );
  const counts = new Map(parts.map((p, i) => [p.key, found.data?.items[i] ?? 0]));
  if (!found.data) counts.clear();
  const whole = tidy(tree);
  const total = whole ? counts.get("") : undefined;
  const said = whole && found.data?.said[0];
  const show = () => {
    change({ filter: whole && asGroup(whole).match === "all" ? whole : whole && { match: "all", rules: [whole] } });
    onClose();
  };
  return (
    <Dialog wide title={album ? `The rule of “${album.name}”` : "Build a filter"} onClose={onClose}>
      <div className="space-y-4" data-builder>
        <Group tree={tree} way={[]} rule={tree} counts={counts} onTree={setTree} />
        {isPersonal(whole) && (
          <p className="text-small text-ink-soft" data-personal="">
            “My keepers” are those of whoever looks: each person sees their own.
          </p>
        )}
        <p role="status" className="stitch-t pt-3">
          {found.error ? (
            <span className="text-tomato">{messageOf(found.error)}</span>
          ) : said ? (
            <>
              Shows: <span className="font-medium">{said}</span>
            </>
          ) : (
            "Add a condition to begin."
          )}
        </p>
        {!asked && (
          <div className="flex flex-wrap gap-2">
            {album ? (
              <Keep brand={brand} rule={whole} album={album} onClose={onClose} />
            ) : (
              <>
                <Button tone="main" disabled={!whole} onClick={show}>
                  {total === undefined ? "Show them" : `Show ${items(total)}`}
                </Button>
                {mayKeep && (
                  <Button disabled={!whole} onClick={() => setAsked("album")}>
                    Keep as a rule album…
                  </Button>
                )}
                <Button disabled={!whole} onClick={() => setAsked("search")}>
                  Keep for myself…
                </Button>
              </>
            )}
          </div>
        )}
        {asked === "album" && <Keep brand={brand} rule={whole} onClose={onClose} />}
        {asked === "search" && (
          <Named
            label="What to call the search"
            does="Keep it"
            onName={(name) => {
              const others = (preferences().searches ?? []).filter((s) => s.name !== name);
              prefer(brand, { searches: [...others, { name, query: { ...where, filter: whole } }] });
              tell(`Kept the search “${name}”`, { label: "Open it", run: () => goTo({ ...where, filter: whole }) });
              onClose();
            }}
          />
        )}
      </div>
    </Dialog>
  );
}

/** Keep makes a rule album, or gives one another rule. */
function Keep({ brand, rule, album, onClose }: { brand: string; rule?: Rule; album?: Schema["Album"]; onClose: () => void }) {
  const { goTo } = useGo();
  const [pick, setPick] = useState(album?.pick ?? 0);
  const [problem, setProblem] = useState<string>();
  const some = (
    <label className="flex items-center gap-2">
      <input type="checkbox" className="size-4 accent-sea" checked={pick > 0} onChange={(e) => setPick(e.target.checked ? 20 : 0)} />
      Show only
      <input
        type="number"
        aria-label="How many at random"
        min={1}
        max={10_000}
        disabled={pick === 0}
        className="w-20 rounded-patch border border-line-strong bg-card px-2 py-1 disabled:opacity-55"
        value={pick || 20}
        onChange={(e) => Number(e.target.value) >= 1 && setPick(Math.min(10_000, Math.round(Number(e.target.value))))}
      />
      of them, others each day
    </label>
  );
  if (album)
    return (
      <div className="w-full space-y-3">
        {some}
        <Button
          tone="main"
          disabled={!rule}
          onClick={() => void changeRule(brand, album.id, rule!, pick).then(onClose, (error: unknown) => setProblem(messageOf(error)))}
        >
          Use this rule
        </Button>
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
      </div>
    );
  return (
    <Named
      label="What to call the album"
      does="Make the album"
      problem={problem}
      more={some}
      onName={(name) =>
        void keepByRule(brand, name, rule!, pick).then(
          (done) => {
            onClose();
            goTo({ place: "album", id: done.id! });
          },
          (error: unknown) => setProblem(messageOf(error)),
        )
      }
    />
  );
}

function Named({
  label,
  does,
  problem,
  more,
  onName,
}: {
  label: string;
  does: string;
  problem?: string;
  more?: React.ReactNode;
  onName: (name: string) => void;
}) {
  const [name, setName] = useState("");
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim()) onName(name.trim());
      }}
    >
      <TextField
        label={label}
        value={name}
        maxLength={200}
        autoFocus
        autoComplete="off"
        problem={problem}
        onChange={(e) => setName(e.target.value)}
      />
      {more}
      <Button type="submit" tone="main" disabled={!name.trim()}>
        {does}
      </Button>
    </form>
  );
}
