import { Popover } from "radix-ui";
import { useEffect } from "react";
import { ask, client, mediaAddress, messageOf, useSession, type Schema } from "~/api/client";
import { useIntakes } from "~/api/queries";
import { Button } from "~/kit/Button";
import { tell, warn } from "~/kit/notes";
import { bytes, when } from "~/kit/words";
import { forget, goOn, takeUp, useQueue } from "./queue";

/** sumOf says what came of an intake in numbers that add up. */
export function sumOf(i: Schema["Intake"]) {
  const parts = [`${i.added} added`];
  if (i.skipped) parts.push(`${i.skipped} skipped`);
  if (i.refused) parts.push(`${i.refused} refused`);
  if (i.cancelled) parts.push(`${i.cancelled} cancelled`);
  const open = i.total - i.added - i.skipped - i.refused - i.cancelled;
  if (open) parts.push(`${open} on the way`);
  return `${i.total} = ${parts.join(" + ")}`;
}

/** Progress is the intake in the strap: how far it is, and on opening what came of every file. */
export function Progress({ brand }: { brand: string }) {
  const { data: intakes } = useIntakes(brand);
  const { sending, lost } = useQueue();
  const signedOut = useSession((s) => s.signedOut);
  const loaded = intakes !== undefined;
  useEffect(() => {
    if (loaded && !signedOut) {
      void takeUp(brand, intakes);
      goOn(brand);
    }
    // only once the intakes are known, and again after signing in
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [brand, loaded, signedOut]);
  const mine = intakes?.filter((i) => i.mine) ?? [];
  const open = mine.filter((i) => !i.finished);
  const shown = open.length > 0 ? open : mine.slice(0, 1).filter((i) => Date.now() - new Date(i.finished ?? i.started).getTime() < 10 * 60_000);
  if (shown.length === 0) return null;
  const total = shown.reduce((n, i) => n + i.total, 0);
  const settled = shown.reduce((n, i) => n + i.added + i.skipped + i.refused + i.cancelled, 0);
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button type="button" data-intake className="flex items-center gap-2 rounded-patch px-2 py-1 hover:bg-sunk">
          <span>{open.length > 0 ? `intake ${settled}/${total}` : sumOf(shown[0]!)}</span>
          {open.length > 0 && (
            <span aria-hidden="true" className="h-2 w-24 overflow-hidden rounded-full bg-line max-md:w-12">
              <span className="block h-full bg-saffron" style={{ width: `${share(shown, sending) * 100}%` }} />
            </span>
          )}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content side="top" sideOffset={8} className="z-30 max-h-[60vh] w-[min(440px,calc(100vw-24px))] overflow-y-auto rounded-xl border border-line bg-card p-3 shadow-2xl" aria-label="What came of every file">
          {lost > 0 && <p className="mb-2 rounded bg-saffron-wash px-2 py-1">{lost} of your files are not in this browser any more. Drop them again, or cancel the intake.</p>}
          {shown.map((i) => (
            <IntakeList key={i.id} brand={brand} intake={i} />
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function share(intakes: Schema["Intake"][], sending: ReturnType<typeof useQueue.getState>["sending"]) {
  const sent = new Map(sending.map((s) => [s.code, s.sent]));
  let all = 0;
  let there = 0;
  for (const f of intakes.flatMap((i) => i.files)) {
    all += f.bytes + 1;
    there += f.state === "waiting" ? (sent.get(f.code) ?? 0) : f.bytes + 1;
  }
  return all ? there / all : 1;
}

const outcomes: Record<Schema["IntakeFileState"], string> = { waiting: "waiting", arrived: "being looked at", added: "added", skipped: "skipped", refused: "refused", cancelled: "cancelled" };

/** IntakeList is one intake with the outcome of each of its files. */
export function IntakeList({ brand, intake }: { brand: string; intake: Schema["Intake"] }) {
  const sending = useQueue((s) => s.sending);
  const cancel = async () => {
    try {
      const done = await ask(client.POST("/api/brands/{brand}/intakes/{id}/cancel", { params: { path: { brand, id: intake.id } } }));
      forget(brand, intake.id);
      tell(done.said);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  return (
    <section>
      <header className="flex items-center gap-2">
        <h3 className="flex-1">{sumOf(intake)}</h3>
        {!intake.finished && intake.mine && (
          <Button tone="quiet" onClick={() => void cancel()}>
            Cancel the rest
          </Button>
        )}
      </header>
      <p className="text-dense text-ink-soft">
        {intake.by}, {when(intake.started)}
        {intake.folderName ? ` to ${intake.folderName}` : ""}
      </p>
      <ul className="mt-2 space-y-1">
        {intake.files.map((f) => {
          const s = sending.find((x) => x.code === f.code);
          return (
            <li key={f.code} className="flex items-center gap-2" data-file={f.name} data-state={f.state}>
              <span className="grid size-9 shrink-0 place-items-center overflow-hidden rounded bg-sunk">
                {f.assetCode && f.assetVersion && <img alt="" src={mediaAddress(brand, { code: f.assetCode, version: f.assetVersion }, "small")} className="size-full object-cover" />}
              </span>
              <span className="min-w-0 flex-1">
                <span className="block truncate">{f.name}</span>
                <span className={`block text-small ${f.state === "refused" ? "text-tomato" : "text-ink-soft"}`}>
                  {s && s.state !== "queued" ? `${s.state === "paused" ? "stopped at" : "sending"} ${bytes(s.sent)} of ${bytes(f.bytes)}` : outcomes[f.state]}
                  {f.why ? `. ${f.why}` : ""}
                </span>
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
