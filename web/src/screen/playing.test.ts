import { expect, test } from "vitest";
import { drift, filled, isOn, next, type Item, type OnScreen } from "./playing";

const item = (code: string, width = 4, height = 3) => ({ code, width, height }) as Item;

test("the hours of a screen hold without a network", () => {
  const show = {
    switches: [
      { at: "2026-11-27T08:00:00Z", on: false },
      { at: "2026-11-27T09:00:00Z", on: true },
      { at: "2026-11-27T20:00:00Z", on: false },
    ],
  } as OnScreen;
  expect([8, 9, 19, 20, 23].map((h) => isOn(show, Date.UTC(2026, 10, 27, h)))).toEqual([false, true, true, false, false]);
  expect(isOn({} as OnScreen, 0)).toBe(true);
});

test("a picture fills the screen unless too little of it would stay", () => {
  const wide = { width: 1920, height: 1080 };
  expect(filled(item("a", 3, 2), wide, "fill")).toBe(true);
  expect(filled(item("a", 2, 3), wide, "fill")).toBe(false);
  expect(filled(item("a", 2, 3), { width: 1080, height: 1920 }, "fill")).toBe(true);
  expect(filled(item("a", 3, 2), wide, "whole")).toBe(false);
});

test("one comes after the other, also where the album changes meanwhile", () => {
  const all = ["a", "b", "c"].map((c) => item(c));
  expect(next(all, "a", 0, 1)).toBe(1);
  expect(next(all, "c", 2, 1)).toBe(0);
  expect(next(all, "a", 0, -1)).toBe(2);
  expect(next(all, "gone", 1, 1)).toBe(1); // what took its place
  expect(next(all, undefined, 0, 1)).toBe(0);
  expect(next([], "a", 0, 1)).toBe(-1);
  expect(next(all, "a", 0, 7)).toBe(1);
});

test("what is shown moves a little all the time, and never far", () => {
  const places = Array.from({ length: 24 }, (_, m) => drift(m));
  expect(Math.max(...places.map((p) => Math.abs(p.x)), ...places.map((p) => Math.abs(p.y)))).toBe(6);
  expect(new Set(places.map((p) => `${p.x} ${p.y}`)).size).toBeGreaterThan(6);
});
