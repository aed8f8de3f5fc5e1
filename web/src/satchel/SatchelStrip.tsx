import { clsx } from "clsx";
import { combine } from "@atlaskit/pragmatic-drag-and-drop/combine";
import { CircleAlert, Maximize2, X } from "lucide-react";
import { useCallback, useEffect, useRef, useState } from "react";
import { mediaAddress, type AssetRow, type Me, type Schema } from "~/api/client";
import { useFolders, useSendingCheck } from "~/api/queries";
import { Button } from "~/kit/Button";
import { tint, titleOf } from "~/kit/words";
import { dragItems, reorderTarget } from "~/sheet/drag";
import { inBrief, reasonSaid } from "~/sheet/LeavingCheck";
import { useGo } from "~/sheet/place";
import { openBig } from "~/sheet/selection";
import { useOffers } from "~/sheet/offers";
import { orderSatchel, putDown } from "./acts";
import { useCarrying } from "./carrying";

/** SatchelStrip is what is in the satchel, in its order: to be put in order, opened, taken out and carried on. */
export function SatchelStrip({ brand, me, carried }: { brand: string; me: Me; carried: AssetRow[] }) {
  const { goToStep } = useGo();
  const [marked, setMarked] = useState<Set<number>>(new Set());
  const anchor = useRef<number>(undefined);
  const ids = carried.map((r) => r.id);
  const chosen = ids.filter((id) => marked.has(id));
  const order = useCallback((those: number[], before: number | undefined) => void orderSatchel(brand, those, before), [brand]);
  const lay = (those: number[]) => void putDown(brand, those);
  const mark = (id: number, e: React.MouseEvent) => {
    const next = new Set(e.ctrlKey || e.metaKey ? marked : []);
    if (e.shiftKey && anchor.current !== undefined) {
      const [a, b] = [ids.indexOf(anchor.current), ids.indexOf(id)].sort((x, y) => x - y);
      ids.slice(a, b! + 1).forEach((x) => next.add(x));
    } else {
      if (!next.delete(id)) next.add(id);
      anchor.current = id;
    }
    setMarked(next);
  };
  const dragged = useCallback((id: number) => (chosen.includes(id) ? chosen : [id]), [chosen]);
  const those = chosen.length > 0 ? chosen : ids;
  const n = chosen.length > 0 && chosen.length < ids.length ? chosen.length.toLocaleString("en-GB") : "all";
  const check = useSendingCheck(brand, ids.length > 0 ? { ids } : undefined).data;
  const folders = useFolders(brand).data;
  const against = (id: number) => check?.against.filter((a) => a.ids.includes(id)) ?? [];
  const hindered = check?.against.some((a) => a.hinders);
  const grave = [...new Set(check?.against.filter((a) => !hindered || a.hinders).flatMap((a) => a.ids) ?? [])];
  const homeOf = (row: AssetRow) => (row.folder === undefined ? "Unfiled" : (folders?.find((f) => f.id === row.folder)?.name ?? ""));
  const albums = useOffers().some((o) => o.owner === "Albums");
  return (
    <div className="stitch-t border-t border-line bg-card px-4 pt-3 pb-2" data-satchel-strip>
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h2 className="text-lg">In the satchel</h2>
        <span className="mr-auto text-dense text-ink-soft" data-satchel-check>
          {check && carried.length > 0 && inBrief(check)}
          {check && carried.length > 0 && grave.length > 0 && (
            <button type="button" className="ml-2 text-sea underline" onClick={() => setMarked(new Set(grave))}>
              Mark {grave.length === 1 ? "it" : "them"}
            </button>
          )}
        </span>
        {carried.length > 0 && (
          <>
            {me.can.includes("gather") && albums && (
              <Button onClick={() => useCarrying.setState({ toAlbum: those })}>Add {n} to an album…</Button>
            )}
            {me.can.includes("galleries") && (
              <Button onClick={() => useCarrying.setState({ toPages: { selection: { ids: those }, count: those.length } })}>
                Send {n} to pages…
              </Button>
            )}
            {me.can.includes("download") && <Button onClick={() => goToStep("send-out")}>Send out or download…</Button>}
            {chosen.length > 0 ? (
              <Button tone="quiet" onClick={() => lay(chosen)}>
                Take {n} out
              </Button>
            ) : (
              <Button tone="quiet" onClick={() => lay(ids)}>
                Empty it
              </Button>
            )}
          </>
        )}
      </div>
      {carried.length === 0 ? (
        <p className="pb-2 text-ink-soft">It is empty. Select some items and press S, or drag them here.</p>
      ) : (
        <ol className="flex gap-2 overflow-x-auto pt-1 pb-1 pl-1" aria-label="In the satchel">
          {carried.map((row, i) => (
            <Carried
              key={row.id}
              brand={brand}
              row={row}
              home={homeOf(row)}
              against={against(row.id)}
              next={carried[i + 1]?.id}
              marked={marked.has(row.id)}
              onMark={mark}
              dragged={dragged}
              onOrder={order}
              onPutDown={() => lay([row.id])}
            />
          ))}
        </ol>
      )}
    </div>
  );
}

