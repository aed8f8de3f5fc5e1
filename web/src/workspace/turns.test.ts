import { expect, test } from "vitest";
import { lastTakenBack } from "./turns";

const step = (turn: "done" | "taken_back" | "again", undone = false) => ({ turn, undone, undoable: !undone });

test("doing again goes back through what was undone, one after the other", () => {
  const first = step("taken_back");
  const second = step("taken_back");
  expect(lastTakenBack([second, first, step("done", true)])).toBe(second);
  expect(lastTakenBack([step("again"), { ...second, undone: true }, first, step("done", true)])).toBe(first);
});

test("what was done since ends it", () => {
  expect(lastTakenBack([step("done"), step("taken_back")])).toBeUndefined();
  expect(lastTakenBack([])).toBeUndefined();
});
