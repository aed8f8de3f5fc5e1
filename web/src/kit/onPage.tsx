import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode } from "react";
import { createRoot } from "react-dom/client";

/** What tests of components put on a page of a made-up browser, and use as a hand would. */

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

/** shown puts something on a page of its own, with what queries know already by their keys. */
export async function shown(what: ReactNode, known: [readonly unknown[], unknown][] = []) {
  const at = document.body.appendChild(document.createElement("div"));
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
  for (const [key, value] of known) queries.setQueryData(key, value);
  await act(async () => createRoot(at).render(<QueryClientProvider client={queries}>{what}</QueryClientProvider>));
  return at;
}

/** type puts words into a field, as if key by key. */
export async function type(field: HTMLInputElement, words: string) {
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!;
  for (let n = 1; n <= words.length; n++)
    await act(async () => {
      set.call(field, words.slice(0, n));
      field.dispatchEvent(new Event("input", { bubbles: true }));
    });
}

/** press presses a key where the focus is put. */
export async function press(on: HTMLElement, key: string, held: { ctrlKey?: boolean; shiftKey?: boolean } = {}) {
  await act(async () => {
    on.focus();
    on.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...held }));
  });
}

/** click presses what has a name. */
export async function click(at: HTMLElement, name: string) {
  const named = [...at.querySelectorAll<HTMLElement>("button, [role=option]")].find((e) => (e.textContent ?? "").trim() === name);
  if (!named) throw new Error(`There is no “${name}” in: ${at.textContent}`);
  await act(async () => named.click());
}

/** until waits until something holds, at most some seconds. */
export async function until(holds: () => void) {
  for (const began = Date.now(); ;) {
    await act(async () => new Promise((resolve) => setTimeout(resolve, 20)));
    try {
      return holds();
    } catch (error) {
      if (Date.now() - began > 10_000) throw error;
    }
  }
}
