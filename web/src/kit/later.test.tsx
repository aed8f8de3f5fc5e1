// @vitest-environment happy-dom
import { act } from "react";
import { createRoot } from "react-dom/client";
import { afterEach, expect, test, vi } from "vitest";
import { later, loadAhead } from "./later";
import { shown } from "./onPage";

afterEach(() => {
  document.body.replaceChildren();
  vi.restoreAllMocks();
});

const Words = ({ words }: { words: string }) => <p>{words}</p>;

test("a part is loaded when it is shown, once", async () => {
  const load = vi.fn(async () => Words);
  const Part = later(load);
  expect(load).not.toHaveBeenCalled();
  const first = await shown(<Part words="kites" />);
  expect(first.textContent).toBe("kites");
  expect((await shown(<Part words="again" />)).textContent).toBe("again");
  expect(load).toHaveBeenCalledTimes(1);
});

test("what was loaded ahead is there at once, so that no key is lost on the way", async () => {
  const Part = later(async () => Words);
  vi.stubGlobal("requestIdleCallback", (run: () => void) => queueMicrotask(run));
  await act(async () => {
    loadAhead();
    await new Promise((resolve) => setTimeout(resolve, 20));
  });
  const at = document.body.appendChild(document.createElement("div"));
  act(() => createRoot(at).render(<Part words="at once" />)); // nothing is waited for
  expect(at.textContent).toBe("at once");
  vi.unstubAllGlobals();
});

test("what cannot be loaded says so in its place, and nothing else goes with it", async () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const Part = later<object>(async () => {
    throw new TypeError("Failed to fetch dynamically imported module: /assets/gone.js");
  });
  const at = await shown(
    <>
      <Part />
      <p>the rest</p>
    </>,
  );
  expect(at.querySelector("[role=alert]")?.textContent).toContain("could not be loaded");
  expect(at.querySelector("button")?.textContent).toBe("Load the page again");
  expect(at.textContent).toContain("the rest");
});

test("any other fault is none of its business", async () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const Part = later<object>(async () => () => {
    throw new Error("a fault of ours");
  });
  await expect(shown(<Part />)).rejects.toThrow("a fault of ours");
});
