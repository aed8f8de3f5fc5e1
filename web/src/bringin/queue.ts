import { del, entries, set as keep } from "idb-keyval";
import type { Upload } from "tus-js-client";
import { create } from "zustand";
import { messageOf, useSession, type Schema } from "~/api/client";
import { ahead } from "~/kit/later";
import { tell, warn } from "~/kit/notes";
import { plural } from "~/kit/words";
import type { Dropped, Target } from "~/sheet/dropped";
import { awaited, type Lost, type Sending } from "./again";
import { sumOfFile } from "./sums";
import { announceFiles, beginIntake, loadIntake } from "./acts";

type Intake = Schema["Intake"];

interface Kept {
  brand: string;
  intake: number;
  file: File;
}

interface Queue {
  sending: Sending[];
  /** Files of intakes of mine that this browser has lost: chosen again, they go on where they were. */
  lost: Lost[];
}

/** useQueue is what travels from this browser. Files are kept in the browser until they are there, so that a reload or a
 * closed tab loses nothing; what came of them is told by the intakes. */
export const useQueue = create<Queue>(() => ({ sending: [], lost: [] }));

const atOnce = 3;
const pieces = 8 * 1024 * 1024;
const running = new Map<string, Upload>();
const loadTus = ahead(() => import("tus-js-client"));
let tus: Awaited<ReturnType<typeof loadTus>> | undefined;
const keyOf = (code: string) => `upload ${code}`;

/** What the intakes say about their turn: those that were moved ahead come first, paused ones not at all. */
let turns = new Map<number, { paused: boolean; ahead: number }>();

/** bringIn opens an intake for files, starts sending them, and gives its id. */
export async function bringIn(brand: string, dropped: Dropped, target: Target): Promise<number | undefined> {
  const { files, leftOut, unread } = dropped;
  if (unread.length > 0) warn(notRead(unread));
  if (files.length === 0) {
    if (leftOut > 0) tell(`Nothing to bring in: ${plural(leftOut, "hidden or system file")} left out.`);
    return undefined;
  }
  const { again, others } = awaited(files, useQueue.getState().lost);
  if (again.length > 0) {
    takeAgain(brand, again);
    tell(`${plural(again.length, "file")} of before ${again.length === 1 ? "goes" : "go"} on, with the destination and the words of then`);
  }
  if (others.length === 0) return again[0]!.sending.intake;
  try {
    const intake = await beginIntake(brand, {
      ...target,
      leftOut,
      files: others.map((f) => ({ name: f.file.name, path: f.path || undefined, bytes: f.file.size })),
    });
    const sending = intake.files
      .filter((f) => f.state === "waiting")
      .map((f): Sending => ({ code: f.code, intake: intake.id, file: others[f.number - 1]!.file, sent: 0, state: "reading" }));
    const renamed = intake.files.filter((f) => f.name !== others[f.number - 1]!.file.name.normalize("NFC"));
    if (renamed.length > 0) tell(calledOtherwise(others[renamed[0]!.number - 1]!.file.name, renamed[0]!.name, renamed.length));
    turns.set(intake.id, { paused: false, ahead: 0 });
    useQueue.setState((s) => ({ sending: [...s.sending, ...sending] }));
    void readOn(brand);
    void keepAll(brand, intake.id, sending);
    return intake.id;
  } catch (error) {
    warn(messageOf(error));
    return undefined;
  }
}

/** calledOtherwise says that a name was changed, to one that every system takes. */
function calledOtherwise(was: string, is: string, n: number) {
  const others = n > 1 ? ` ${plural(n - 1, "other name")} ${n === 2 ? "was" : "were"} changed, too.` : "";
  return `“${was}” is called “${is}” here: its name holds what not every computer takes.${others}`;
}

