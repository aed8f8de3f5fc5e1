import { del, entries, set as keep } from "idb-keyval";
import { Upload } from "tus-js-client";
import { create } from "zustand";
import { ask, client, messageOf, useSession, type Schema } from "~/api/client";
import { warn } from "~/kit/notes";
import type { DroppedFile, Target } from "~/sheet/dropped";

/** A file on its way. */
interface Sending {
  code: string;
  intake: number;
  file: File;
  sent: number;
  state: "queued" | "sending" | "paused";
}

interface Kept {
  brand: string;
  intake: number;
  file: File;
}

interface Queue {
  sending: Sending[];
  /** Files of intakes of mine that this browser has lost, to be chosen again. */
  lost: number;
}

/** useQueue is what travels from this browser. Files are kept in the browser until they are there, so that a reload or a
 * closed tab loses nothing; what came of them is told by the intakes. */
export const useQueue = create<Queue>(() => ({ sending: [], lost: 0 }));

const atOnce = 3;
const pieces = 8 * 1024 * 1024;
const running = new Map<string, Upload>();
const keyOf = (code: string) => `upload ${code}`;

/** bringIn opens an intake for files and starts sending them. */
export async function bringIn(brand: string, files: DroppedFile[], target: Target) {
  try {
    const intake = await ask(
      client.POST("/api/brands/{brand}/intakes", {
        params: { path: { brand } },
        body: { ...target, files: files.map((f) => ({ name: f.file.name, path: f.path || undefined, bytes: f.file.size })) },
      }),
    );
    const sending: Sending[] = [];
    for (const [i, f] of intake.files.entries()) {
      if (f.state !== "waiting") continue;
      sending.push({ code: f.code, intake: intake.id, file: files[i]!.file, sent: 0, state: "queued" });
      await keep(keyOf(f.code), { brand, intake: intake.id, file: files[i]!.file } satisfies Kept).catch(() => undefined); // too large to keep: it still travels
    }
    useQueue.setState((s) => ({ sending: [...s.sending, ...sending] }));
    next(brand);
  } catch (error) {
    warn(messageOf(error));
  }
}

/** takeUp goes on with what was on its way when the page was left. */
export async function takeUp(brand: string, intakes: Schema["Intake"][]) {
  const waiting = new Map(intakes.filter((i) => i.mine).flatMap((i) => i.files.filter((f) => f.state === "waiting").map((f) => [f.code, i.id] as const)));
  const known = new Set(useQueue.getState().sending.map((s) => s.code));
  const found: Sending[] = [];
  for (const [key, value] of (await entries()) as [string, Kept][]) {
    const code = key.replace("upload ", "");
    if (value.brand !== brand || known.has(code)) continue;
    if (waiting.has(code)) found.push({ code, intake: value.intake, file: value.file, sent: 0, state: "queued" });
    else await del(key);
  }
  const here = new Set([...known, ...found.map((f) => f.code)]);
  useQueue.setState((s) => ({ sending: [...s.sending, ...found], lost: [...waiting.keys()].filter((code) => !here.has(code)).length }));
  next(brand);
}

function next(brand: string) {
  const { sending } = useQueue.getState();
  for (const s of sending) {
    if (running.size >= atOnce) return;
    if (s.state === "queued" && !running.has(s.code)) send(brand, s);
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
  const endpoint = `/api/brands/${brand}/uploads`;
  const upload = new Upload(s.file, {
    endpoint,
    uploadUrl: `${endpoint}/${s.code}`, // where it stands if it was begun; otherwise it is made new
    metadata: { code: s.code },
    chunkSize: pieces,
    retryDelays: [500, 1000, 2000, 4000, 8000, 15000, 30000, 60000],
    storeFingerprintForResuming: false,
    onShouldRetry: (error) => {
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
      change(s.code, { state: "paused" });
      if (status === 401) useSession.setState({ signedOut: true });
      else warn(`${s.file.name} has stopped: the server does not answer. What was sent is safe; it goes on from there.`);
      next(brand);
    },
  });
  running.set(s.code, upload);
  change(s.code, { state: "sending" });
  upload.start();
}

/** goOn sends again what was paused. */
export function goOn(brand: string) {
  useQueue.setState((q) => ({ sending: q.sending.map((s) => (s.state === "paused" ? { ...s, state: "queued" } : s)) }));
  next(brand);
}

/** forget stops sending the files of an intake that was cancelled. */
export function forget(brand: string, intake: number) {
  for (const s of useQueue.getState().sending.filter((x) => x.intake === intake)) {
    void running.get(s.code)?.abort();
    done(brand, s.code);
  }
}
