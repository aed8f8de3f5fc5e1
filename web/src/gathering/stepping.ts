/** The order of an album as it will be once all steps have been done that were pressed; the sheet shows it a moment later. */
let ahead: { album: number; ids: number[] } | undefined;
let under = 0;
let before: Promise<unknown> = Promise.resolve();
let forget: ReturnType<typeof setTimeout> | undefined;

/** How long, in milliseconds, the order that was pressed is believed after the last step was done. */
const believed = 1500;

/** stepBy moves items by one place, from where the steps before took them: five presses move by five, however fast they
 * come. Place puts them before another item, or at the end. */
export function stepBy(
  by: -1 | 1,
  album: number,
  those: number[],
  shown: number[],
  place: (before: number | undefined) => Promise<unknown>,
) {
  const ids = ahead?.album === album ? ahead.ids : shown;
  const { order, next } = stepped(ids, those, by);
  ahead = { album, ids: order };
  clearTimeout(forget);
  under++;
  before = before
    .then(() => place(next))
    .then((done) => {
      if (done === undefined) ahead = undefined; // it was refused
    })
    .finally(() => {
      if (--under === 0) forget = setTimeout(() => (ahead = undefined), believed);
    });
}

/** stepped is an order with some of its items moved by one place together, and the item that they are put before then. */
export function stepped(ids: number[], those: number[], by: -1 | 1) {
  const moving = new Set(those);
  const rest = ids.filter((id) => !moving.has(id));
  const here = ids.slice(0, ids.indexOf(those[0] ?? 0)).filter((id) => !moving.has(id)).length;
  const to = Math.min(rest.length, Math.max(0, here + by));
  return { order: [...rest.slice(0, to), ...those, ...rest.slice(to)], next: rest[to] };
}