/** takeAgain goes on with files that an intake waits for. */
function takeAgain(brand: string, again: { sending: Sending }[]) {
  const codes = new Set(again.map((a) => a.sending.code));
  useQueue.setState((s) => ({
    sending: [...s.sending, ...again.map((a) => a.sending)],
    lost: s.lost.filter((l) => !codes.has(l.code)),
  }));
  for (const intake of new Set(again.map((a) => a.sending.intake)))
    void keepAll(
      brand,
      intake,
      again.map((a) => a.sending).filter((s) => s.intake === intake),
    );
  void readOn(brand);
  next(brand);
}

/** keepAll keeps files in the browser until they are there. */
async function keepAll(brand: string, intake: number, sending: Sending[]) {
  for (const s of sending) {
    const kept: Kept = { brand, intake, file: s.file };
    await keep(keyOf(s.code), kept).catch(() => undefined); // too large to keep: it still travels
  }
  const there = new Set(useQueue.getState().sending.map((s) => s.code));
  for (const s of sending) if (!there.has(s.code)) void del(keyOf(s.code)); // settled while it was being kept
}

/** notRead names what the browser could not read of what was dropped. */
function notRead(names: string[]) {
  const named = names.slice(0, 3).map((n) => `“${n}”`);
  const more = names.length > named.length ? ` and ${plural(names.length - named.length, "other")}` : "";
  return `Not brought in, since it could not be read: ${named.join(", ")}${more}. Is it still there, and may you open it?`;
}

/** takeUp goes on with what was on its way when the page was left. */
export async function takeUp(brand: string, mine: Intake[]) {
  const open = await Promise.all(
    mine.filter((i) => !i.finished && i.source === "upload").map((i) => loadIntake(brand, i.id).catch(() => undefined)),
  );
  const waiting = new Map(
    open.flatMap((i) => i?.files.filter((f) => f.state === "waiting").map((f) => [f.code, { ...f, intake: i.id }] as const) ?? []),
  );
  const known = new Set(useQueue.getState().sending.map((s) => s.code));
  const found: Sending[] = [];
  for (const [key, value] of (await entries()) as [string, Kept][]) {
    const code = String(key).replace("upload ", "");
    if (value.brand !== brand || known.has(code)) continue;
    const file = waiting.get(code);
    if (file)
      found.push({ code, intake: value.intake, file: value.file, sent: 0, state: file.announced ? "queued" : "reading", begun: true });
    else await del(key);
  }
  const here = new Set([...known, ...found.map((f) => f.code)]);
  const lost = [...waiting.values()].filter((f) => !here.has(f.code));
  useQueue.setState((s) => ({
    sending: [...s.sending, ...found],
    lost: lost.map((f) => ({
      code: f.code,
      intake: f.intake,
      name: f.name,
      path: f.path ?? "",
      bytes: f.bytes ?? -1,
      announced: !!f.announced,
    })),
  }));
  void readOn(brand);
  next(brand);
}

/** steer follows what was decided about intakes, here or on another screen: paused, moved ahead, going on. */
export function steer(brand: string, intakes: Intake[]) {
  turns = new Map(intakes.map((i) => [i.id, { paused: i.paused, ahead: i.ahead ? new Date(i.ahead).getTime() : 0 }]));
  for (const s of useQueue.getState().sending) {
    if (s.state === "sending" && turns.get(s.intake)?.paused) {
      void running.get(s.code)?.abort();
      running.delete(s.code);
      change(s.code, { state: "queued" });
    }
  }
  void readOn(brand);
  next(brand);
}

function inTurn(state: Sending["state"]) {
  const turn = (s: Sending) => turns.get(s.intake) ?? { paused: false, ahead: 0 };
  return useQueue
    .getState()
    .sending.filter((s) => s.state === state && !turn(s).paused)
    .sort((a, b) => turn(b).ahead - turn(a).ahead || a.intake - b.intake);
}

let reading = false;

