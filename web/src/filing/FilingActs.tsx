import { CalendarDays, ClipboardPaste, CopyPlus, FolderInput, Layers, Scissors, SquareStack, Trash2, Undo2 } from "lucide-react";
import { later } from "~/kit/later";
import { useState } from "react";
import { type Me } from "~/api/client";
import { useFolders } from "~/api/queries";
import { useRow } from "~/api/rows";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { useKeys } from "~/kit/keys";
import { tell } from "~/kit/notes";
import { items, plural } from "~/kit/words";
import { pathName } from "~/sheet/Heading";
import { type Offer, useOffer } from "~/sheet/offers";
import { mayAll, useMay } from "~/sheet/rights";
import { type Step, useBrand, useGo, usePlace } from "~/sheet/place";
import { asSelection, cut, inOrder, useChosen, useCount } from "~/sheet/selection";
import { StopsShowing } from "~/sheet/StopsShowing";
import { fromBin, moveAnyway, moveTo, toBin, useWidening } from "./moving";
import { emptyBin, stack, takeApart } from "./acts";

const ByDateDialog = later(async () => (await import("./ByDateDialog")).ByDateDialog);
const MoveDialog = later(async () => (await import("./MoveDialog")).MoveDialog);

const everyStep: Step[] = ["bring-in", "file", "describe", "choose", "prepare", "gather", "send-out"];

type Asked = "move" | "copy" | "bin" | "empty" | "by date" | "all by date";

