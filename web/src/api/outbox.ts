import { create } from "zustand";

/**
 * What is sent while there is no connection waits here, in the order in which it was done, and is sent when the connection is back, also
 * after a reload: only what comes out the same when it is sent twice, since an answer can be lost on its way.
 */

interface Waiting {
  id: number;
  method: string;
  address: string;
  body: string;
}

/** useConnection says whether the server is out of reach, how many changes wait for it, and which items they are about. */
export const useConnection = create<{ away: boolean; waiting: number; items: ReadonlySet<number> }>(() => ({
  away: false,
  waiting: 0,
  items: new Set(),
}));

const key = "waiting-acts";
const between = 2000; // milliseconds until the server is looked for again
const mostWaiting = 500;

/** What may wait: verdicts, tags and words of many; stars that are counted down do not come out the same twice. A field of one
 * item keeps what was typed by itself, and asks when somebody else wrote there meanwhile. */
const may: [method: string, path: RegExp][] = [
  ["POST", /^\/api\/brands\/[^/]+\/(stars|stage|keepers|tags|words)$/],
  ["POST", /^\/api\/brands\/[^/]+\/satchel$/],
];
const kindWaits = (method: string, path: string) => may.some(([m, p]) => m === method && p.test(path));
const mayWait = (method: string, path: string, body: string) =>
  kindWaits(method, path) && !/"fewer":true|"how":"(before|after)"/.test(body);

/** The acts of this window that wait; whoever did them is told by the promise, after a reload nobody is. */
const answers = new Map<number, (response: Response) => void>();
let waiting = read();
let last = Math.max(0, ...waiting.map((w) => w.id));
let sending = false;
let unheard: (response: Response) => void = () => undefined;

function read(): Waiting[] {
  try {
    const kept: unknown = JSON.parse(sessionStorage.getItem(key) ?? "[]");
    return Array.isArray(kept) ? (kept as Waiting[]) : [];
  } catch {
    return [];
  }
}

function keep(all: Waiting[]) {
  waiting = all;
  try {
    sessionStorage.setItem(key, JSON.stringify(all));
  } catch {
    // it waits in this window only
  }
  useConnection.setState({ waiting: all.length, items: new Set(all.flatMap(itemsOf)) });
}

/** itemsOf are the items that a waiting act names; one about everything that is shown names none. */
function itemsOf({ body }: Waiting): number[] {
  const said = JSON.parse(body) as { ids?: number[]; selection?: { ids?: number[] } };
  return said.selection?.ids ?? said.ids ?? [];
}

/** whenUnheard is told the answers to acts of before a reload, and sends them. */
export function whenUnheard(tell: (response: Response) => void) {
  unheard = tell;
  keep(waiting);
  if (waiting.length > 0) void send();
}

/** deliver sends a request that changes something. What may wait waits its turn while there is no connection. */
export async function deliver(request: Request): Promise<Response> {
  const path = new URL(request.url).pathname;
  const body = kindWaits(request.method, path) ? await request.clone().text() : "";
  if (!mayWait(request.method, path, body)) return reach(() => fetch(request));
  if (waiting.length === 0) {
    try {
      return await fetch(request);
    } catch {
      lost();
    }
  }
  if (waiting.length >= mostWaiting) throw new TypeError("too much waits");
  const id = ++last;
  keep([...waiting, { id, method: request.method, address: path, body }]);
  const answer = new Promise<Response>((resolve) => answers.set(id, resolve));
  void send();
  return answer;
}

async function reach<T>(ask: () => Promise<T>): Promise<T> {
  try {
    return await ask();
  } catch (error) {
    if (!(error instanceof DOMException && error.name === "AbortError")) lost(); // what nobody waits for any more is no loss
    throw error;
  }
}

/** send sends what waits, one after the other. */
async function send() {
  if (sending) return;
  sending = true;
  try {
    while (waiting[0]) {
      const { id, method, address, body } = waiting[0];
      const headers = { "Content-Type": "application/json" };
      const response = await fetch(address, { method, body, headers });
      if (response.status === 429 || response.status === 503) break; // it is asked for again
      keep(waiting.slice(1));
      (answers.get(id) ?? unheard)(response);
      answers.delete(id);
    }
  } catch {
    lost();
  }
  sending = false;
  if (waiting.length > 0) setTimeout(() => void send(), between);
}

let looking: ReturnType<typeof setTimeout> | undefined;

/** lost notes that the server was not reached, and looks for it until it is. */
export function lost() {
  looking ??= setTimeout(() => void look(), 300);
}

async function look() {
  try {
    const answer = await fetch("/healthz", { cache: "no-store", signal: AbortSignal.timeout(5000) });
    if (answer.ok) {
      looking = undefined;
      useConnection.setState({ away: false });
      if (waiting.length > 0) void send();
      return;
    }
  } catch {
    // it is away
  }
  useConnection.setState({ away: true });
  looking = setTimeout(() => void look(), between);
}

window.addEventListener("offline", lost);
