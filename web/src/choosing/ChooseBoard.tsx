import { Bookmark, BookmarkX, CircleSlash, Columns3, Undo2 } from "lucide-react";
import type { AssetRow, Me } from "~/api/client";
import { rows, useRow } from "~/api/rows";
import { useAsset, useOverview, useStages } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Switch } from "~/kit/Field";
import { useKeys } from "~/kit/keys";
import { useSettings } from "~/kit/settings";
import { items } from "~/kit/words";
import { asksForAside, conditionOf, only, withCondition } from "~/sheet/filters";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { useOffer } from "~/sheet/offers";
import { FirstStep } from "~/sheet/FirstStep";
import { useMay } from "~/sheet/rights";
import { unfold } from "~/sheet/piles";
import { asSelection, inOrder, moveCursor, useChosen, useCount } from "~/sheet/selection";
import * as acts from "./acts";
import { compareSelected } from "./piles";

/** useVerdict gives stars, sets aside and marks keepers, by button or key, and shows it at once. */
function useVerdict(brand: string) {
  const rate = (stars: number) => {
    const ids = inOrder();
    if (ids.length === 0) return;
    void acts.rate(brand, asSelection(), ids, stars);
    // what is set aside leaves the sheet, and the next one has its place then
    const stays = stars >= 0 || asksForAside(useChosen.getState().query.filter);
    if (ids.length === 1 && stays && useSettings.getState().goOn) moveCursor(1);
  };
  const keep = (on?: boolean) => {
    const ids = inOrder();
    if (ids.length === 0) return;
    const should = on ?? !ids.every((id) => rows.get(id)?.keeper);
    void acts.keep(brand, asSelection(), ids, should);
  };
  return { rate, keep };
}