/** FilingActs offers, on every step, what filing is for: to move, copy, stack and bin a selection, and to put it back. */
export function FilingActs({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const count = useCount();
  const total = useChosen((s) => s.items);
  const [asked, setAsked] = useState<Asked>();
  const may = useMay(me);
  const inBin = place.place === "bin";
  const mayFile = may("file") && !inBin;
  const mayRemove = may("remove");
  const cutNow = useChosen((s) => s.cut.size);
  const folders = useFolders(brand).data ?? [];
  const there = place.place === "unfiled" ? undefined : place.place === "folder" ? place.id : null;
  const mayPaste = cutNow > 0 && there !== null && mayAll(me, folders, [there], "file");
  const n = count.toLocaleString("en-GB");
  const cutThese = () => {
    if (count === 0) return;
    cut();
    tell(`${items(inOrder().length)} cut. Open a folder and paste ${inOrder().length === 1 ? "it" : "them"} there with Ctrl+V.`);
  };
  const paste = () => there !== null && void moveTo(brand, { ids: [...useChosen.getState().cut] }, there);
  const ask = (what: Asked) => () => count > 0 && setAsked(what);
  const first: Step[] = ["bring-in", "file"];
  const offers: (Offer | false)[] = [
    mayPaste && { label: `Paste ${cutNow} here`, icon: <ClipboardPaste size={16} />, first, always: true, run: paste },
    mayRemove &&
      inBin && { label: `Put ${n} back`, icon: <Undo2 size={16} />, first: everyStep, run: () => void fromBin(brand, asSelection()) },
    mayFile && { label: `Move ${n} to…`, icon: <FolderInput size={16} />, first, run: ask("move") },
    mayFile && { label: "Copy to…", icon: <CopyPlus size={16} />, run: ask("copy") },
    mayFile && { label: "Cut", icon: <Scissors size={16} />, run: cutThese },
    mayFile && { label: "File by date…", icon: <CalendarDays size={16} />, run: ask("by date") },
    mayFile && count > 1 && { label: `Stack ${n}`, icon: <SquareStack size={16} />, run: () => void stack(brand, asSelection()) },
    mayFile && { label: "Take the stack apart", icon: <Layers size={16} />, run: () => void takeApart(brand, asSelection()) },
    mayRemove &&
      !inBin && {
        label: `Put ${n} in the bin`,
        icon: <Trash2 size={16} />,
        danger: true,
        first: place.place === "album" ? [] : (["file"] as Step[]),
        run: ask("bin"),
      },
    place.place === "unfiled" &&
      count === 0 &&
      total > 0 &&
      me.everywhere.includes("file") && {
        label: "File all by date…",
        icon: <CalendarDays size={16} />,
        first: ["file"],
        always: true,
        run: () => setAsked("all by date"),
      },
    inBin &&
      count === 0 &&
      total > 0 &&
      me.can.includes("empty_bin") && {
        label: "Empty the bin",
        danger: true,
        first: everyStep,
        always: true,
        run: () => setAsked("empty"),
      },
  ];
  useOffer(
    "Filing",
    offers.filter((o) => o !== false),
  );
  useKeys("Filing", [
    ...(mayFile ? [{ press: "m", does: "move the selection to…", run: ask("move") }] : []),
    ...(mayFile ? [{ press: "Ctrl+x", does: "cut the selection", run: cutThese }] : []),
    ...(mayPaste ? [{ press: "Ctrl+v", does: "paste what was cut into this folder", run: paste }] : []),
    ...(mayRemove && !inBin && place.place !== "album" ? [{ press: "Delete", does: "put the selection in the bin", run: ask("bin") }] : []),
  ]);
  return (
    <>
      {asked === "move" && <MoveDialog brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
      {asked === "copy" && <MoveDialog copy brand={brand} selection={asSelection()} count={count} onClose={() => setAsked(undefined)} />}
      {asked === "by date" && <ByDateDialog brand={brand} selection={asSelection()} onClose={() => setAsked(undefined)} />}
      {asked === "all by date" && (
        <ByDateDialog brand={brand} selection={{ everything: useChosen.getState().query }} onClose={() => setAsked(undefined)} />
      )}
      {asked === "bin" && (
        <Dialog
          title={`Put ${items(count)} in the bin?`}
          about={`${
            count === 1
              ? "1 item goes to the bin and stays there for 60 days. It"
              : `${items(count)} go to the bin and stay there for 60 days. They`
          } can be put back. Albums and galleries stop showing ${count === 1 ? "it" : "them"} meanwhile.`}
          onClose={() => setAsked(undefined)}
        >
          <StopsShowing brand={brand} selection={asSelection()} />
          <Button
            tone="danger"
            autoFocus
            onClick={() => {
              setAsked(undefined);
              void toBin(brand, asSelection());
            }}
          >
            Put {count.toLocaleString("en-GB")} in the bin
          </Button>
        </Dialog>
      )}
      {asked === "empty" && (
        <Dialog
          title="Empty the bin?"
          about={`${
            total === 1 ? "1 item is deleted for good, with its file" : `${items(total)} are deleted for good, with their files`
          }. This cannot be undone.`}
          onClose={() => setAsked(undefined)}
        >
          <Button
            tone="danger"
            onClick={() => {
              setAsked(undefined);
              void emptyBin(brand);
            }}
          >
            Delete {items(total)} for good
          </Button>
        </Dialog>
      )}
      <WideningDialog />
    </>
  );
}

/** WideningDialog says who will see items that they cannot see now, before they are moved. */
function WideningDialog() {
  const asked = useWidening((s) => s.asked);
  if (!asked) return null;
  const { gains, items: n } = asked.audience;
  return (
    <Dialog
      title={`${plural(gains.length, "more person").replace("more persons", "more people")} will see ${n === 1 ? "it" : "them"}`}
      about={`After this move ${gains.join(", ")} can see ${items(n)} that they cannot see now. This is asked once for this folder.`}
      onClose={() => useWidening.setState({ asked: undefined })}
    >
      <Button tone="main" autoFocus onClick={() => void moveAnyway(asked)}>
        Move {n.toLocaleString("en-GB")}
      </Button>
    </Dialog>
  );
}

/** OnlyNote says of a single selected item where it lives, and goes there on a click. It keeps its place without one, so that
 * the rows that one drags to do not jump. */
export function OnlyNote({ me }: { me: Me }) {
  const brand = useBrand();
  const { goTo } = useGo();
  const folders = useFolders(brand).data;
  const only = useChosen((s) => (s.selected.size === 1 && !s.wholly ? [...s.selected][0] : undefined));
  const open = useChosen((s) => s.open);
  const count = useCount();
  const place = usePlace();
  const row = useRow(only ?? -1);
  const where = row?.folder === undefined ? "Unfiled" : pathName(folders, row.folder);
  return (
    <p className="mb-2 flex h-6 min-w-0 items-center gap-1.5 text-dense whitespace-nowrap text-ink-soft" data-lives>
      {!row && count === 0 && (place.place === "bin" ? "Select items to put them back." : "Drag items onto a folder, or select them.")}
      {row && open === undefined && (row.folder !== undefined || me.everywhere.includes("look")) && (
        <>
          Lives in
          <button
            type="button"
            className="min-w-0 truncate text-sea hover:underline"
            title={where}
            onClick={() => goTo(row.folder === undefined ? { place: "unfiled" } : { place: "folder", id: row.folder })}
          >
            {where}
          </button>
          {row.stacked && <span className="shrink-0">· one of a stack of {row.stacked}</span>}
        </>
      )}
    </p>
  );
}
