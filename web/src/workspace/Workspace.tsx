import { clsx } from "clsx";
import { useCallback, useEffect } from "react";
import { type Me } from "~/api/client";
import { prefer, preferences } from "~/api/preferences";
import { useRow } from "~/api/rows";
import { fillSheet, useSheet } from "~/api/sheets";
import { ChooseBoard } from "~/choosing/ChooseBoard"; // its keys are pressed the moment that the step is
import { Cabinet } from "~/filing/Cabinet";
import { FilingActs, OnlyNote } from "~/filing/FilingActs";
import { FoldersInside } from "~/filing/FoldersInside";
import { AlbumActs } from "~/gathering/AlbumActs";
import { SendOutActs } from "~/sendout/SendOutActs";
import { Albums } from "~/gathering/Albums";
import { later } from "~/kit/later";
import { stepsFor } from "~/path/Steps";
import { ReplaceActs, ReplaceByDropping } from "~/preparing/ReplaceActs";
import { Heading } from "~/sheet/Heading";
import { useOrder } from "~/sheet/order";
import { type Place, type Step, useBrand, usePlace, useStep } from "~/sheet/place";
import { showSheet, useChosen } from "~/sheet/selection";
import { Sheet } from "~/sheet/Sheet";
import { placeByHand } from "~/api/acts";
import { Board, useBoardUp } from "./Board";
import { Empty } from "./Empty";
import { useOpenItem } from "./useOpenItem";

const BringInBoard = later(async () => (await import("~/bringin/BringInBoard")).BringInBoard);
const Compare = later(async () => (await import("~/choosing/Compare")).Compare);
const DescribeBoard = later(async () => (await import("~/describing/DescribeBoard")).DescribeBoard);
const ItemPage = later(async () => (await import("~/filing/ItemPage")).ItemPage);
const GatherBoard = later(async () => (await import("~/gathering/GatherBoard")).GatherBoard);
const PrepareBoard = later(async () => (await import("~/preparing/PrepareBoard")).PrepareBoard);
const Stage = later(async () => (await import("~/preparing/Stage")).Stage);
const SendOutBoard = later(async () => (await import("~/sendout/SendOutBoard")).SendOutBoard);
const Slideshow = later(async () => (await import("~/sheet/Slideshow")).Slideshow);
const BigView = later(async () => (await import("~/sheet/BigView")).BigView);
const MoreLike = later(async () => (await import("~/sheet/MoreLike")).MoreLike);

/** How many recent places are remembered. */
const recentPlaces = 8;

/** withRecent puts a place first among the recent ones. */
function withRecent(place: Place): Place[] {
  const same = (p: Place) => p.place === place.place && p.id === place.id;
  return [{ place: place.place, id: place.id }, ...(preferences().recent ?? []).filter((p) => !same(p))].slice(0, recentPlaces);
}

/** Workspace is the sheet on the left and the board of the present step on the right. */
export function Workspace({ me }: { me: Me }) {
  const brand = useBrand();
  const asked = useStep();
  const place = usePlace();
  const step = stepsFor(me).includes(asked) ? asked : "file";
  const { query, sort, view } = useOrder();
  const sheet = useSheet(brand, query);
  const open = useChosen((s) => s.open);
  const kind = useRow(open ?? -1)?.kind;
  const working = step === "prepare" && open !== undefined && (kind === "picture" || kind === "clip") && me.can.includes("prepare");
  const boardUp = useBoardUp();
  const comparing = useChosen((s) => s.compared.length > 0);
  useEffect(() => {
    if (sheet.data && !sheet.isPlaceholderData) showSheet(sheet.data.ids, query, sheet.data.items, sheet.data.piles);
  }, [sheet.data, sheet.isPlaceholderData, query]);
  useEffect(() => prefer(brand, { last: place, recent: withRecent(place) }), [brand, place]);
  useOpenItem(sheet.data?.ids);
  const onView = useCallback((seen: number[]) => void fillSheet(brand, query, seen), [brand, query]);
  const byHand =
    sort === "hand" && me.can.includes(place.place === "album" ? "gather" : "file") ? (place.place as "album" | "folder") : undefined;
  const onOrder = useCallback(
    (ids: number[], before: number | undefined) => {
      if (byHand) void placeByHand(brand, byHand, place.id!, ids, before !== undefined && before > 0 ? before : undefined);
    },
    [brand, place.id, byHand],
  );
  const verb = me.can.includes("file") ? "Move" : "Carry";
  const dragLabel = useCallback((n: number) => `${verb} ${n}`, [verb]);
  return (
    <div className="flex min-h-0 flex-1">
      <main className={clsx("flex min-w-0 flex-1 flex-col", working && boardUp && "max-md:pb-[calc(44vh-44px)]")}>
        <Heading count={sheet.data?.items} aside={sheet.data?.aside} />
        {sheet.error && !sheet.data ? (
          <p role="alert" className="p-6 text-tomato">
            {sheet.error.message}
          </p>
        ) : (
          <>
            {open !== undefined && (
              <ReplaceByDropping id={open} may={me.can.includes("prepare")}>
                {working ? <Stage brand={brand} id={open} onView={onView} /> : <BigView brand={brand} id={open} onView={onView} />}
              </ReplaceByDropping>
            )}
            {comparing && <Compare brand={brand} me={me} />}
            {open === undefined && !comparing && <FoldersInside me={me} />}
            <div className={open === undefined && !comparing ? "flex min-h-0 flex-1" : "hidden"}>
              <Sheet
                brand={brand}
                sheet={sheet.data}
                of={
                  sheet.data && !sheet.isPlaceholderData ? JSON.stringify({ ...query, piled: undefined, unfolded: undefined }) : undefined
                }
                view={view}
                onView={onView}
                empty={<Empty place={place} query={query} me={me} />}
                filesGoTo={{
                  folder: place.place === "folder" ? place.id : undefined,
                  album: place.place === "album" ? place.id : undefined,
                }}
                dragLabel={dragLabel}
                onOrder={byHand && onOrder}
              />
            </div>
          </>
        )}
      </main>
      <Slideshow brand={brand} onView={onView} />
      <MoreLike />
      <FilingActs me={me} />
      <AlbumActs me={me} />
      <SendOutActs me={me} />
      <ReplaceActs me={me} />
      <Board low={working}>
        <BoardOf step={step} me={me} />
      </Board>
    </div>
  );
}

/** FileBoard is the cabinet, or, while one item is seen big, everything known about that one. */
function FileBoard({ me }: { me: Me }) {
  const open = useChosen((s) => s.open);
  return (
    <>
      {open === undefined && <OnlyNote me={me} />}
      {open === undefined ? (
        <>
          <Cabinet me={me} />
          <Albums me={me} />
        </>
      ) : (
        <ItemPage me={me} id={open} />
      )}
    </>
  );
}

function BoardOf({ step, me }: { step: Step; me: Me }) {
  switch (step) {
    case "bring-in":
      return <BringInBoard me={me} />;
    case "describe":
      return <DescribeBoard me={me} />;
    case "choose":
      return <ChooseBoard me={me} />;
    case "prepare":
      return <PrepareBoard me={me} />;
    case "gather":
      return <GatherBoard me={me} />;
    case "send-out":
      return <SendOutBoard me={me} />;
    case "file":
      return <FileBoard me={me} />;
  }
}