/** readOn reads the sums of files one after the other and announces them, a few at a time. */
async function readOn(brand: string) {
  if (reading) return;
  reading = true;
  try {
    for (let some = inTurn("reading").slice(0, announcedAtOnce); some.length > 0; some = inTurn("reading").slice(0, announcedAtOnce)) {
      const first = some[0]!.intake;
      const sums: { code: string; sum: string }[] = [];
      for (const s of some.filter((x) => x.intake === first)) {
        const sum = await sumOfFile(s.code, s.file);
        if (sum) sums.push({ code: s.code, sum });
        else change(s.code, { state: "queued" });
        if (s.file.size > longFile) break; // what was read is not kept waiting for the next long one
      }
      if (sums.length > 0) await announce(brand, first, sums);
      next(brand);
    }
  } finally {
    reading = false;
  }
}

const announcedAtOnce = 12;
const longFile = 64 * 1024 * 1024;

/** announce tells the server which files these are. What is here already is settled with that and does not travel. */
async function announce(brand: string, intake: number, files: { code: string; sum: string }[]) {
  try {
    const told = await announceFiles(brand, intake, files);
    const states = new Map(told.files.map((f) => [f.code, f.state]));
    for (const f of files) {
      if (states.get(f.code) === "waiting") change(f.code, { state: "queued" });
      else done(brand, f.code);
    }
  } catch {
    for (const f of files) change(f.code, { state: "queued" }); // the server reads the sums itself
  }
}

function next(brand: string) {
  if (!tus) {
    if (inTurn("queued").length === 0) return;
    const again = () => next(brand);
    loadTus().then(
      (loaded) => {
        tus = loaded;
        again();
      },
      () => setTimeout(again, 2000), // there is no connection to send over, either
    );
    return;
  }
  for (const s of inTurn("queued")) {
    if (running.size >= atOnce) return;
    if (!running.has(s.code)) send(brand, s);
  }
}

function change(code: string, by: Partial<Sending>) {
  useQueue.setState((q) => ({ sending: q.sending.map((s) => (s.code === code ? { ...s, ...by } : s)) }));
}

function done(brand: string, code: string) {
  running.delete(code);
  void del(keyOf(code));
  useQueue.setState((q) => ({ sending: q.sending.filter((s) => s.code !== code) }));
  next(brand);
}

function send(brand: string, s: Sending) {
  if (!tus) return;
  const endpoint = `/api/brands/${brand}/uploads`;
  const at = `${endpoint}/${s.code}`;
  const upload = new tus.Upload(s.file, {
    endpoint,
    uploadUrl: s.begun ? at : undefined, // where it stands if it may have been begun; otherwise it is made new
    metadata: { code: s.code },
    chunkSize: pieces,
    retryDelays: [500, 1000, 2000, 4000, 8000, 15000, 30000, 60000],
    storeFingerprintForResuming: false,
    onShouldRetry: (error) => {
      upload.options.uploadUrl = at; // it may be there though the answer was lost
      const status = error.originalResponse?.getStatus() ?? 0;
      return status !== 401 && status !== 403 && status !== 410;
    },
    onProgress: (sent) => change(s.code, { sent }),
    onSuccess: () => done(brand, s.code),
    onError: (error) => {
      const status = "originalResponse" in error ? (error.originalResponse?.getStatus() ?? 0) : 0;
      running.delete(s.code);
      if (status === 410 || status === 404) {
        done(brand, s.code); // cancelled, or all there
        return;
      }
      change(s.code, { state: "stopped" });
      if (status === 401) useSession.setState({ signedOut: true });
      else {
        const why = status >= 500 ? "the server cannot keep what is sent; its disk may be full" : "the server does not answer";
        warn(`${s.file.name} has stopped: ${why}. What was sent is safe; it goes on from there.`);
      }
      next(brand);
    },
  });
  running.set(s.code, upload);
  change(s.code, { state: "sending", begun: true });
  upload.start();
}

/** goOn sends again what has stopped. */
export function goOn(brand: string) {
  useQueue.setState((q) => ({ sending: q.sending.map((s) => (s.state === "stopped" ? { ...s, state: "queued" } : s)) }));
  next(brand);
}

/** forget stops sending the files of an intake that was cancelled. */
export function forget(brand: string, intake: number) {
  for (const s of useQueue.getState().sending.filter((x) => x.intake === intake)) {
    void running.get(s.code)?.abort();
    done(brand, s.code);
  }
}
