import { expect, test, vi } from "vitest";
import { Renewing } from "./renewing";

vi.useFakeTimers();
vi.stubGlobal("window", { setTimeout, clearTimeout });

function renewing(seen = true) {
  const loads: string[] = [];
  const page = { seen };
  const it = new Renewing(
    (key) => loads.push(key),
    () => page.seen,
    () => Date.now(),
  );
  return { it, loads, page };
}

test("of many changes in a row a list is loaded once at once, and then once a second", () => {
  const { it, loads } = renewing();
  for (let n = 0; n < 500; n++) {
    it.renew("intakes");
    vi.advanceTimersByTime(20); // ten seconds in all
  }
  expect(loads.length).toBeGreaterThanOrEqual(10);
  expect(loads.length).toBeLessThanOrEqual(11);
  vi.advanceTimersByTime(1000);
  const settled = loads.length;
  vi.advanceTimersByTime(10_000);
  expect(loads.length).toBe(settled); // nothing is loaded of which nothing was told
});

test("what one does oneself shows at once", () => {
  const { it, loads } = renewing();
  it.renew("sheet");
  it.renew("sheet");
  expect(loads).toEqual(["sheet"]);
  it.hurry();
  expect(loads).toEqual(["sheet", "sheet"]);
  it.hurry();
  it.renew("sheet");
  expect(loads.length).toBe(3);
});

test("a page in the background loads rarely, and all of it when it is looked at", () => {
  const { it, loads, page } = renewing(false);
  for (let n = 0; n < 100; n++) {
    it.renew("sheet");
    vi.advanceTimersByTime(100);
  }
  expect(loads.length).toBe(1);
  page.seen = true;
  it.hurry();
  expect(loads.length).toBe(2);
});
