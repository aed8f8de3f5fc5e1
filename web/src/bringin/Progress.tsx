import { clsx } from "clsx";
import { Popover } from "radix-ui";
import { useEffect, useState } from "react";
import { useSession, type Schema } from "~/api/client";
import { useIntakes } from "~/api/queries";
import { bringInto, pickedFiles } from "~/sheet/dropped";
import { IntakeList } from "./IntakeList";
import { plural } from "~/kit/words";
import { settledOf, sumOf } from "./intake";
import { useTimeLeft } from "./pace";
import { goOn, steer, takeUp, useQueue } from "./queue";
import { useTarget } from "./target";

type Intake = Schema["Intake"];

const shownFor = 10 * 60_000;

/** Progress is the intakes in the strap: how far they are, and on opening what came of every file. It also carries on
 * with what this browser was sending, and takes files that are pasted. */
export function Progress({ brand }: { brand: string }) {
  const { data: intakes } = useIntakes(brand);
  const lost = useQueue((s) => s.lost.length);
  const signedOut = useSession((s) => s.signedOut);
  const left = useTimeLeft();
  const [shown, setShown] = useState(false);
  const [steady, setSteady] = useState(false); // as high whatever comes, so that no button moves from under the pointer
  const loaded = intakes !== undefined;
  useEffect(() => {
    if (loaded && !signedOut) {
      void takeUp(
        brand,
        intakes.filter((i) => i.mine),
      );
      goOn(brand);
    }
    // only once the intakes are known, and again after signing in
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [brand, loaded, signedOut]);
  useEffect(() => {
    if (intakes) steer(brand, intakes);
  }, [brand, intakes]);
  usePastedFiles();
  const mine = intakes?.filter((i) => i.mine && i.source !== "guest") ?? []; // what guests send is told in their gallery
  const open = mine.filter((i) => !i.finished);
  const list =
    open.length > 0 ? inOrder(open) : mine.slice(0, 1).filter((i) => Date.now() - new Date(i.finished ?? i.started).getTime() < shownFor);
  const moving = shown && open.length > 0;
  useEffect(() => {
    if (!shown) setSteady(false);
    else if (moving) setSteady(true);
  }, [shown, moving]);
  if (list.length === 0) return null;
  const total = list.reduce((n, i) => n + i.total, 0);
  const settled = list.reduce((n, i) => n + settledOf(i), 0);
  const paused = open.length > 0 && open.every((i) => i.paused);
  return (
    <Popover.Root open={shown} onOpenChange={setShown}>
      <Popover.Trigger asChild>
        <button type="button" data-intake={mine[0]!.id} className="flex min-w-0 items-center gap-2 rounded-patch px-2 py-1 hover:bg-sunk">
          <span className="truncate">
            {open.length > 0 && lost > 0 && !paused
              ? `${settled} of ${total}, waits for ${plural(lost, "file")} that ${lost === 1 ? "is" : "are"} dropped again`
              : open.length > 0
                ? `${settled} of ${total}${paused ? ", paused" : left ? `, ${left}` : ""}`
                : sumOf(list[0]!)}
          </span>
          {open.length > 0 && <Bar intakes={list} />}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          collisionPadding={8}
          sideOffset={8}
          className={clsx(
            "z-30 w-[min(520px,calc(100vw-16px))] overflow-y-auto rounded-xl border border-line bg-card p-3 shadow-2xl",
            steady ? "h-[min(70vh,440px)]" : "max-h-[70vh]",
          )}
          aria-label="What came of every file"
          onInteractOutside={(e) => (e.target as HTMLElement).closest("[role=dialog], [role=status]") && e.preventDefault()}
        >
          {lost > 0 && (
            <p className="mb-2 rounded bg-saffron-wash px-2 py-1">
              {lost === 1
                ? "1 file is not in this browser any more. Drop or choose it again to go on where it was, or cancel the intake."
                : `${lost} files are not in this browser any more. Drop or choose them again to go on where they were, or cancel.`}
            </p>
          )}
          {list.map((i, n) => (
            <IntakeList key={i.id} brand={brand} intake={i} ahead={n > 0} onLeave={() => setShown(false)} />
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const inOrder = (list: Intake[]) =>
  [...list].sort((a, b) => (b.ahead ? new Date(b.ahead).getTime() : 0) - (a.ahead ? new Date(a.ahead).getTime() : 0) || a.id - b.id);

function Bar({ intakes }: { intakes: Intake[] }) {
  const sending = useQueue((s) => s.sending);
  const total = intakes.reduce((n, i) => n + i.total, 0);
  const settled = intakes.reduce((n, i) => n + settledOf(i), 0);
  const onTheWay = sending.reduce((n, s) => n + (s.file.size > 0 ? s.sent / s.file.size : 0), 0);
  return (
    <span aria-hidden="true" className="h-2 w-24 shrink-0 overflow-hidden rounded-full bg-line max-md:w-10">
      <span className="block h-full bg-saffron" style={{ width: `${(100 * (settled + onTheWay * 0.9)) / Math.max(1, total)}%` }} />
    </span>
  );
}

/** Files that are pasted anywhere but into a text go where the board of bringing in says. */
function usePastedFiles() {
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const files = event.clipboardData?.files;
      if (!files?.length || (event.target instanceof Element && event.target.closest("input, textarea"))) return;
      event.preventDefault();
      bringInto(pickedFiles(files), useTarget.getState().target);
    };
    document.addEventListener("paste", paste);
    return () => document.removeEventListener("paste", paste);
  }, []);
}