/** ChooseBoard is the verdict on what is selected, and the filters that go with choosing. */
export function ChooseBoard({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const { goTo, change } = useGo();
  const count = useCount();
  const counts = useOverview(brand).data;
  const waiting = counts?.unchosen;
  const empty = counts?.everything === 0;
  const { rate, keep } = useVerdict(brand);
  const goesOn = useSettings((s) => s.goOn);
  const set = useSettings((s) => s.set);
  const may = useMay(me);
  const stages = useStages(brand).data ?? [];
  const onlyID = useChosen((s) => (s.selected.size === 1 && !s.wholly ? [...s.selected][0]! : -1));
  const chosen = useRow(onlyID);
  const mayRate = may("rate");
  const mayAside = may("set_aside");
  /** withFirst does something by how the first item is, once that is known; what is done next waits for it. */
  const withFirst = (does: (first: AssetRow) => void) => {
    const id = inOrder()[0];
    if (id === undefined) return;
    const row = rows.get(id);
    if (row) return does(row);
    void rows.loaded(id).then((loaded) => loaded && inOrder()[0] === id && does(loaded));
  };
  const rateBy = (step: 1 | -1) =>
    withFirst((first) => {
      const stars = Math.max(0, first.stars) + step;
      if (stars >= 0 && stars <= 5) rate(stars);
    });
  /** stageBy goes on from the stage of the first; before the first stage is none. */
  const stageBy = (step: 1 | -1) =>
    withFirst((first) => {
      const at = stages.findIndex((s) => s.name === first.stage) + step;
      if (at >= -1 && at < stages.length) void acts.putAtStage(brand, asSelection(), inOrder(), stages[at]);
    });
  const at = () => useChosen.getState().cursor ?? -1;
  useKeys("Choose", [
    ...(mayRate
      ? [0, 1, 2, 3, 4, 5].map((n) => ({ press: String(n), does: n ? `give ${n} ★` : "take the stars off", run: () => rate(n) }))
      : []),
    ...(mayAside ? [{ press: "a", does: "set aside", run: () => rate(-1) }] : []),
    ...(mayRate && count === 1
      ? [
          { press: ">", does: "one star more", run: () => rateBy(1) },
          { press: "<", does: "one star less", run: () => rateBy(-1) },
        ]
      : []),
    ...(may("describe") && stages.length > 0
      ? [
          { press: ".", does: "on to the next stage", run: () => stageBy(1) },
          { press: ",", does: "back to the stage before", run: () => stageBy(-1) },
        ]
      : []),
    ...(place.piled ? [{ press: "u", does: "unfold what lies together, or fold it", run: () => unfold(at()) }] : []),
    { press: "k", does: "keeper, on or off", run: () => keep() },
    { press: "v", does: "compare the selection side by side, or what lies together with one", run: () => void compareSelected(brand) },
  ]);
  useOffer("Choose", [
    { label: "Compare", icon: <Columns3 size={16} />, first: ["choose"], run: () => void compareSelected(brand) },
    { label: "Make keepers", icon: <Bookmark size={16} />, first: ["choose"], run: () => keep(true) },
    ...(mayAside
      ? [
          {
            label: `Set ${count.toLocaleString("en-GB")} aside`,
            icon: <CircleSlash size={16} />,
            first: ["choose" as const],
            run: () => rate(-1),
          },
        ]
      : []),
  ]);
  return (
    <div className="space-y-6">
      <section>
        <h2 className="mb-2 text-lg">{count > 0 ? `Verdict on ${items(count)}` : "Choose"}</h2>
        {empty && (
          <FirstStep me={me}>
            Here you say which pictures are good: stars, keepers and what is set aside, with the mouse or the keyboard alone.
          </FirstStep>
        )}
        {count === 0 && !empty && (
          <p className="mb-3 text-ink-soft">Go through the sheet with the arrow keys. Nothing has to be deleted to get to the good ones.</p>
        )}
        {mayRate && (
          <div className="flex overflow-hidden rounded-patch border border-line-strong" role="group" aria-label="Stars">
            {[1, 2, 3, 4, 5].map((n) => (
              <button
                key={n}
                type="button"
                disabled={count === 0}
                aria-label={`Give ${n} ${n === 1 ? "star" : "stars"}`}
                className="flex-1 border-r border-line py-2 font-medium last:border-r-0 hover:bg-saffron-wash disabled:opacity-55"
                onClick={() => rate(n)}
              >
                {n} ★
              </button>
            ))}
          </div>
        )}
        <div className="mt-2 grid grid-cols-2 gap-2">
          {mayRate && (
            <Button disabled={count === 0} icon={<Undo2 size={18} />} onClick={() => rate(0)}>
              No stars
            </Button>
          )}
          {mayAside && (
            <Button disabled={count === 0} icon={<CircleSlash size={18} />} onClick={() => rate(-1)}>
              Set aside
            </Button>
          )}
          <Button disabled={count === 0} icon={<Bookmark size={18} />} onClick={() => keep(true)}>
            Keeper
          </Button>
          <Button disabled={count === 0} icon={<BookmarkX size={18} />} onClick={() => keep(false)}>
            Not a keeper
          </Button>
        </div>
        {may("describe") && stages.length > 0 && (
          <div className="mt-3 flex flex-wrap items-center gap-1.5" role="group" aria-label="Stage">
            <span className="mr-1 text-dense text-ink-soft">Stage</span>
            {stages.map((s) => (
              <Button
                key={s.id}
                disabled={count === 0}
                aria-pressed={chosen?.stage === s.name}
                className="min-h-7 aria-pressed:bg-saffron-wash"
                onClick={() => void acts.putAtStage(brand, asSelection(), inOrder(), chosen?.stage === s.name ? undefined : s)}
              >
                {s.name}
              </Button>
            ))}
            {chosen?.stage === undefined && count > 1 && (
              <Button className="min-h-7" tone="quiet" onClick={() => void acts.putAtStage(brand, asSelection(), inOrder(), undefined)}>
                none
              </Button>
            )}
          </div>
        )}
        {!empty && (
          <div className="mt-3 space-y-2">
            <Button className="w-full" disabled={count === 0} icon={<Columns3 size={18} />} onClick={() => void compareSelected(brand)}>
              {count === 1 ? "Compare with those beside it" : "Compare side by side"}
            </Button>
            <Switch label="The next one comes after a verdict" checked={goesOn} onChange={(goOn) => set({ goOn })} />
            <Switch
              label="Lay bursts and near-copies together"
              checked={!!place.piled}
              onChange={(on) => change({ piled: on || undefined })}
            />
          </div>
        )}
        <Beside brand={brand} />
      </section>
      <section>
        <h2 className="mb-2 text-lg">Show</h2>
        <div className="space-y-2">
          <div className="flex overflow-hidden rounded-patch border border-line" role="group" aria-label="At least so many stars">
            {[0, 1, 2, 3, 4, 5].map((n) => (
              <button
                key={n}
                type="button"
                aria-pressed={(conditionOf(place.filter, "stars")?.from ?? 0) === n}
                className="flex-1 py-1.5 text-dense hover:bg-sunk aria-pressed:bg-saffron-wash aria-pressed:font-semibold"
                onClick={() => change({ filter: withCondition(place.filter, "stars", n ? { from: n, to: 5 } : undefined) })}
              >
                {n ? `${n} ★+` : "all"}
              </button>
            ))}
          </div>
          <Switch
            label="Also what was set aside"
            checked={!!conditionOf(place.filter, "aside")}
            onChange={(on) => change({ filter: withCondition(place.filter, "aside", on ? { missing: true } : undefined) })}
          />
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => goTo({ place: "everything", filter: only("keeper") })}>My keepers</Button>
            {!!waiting && <Button onClick={() => goTo({ place: "unchosen" })}>The {waiting} not looked through</Button>}
          </div>
        </div>
      </section>
    </div>
  );
}

/** Beside is, of one selected item, the stars of reviewers where the brand does not count them. */
function Beside({ brand }: { brand: string }) {
  const only = useChosen((s) => (s.selected.size === 1 && !s.wholly ? [...s.selected][0] : undefined));
  const beside = useAsset(brand, only).data?.beside ?? [];
  if (beside.length === 0) return null;
  return (
    <dl className="mt-3 grid grid-cols-[1fr_auto] gap-x-3 text-dense" aria-label="Stars of reviewers">
      {beside.map((b) => (
        <div key={b.name} className="contents">
          <dt className="truncate text-ink-soft">{b.mine ? "My stars, shown beside the team’s" : `${b.name}, reviewer`}</dt>
          <dd>{b.stars} ★</dd>
        </div>
      ))}
    </dl>
  );
}
