const typed = /^(\d{4}-\d{2}-\d{2})[ T](\d{1,2}:\d{2})(:\d{2})?$/;

/** seconds since 1970 of a wall time as if in UTC; undefined where it is none. */
function secondsOf(text: string): number | undefined {
  const parts = typed.exec(text.trim().replace(/\.\d+$/, ""));
  if (!parts) return undefined;
  const at = Date.parse(`${parts[1]}T${parts[2]!.padStart(5, "0")}${parts[3] ?? ":00"}Z`);
  return Number.isNaN(at) ? undefined : at / 1000;
}

/** apart is by how many seconds a clock that showed one wall time was slow when it really was another. Seconds that nobody
 * typed are those of the clock. */
export function apart(shown: string | undefined, really: string): number | undefined {
  const was = secondsOf(shown ?? "");
  const is = secondsOf(really);
  if (was === undefined || is === undefined) return undefined;
  return is - was + (typed.exec(really.trim())![3] ? 0 : was % 60);
}

/** amountOf is a time in seconds. */
export const amountOf = (a: { days: string; hours: string; minutes: string }) =>
  Number(a.days) * 86400 + Number(a.hours) * 3600 + Number(a.minutes) * 60;

/** wallTime is a wall time some seconds later, in the form in which it is kept. */
export function wallTime(from: string, seconds: number): string | undefined {
  const at = secondsOf(from);
  return at === undefined ? undefined : new Date((at + seconds) * 1000).toISOString().slice(0, 19);
}
