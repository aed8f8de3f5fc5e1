import { expect, test } from "vitest";
import { placeOfThing, thingsAt } from "./things";

const parking = {
  folders: [
    { id: 7, name: "Spring", parked: false },
    { id: 8, name: "Last year", parked: true },
  ],
  things: [
    { id: 1, folder: 7, parked: false },
    { id: 2, folder: 7, parked: true },
    { id: 3, folder: 8, parked: false },
    { id: 4, parked: true },
    { id: 5, folder: 99, parked: false },
  ],
};
const all = [1, 2, 3, 4, 5, 6].map((id) => ({ id, name: `Gallery ${id}` }));
const at = (place: "open" | "parked" | number, words = "") => thingsAt(all, parking, place, words, (t) => t.name).map((t) => t.id);

test("things lie open, in folders or parked, and search finds all of them", () => {
  expect(at("open")).toEqual([5, 6]); // the folder of 5 is gone
  expect(at(7)).toEqual([1]);
  expect(at(8)).toEqual([3]);
  expect(at("parked")).toEqual([2, 3, 4]);
  expect(at("open", "gallery 4")).toEqual([4]);
  expect(at(7, "GALL 3")).toEqual([3]);
  expect(at("open", "nothing")).toEqual([]);
  expect(placeOfThing(parking, 3)).toMatchObject({ parked: true, own: false, folder: { name: "Last year" } });
});
