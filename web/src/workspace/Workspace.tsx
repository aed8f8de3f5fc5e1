import { useCallback, useEffect } from "react";
import { act, client, type Me } from "~/api/client";
import { useSheet } from "~/api/queries";
import { rows } from "~/api/rows";
import { BringInBoard } from "~/bringin/BringInBoard";
import { ChooseBoard } from "~/choosing/ChooseBoard";
import { DescribeBoard } from "~/describing/DescribeBoard";
import { Cabinet } from "~/filing/Cabinet";
import { FilingActions } from "~/filing/FilingActions";
import { Albums } from "~/gathering/Albums";
import { stepsFor } from "~/path/Path";
import { SendOutBoard } from "~/sendout/SendOutBoard";
import { BigView } from "~/sheet/BigView";
import { Heading } from "~/sheet/Heading";
import { usePlace, type Step } from "~/sheet/place";
import { showSheet, useChosen } from "~/sheet/selection";
import { Sheet } from "~/sheet/Sheet";
import { Board } from "./Board";
import { Empty } from "./Empty";

/** Workspace is the sheet on the left and the board of the present step on the right. */
export function Workspace({ me }: { me: Me }) {
  const { brand, step: asked, place } = usePlace();
  rows.brand = brand;
  const step = stepsFor(me).includes(asked) ? asked : "file";
  const sheet = useSheet(brand, place);
  const open = useChosen((s) => s.open);
  useEffect(() => {
    if (sheet.data && !sheet.isPlaceholderData) showSheet(sheet.data.ids, place);
  }, [sheet.data, sheet.isPlaceholderData, place]);
  const album = place.place === "album" && (place.sort === undefined || place.sort === "hand") && me.can.includes("gather") ? place.id : undefined;
  const onOrder = useCallback((ids: number[], before: number | undefined) => void act(brand, client.POST("/api/brands/{brand}/albums/{id}/order", { params: { path: { brand, id: album! } }, body: { ids, before } })), [brand, album]);
  const verb = me.can.includes("file") ? "Move" : "Carry";
  const dragLabel = useCallback((n: number) => `${verb} ${n}`, [verb]);
  return (
    <div className="flex min-h-0 flex-1">
      <main className="flex min-w-0 flex-1 flex-col">
        <Heading count={sheet.data?.ids.length} />
        {sheet.error && !sheet.data ? (
          <p role="alert" className="p-6 text-tomato">
            {sheet.error.message}
          </p>
        ) : (
          <>
            {open !== undefined && <BigView brand={brand} id={open} />}
            <div className={open === undefined ? "flex min-h-0 flex-1" : "hidden"}>
              <Sheet
                brand={brand}
                sheet={sheet.data}
                empty={<Empty place={place} me={me} />}
                filesGoTo={{ folder: place.place === "folder" ? place.id : undefined, album: place.place === "album" ? place.id : undefined }}
                dragLabel={dragLabel}
                onOrder={album === undefined ? undefined : onOrder}
              />
            </div>
          </>
        )}
      </main>
      <Board>
        <BoardOf step={step} me={me} />
      </Board>
    </div>
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
    case "send-out":
      return <SendOutBoard me={me} />;
    case "file":
      return (
        <>
          <FilingActions me={me} />
          <Cabinet me={me} />
          <Albums me={me} />
        </>
      );
  }
}
