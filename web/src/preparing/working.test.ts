import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test, vi } from "vitest";
import type { Asset } from "~/api/client";
import type { Recipe } from "./acts";

const queries = new QueryClient();
vi.useFakeTimers();
vi.stubGlobal("window", { setTimeout, clearTimeout, addEventListener: () => undefined });
vi.mock("./acts", () => ({ setRecipe: () => Promise.resolve({ done: { trail: 7 } }) }));
vi.mock("~/api/client", () => ({ undo: vi.fn(), again: vi.fn() }));
vi.mock("~/kit/notes", () => ({ warn: vi.fn() }));
vi.mock("~/api/queries", () => ({ queries }));

const of = (recipe: Recipe) => ({ id: 1, recipe, recipeHash: JSON.stringify(recipe) }) as Asset;
const { endWork, settle, useWork, workAt } = await import("./working");
const work = () => useWork.getState().work;

/** begun is a sitting in which something was done and saved. */
async function begun(recipe: Recipe) {
  endWork();
  workAt("kites", of({}));
  settle(recipe, "something");
  await vi.advanceTimersByTimeAsync(300);
  expect(work()?.step).toBe(7);
}

test("what was saved is known again though the server keeps fewer decimals", async () => {
  await begun({ crop: { x: 0, y: 0, width: 0.7777173913, height: 0.7499342105 }, exposure: 0.7 });
  workAt("kites", of({ crop: { x: 0, y: 0, width: 0.77772, height: 0.74993 }, exposure: 0.7 }));
  expect(work()).toMatchObject({ step: 7, past: [{ what: "something" }] });
  workAt("kites", of({ crop: { x: 0, y: 0, width: 0.77772, height: 0.74993 }, exposure: 0.8 })); // by somebody else
  expect(work()?.step).toBeUndefined();
});

test("a late answer begins no new sitting, and what somebody else put back does", async () => {
  await begun({ exposure: 1 });
  let answer: (asset: Asset) => void = () => undefined;
  queries.setQueryData(["asset", 1], of({})); // of before the save
  const queryFn = () => new Promise<Asset>((go) => (answer = go));
  const ends = new QueryObserver(queries, { queryKey: ["asset", 1], queryFn, staleTime: Infinity }).subscribe(() => undefined);
  for (const [truth, step] of [[{ exposure: 1 }, 7] as const, [{}, undefined] as const]) {
    workAt("kites", of({}));
    expect(work()?.step).toBe(7);
    await vi.advanceTimersByTimeAsync(3000);
    answer(of(truth));
    await vi.advanceTimersByTimeAsync(10);
    expect(work()?.step).toBe(step);
  }
  ends();
});