function Carried({
  brand,
  row,
  home,
  against,
  next,
  marked,
  onMark,
  dragged,
  onOrder,
  onPutDown,
}: {
  brand: string;
  row: AssetRow;
  home: string;
  against: Schema["AgainstSending"][];
  next: number | undefined;
  marked: boolean;
  onMark: (id: number, event: React.MouseEvent) => void;
  dragged: (id: number) => number[];
  onOrder: (ids: number[], before: number | undefined) => void;
  onPutDown: () => void;
}) {
  const ref = useRef<HTMLLIElement>(null);
  const [side, setSide] = useState<"before" | "after">();
  useEffect(() => {
    const element = ref.current!;
    return combine(
      dragItems(
        element,
        "satchel",
        () => dragged(row.id),
        () => (dragged(row.id).length > 1 ? `${dragged(row.id).length} of the satchel` : titleOf(row)),
      ),
      reorderTarget(element, setSide, (ids, at) => onOrder(ids, at === "before" ? row.id : next)),
    );
  }, [row, next, onOrder, dragged]);
  return (
    <li
      ref={ref}
      className={clsx(
        "group relative shrink-0",
        side === "before" ? "border-l-4 border-saffron" : side === "after" ? "border-r-4 border-saffron" : "",
      )}
      title={[`${titleOf(row)}, ${row.kind}`, ...against.map((a) => reasonSaid(a.reason))].join(". ")}
    >
      <button
        type="button"
        aria-pressed={marked}
        aria-label={titleOf(row)}
        className="block rounded-[3px] aria-pressed:outline-3 aria-pressed:outline-saffron"
        onClick={(e) => onMark(row.id, e)}
        onDoubleClick={() => openBig(row.id)}
      >
        <img
          src={mediaAddress(brand, row, "small")}
          alt=""
          draggable={false}
          className="h-20 rounded-[3px]"
          style={{ backgroundColor: tint(row.tint) }}
        />
        <span className="block max-w-28 truncate pt-0.5 text-left text-small">{titleOf(row)}</span>
      </button>
      <span className="flex max-w-28 items-center gap-1 text-left text-small text-ink-soft">
        {against.length > 0 && (
          <CircleAlert
            size={13}
            className={against.some((a) => a.hinders) ? "shrink-0 text-tomato" : "shrink-0"}
            aria-label={against.map((a) => reasonSaid(a.reason)).join(". ")}
          />
        )}
        <span className="truncate">{home}</span>
      </span>
      <span className="absolute top-1 right-1 flex gap-1 opacity-0 group-hover:opacity-100 focus-within:opacity-100">
        <button
          type="button"
          aria-label={`Look at ${titleOf(row)} large`}
          className="grid size-6 place-items-center rounded-full bg-card"
          onClick={() => openBig(row.id)}
        >
          <Maximize2 size={13} />
        </button>
        <button
          type="button"
          aria-label={`Take ${titleOf(row)} out of the satchel`}
          className="grid size-6 place-items-center rounded-full bg-card"
          onClick={onPutDown}
        >
          <X size={14} />
        </button>
      </span>
    </li>
  );
}
