let worker: Worker | undefined;
const waiting = new Map<string, (sum: string | undefined) => void>();

/** sumOfFile computes the SHA-256 of a file in a worker; undefined when the browser cannot, and then the server does. */
export function sumOfFile(key: string, file: File): Promise<string | undefined> {
  try {
    worker ??= begin();
  } catch {
    return Promise.resolve(undefined);
  }
  const w = worker;
  return new Promise((resolve) => {
    waiting.set(key, resolve);
    w.postMessage({ key, file });
  });
}

function begin() {
  const w = new Worker(new URL("./sums.worker.ts", import.meta.url), { type: "module" });
  w.onmessage = (event: MessageEvent<{ key: string; sum?: string }>) => {
    waiting.get(event.data.key)?.(event.data.sum);
    waiting.delete(event.data.key);
  };
  w.onerror = () => {
    for (const resolve of waiting.values()) resolve(undefined);
    waiting.clear();
    worker = undefined;
  };
  return w;
}
