// @vitest-environment happy-dom
import { afterEach, expect, test, vi } from "vitest";
import { press, shown, type } from "~/kit/onPage";
import { NameEntry } from "./NameEntry";

afterEach(() => document.body.replaceChildren());

const person = (id: number, name: string) => ({ id, name, group: "People", uses: 3, fromFiles: 0 });

async function entry(known = "") {
  const onName = vi.fn();
  const onLeave = vi.fn();
  const at = await shown(<NameEntry brand="b" label="Who is this" known={known} onName={onName} onLeave={onLeave} />, [
    [["tags"], [person(1, "Marla Pennick"), person(2, "Otto Brenn"), person(3, "Mara Quill"), { ...person(4, "Marram"), group: "Place" }]],
  ]);
  const field = at.querySelector("input")!;
  const offers = () => [...at.querySelectorAll("[role=option]")].map((o) => o.textContent);
  return { at, field, offers, onName, onLeave };
}

test("Enter takes who is known, however early it is pressed", async () => {
  const { field, onName, offers } = await entry();
  await type(field, "marl");
  expect(offers()[0]).toBe("Marla Pennick");
  expect(offers()).not.toContain("Marram"); // a place is nobody
  await press(field, "Enter");
  expect(onName).toHaveBeenCalledWith("Marla Pennick");
});

test("somebody new is a line of its own, the last one where somebody known is meant", async () => {
  const { field, onName, offers } = await entry();
  await type(field, "Mar");
  expect(offers().at(-1)).toBe("New person “Mar”");
  await press(field, "Enter", { ctrlKey: true });
  expect(onName).toHaveBeenCalledWith("Mar");
});

test("the new one comes first where nobody is called so", async () => {
  const { field, onName, offers } = await entry();
  await type(field, "Zelda");
  expect(offers()[0]).toBe("New person “Zelda”");
  await press(field, "Enter");
  expect(onName).toHaveBeenCalledWith("Zelda");
});

test("arrows walk, Tab completes, Escape leaves", async () => {
  const { field, onName, onLeave, offers } = await entry();
  await type(field, "mar");
  const second = offers()[1]!;
  await press(field, "ArrowDown");
  await press(field, "Tab");
  expect(field.value).toBe(second);
  await press(field, "Enter");
  expect(onName).toHaveBeenCalledWith(second);
  await press(field, "Escape");
  expect(onLeave).toHaveBeenCalledOnce();
});

test("a name that is the same but for its letters makes no second one", async () => {
  const { field, onName, offers } = await entry();
  await type(field, "otto brenn");
  expect(offers()).not.toContain("New person “otto brenn”");
  await press(field, "Enter");
  expect(onName).toHaveBeenCalledWith("Otto Brenn");
});
