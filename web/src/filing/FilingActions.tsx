import { CalendarDays, CopyPlus, FolderInput, Layers, MoreHorizontal, Scissors, SquareStack, Trash2, Undo2 } from "lucide-react";
import { useState } from "react";
import { type Me } from "~/api/client";
import { useFolders } from "~/api/queries";
import { useRow } from "~/api/rows";
import { Button, IconButton } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { useKeys } from "~/kit/keys";
import { Menu } from "~/kit/Menu";
import { tell } from "~/kit/notes";
import { items, plural } from "~/kit/words";
import { pathOf } from "~/sheet/Heading";
import { useMay } from "~/sheet/rights";
import { useBrand, useGo, usePlace } from "~/sheet/place";
import { asSelection, cut, inOrder, useChosen, useCount } from "~/sheet/selection";
import { ByDateDialog } from "./ByDateDialog";
import { MoveDialog } from "./MoveDialog";
import { fromBin, moveAnyway, moveTo, toBin, useWidening } from "./moving";
import { emptyBin, stack, takeApart } from "./acts";

/** From so many on the buttons have to make do with words. */
const large = 1000;

type Asked = "move" | "copy" | "bin" | "empty" | "by date" | "all by date";

/** FilingActions is what can be done with a selection. It keeps its place when nothing is selected: a drag selects, and the
 * rows that one drags to must not jump then. */
export function FilingActions({ me }: { me: Me }) {
  const brand = useBrand();
  const place = usePlace();
  const count = useCount();
  const total = useChosen((s) => s.ids.length);
  const [asked, setAsked] = useState<Asked>();
  const may = useMay(me);
  const mayFile = may("file");
  const mayRemove = may("remove");
  const inBin = place.place === "bin";
  const anyCut = useChosen((s) => s.cut.size > 0);
  const pasteTo = place.place === "unfiled" ? { folder: undefined } : place.place === "folder" ? { folder: place.id } : undefined;
  const cutThese = () => {
    if (count === 0 || inBin) return;
    cut();
    tell(`${items(inOrder().length)} cut. Open a folder and paste ${inOrder().length === 1 ? "it" : "them"} there with Ctrl+V.`);
  };
  const paste = () => pasteTo && void moveTo(brand, { ids: [...useChosen.getState().cut] }, pasteTo.folder);
  useKeys("File", [
    ...(mayFile ? [{ press: "m", does: "move the selection to…", run: () => count > 0 && !inBin && setAsked("move") }] : []),
    ...(mayFile ? [{ press: "Ctrl+x", does: "cut the selection", run: cutThese }] : []),
    ...(mayFile && anyCut && pasteTo ? [{ press: "Ctrl+v", does: "paste what was cut into this folder", run: paste }] : []),
    ...(mayRemove ? [{ press: "Delete", does: "put the selection in the bin", run: () => count > 0 && !inBin && setAsked("bin") }] : []),
  ]);
  if (!me.can.includes("file") && !me.can.includes("remove")) return <OnlyNote me={me} />;
  const more = [
    { label: "Copy to… (no second file is stored)", icon: <CopyPlus size={16} />, onSelect: () => setAsked("copy") },
    { label: "Cut", icon: <Scissors size={16} />, onSelect: cutThese },
    { label: "File by date…", icon: <CalendarDays size={16} />, onSelect: () => setAsked("by date") },
    null,
    ...(count > 1 ? [{ label: `Stack ${count}`, icon: <SquareStack size={16} />, onSelect: () => void stack(brand, asSelection()) }] : []),
    { label: "Take the stack apart", icon: <Layers size={16} />, onSelect: () => void takeApart(brand, asSelection()) },
  ];
  return (
    <>
      {count === 0 ? (
        <div className="flex min-h-8 items-center gap-2 text-dense text-ink-soft">
          {anyCut && pasteTo ? (
            <Button tone="main" onClick={paste}>
              Paste {useChosen.getState().cut.size} here
            </Button>
          ) : (
            <span className="min-w-0 flex-1 truncate">
              {inBin ? "Select items to put them back." : "Drag items onto a folder, or select them."}
            </span>
          )}
          {place.place === "unfiled" && mayFile && total > 0 && (
            <Button icon={<CalendarDays size={16} />} onClick={() => setAsked("all by date")}>
              File by date…
            </Button>
          )}
          {inBin && me.can.includes("empty_bin") && total > 0 && (
            <Button tone="danger" onClick={() => setAsked("empty")}>
              Empty the bin
            </Button>
          )}
        </div>
      ) : (
        <div className={`flex h-8 gap-2 whitespace-nowrap ${count >= large ? "text-dense" : ""}`}>
          {mayFile && !inBin && (
            <Button tone="main" icon={count < large && <FolderInput size={18} />} onClick={() => setAsked("move")}>
              Move {count.toLocaleString("en-GB")} to…
            </Button>
          )}
          {mayRemove && !inBin && (
            <Button tone="danger" icon={count < large && <Trash2 size={18} />} onClick={() => setAsked("bin")}>
              Put {count.toLocaleString("en-GB")} in the bin
            </Button>
          )}
          {mayRemove && inBin && (
            <Button tone="main" icon={<Undo2 size={18} />} onClick={() => void fromBin(brand, asSelection())}>
              Put {count.toLocaleString("en-GB")} back
            </Button>
          )}
        </div>
      )}
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
      <div className="mt-1 mb-2 flex h-8 items-center gap-1">
        <OnlyNote me={me} />
        {count > 0 && mayFile && !inBin && (
          <Menu trigger={<IconButton label="More to do with the selection" icon={<MoreHorizontal size={18} />} />} items={more} />
        )}
      </div>
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

/** OnlyNote says of a single selected item where it lives, and goes there on a click. It keeps its place without one. */
function OnlyNote({ me }: { me: Me }) {
  const brand = useBrand();
  const { goTo } = useGo();
  const folders = useFolders(brand).data;
  const only = useChosen((s) => (s.selected.size === 1 && !s.wholly ? [...s.selected][0] : undefined));
  const open = useChosen((s) => s.open);
  const row = useRow(only ?? -1);
  const where =
    row?.folder === undefined
      ? "Unfiled"
      : pathOf(folders, row.folder)
          .map((f) => f.name)
          .join(" / ");
  return (
    <p className="flex min-w-0 flex-1 items-center gap-1.5 text-dense text-ink-soft" data-lives>
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
