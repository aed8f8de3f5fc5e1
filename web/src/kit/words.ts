/** items says how many items, in words. */
export const items = (n: number) => plural(n, "item");

/** plural says how many of something, in words. */
export const plural = (n: number, noun: string) => `${n.toLocaleString("en-GB")} ${noun}${n === 1 ? "" : "s"}`;

/** listed joins names as a sentence does: at most five of them, and how many more there are. */
export const listed = (names: string[]) =>
  new Intl.ListFormat("en-GB").format(names.length > 5 ? [...names.slice(0, 4), `${names.length - 4} more`] : names);

/** titleOf is what an item is called: its title, or the name of its file. */
export const titleOf = (row: { title: string; fileName: string }) => row.title || row.fileName;

/** daysLeft says how long something stays in the bin. */
export const daysLeft = (n: number) => `${plural(n, "day")} left`;

/** bytes says a size in a unit that people read. */
export function bytes(n: number) {
  if (n < 1000) return `${n} bytes`;
  const units = ["kB", "MB", "GB", "TB"];
  let i = -1;
  do {
    n /= 1000;
    i++;
  } while (n >= 999.5 && i < units.length - 1);
  return `${n < 10 ? n.toFixed(1) : Math.round(n)} ${units[i]}`;
}

/** duration says seconds as minutes and seconds. */
export const duration = (seconds: number) => `${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, "0")}`;

/** moment says a local time without a zone, such as a camera's, as people write it. */
export function moment(local: string) {
  return new Date(`${local}Z`).toLocaleString("en-GB", {
    timeZone: "UTC",
    day: "numeric",
    month: "long",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  });
}

/** shortMoment is moment for a narrow column. */
export function shortMoment(local: string) {
  return new Date(`${local}Z`).toLocaleString("en-GB", {
    timeZone: "UTC",
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  });
}

/** when says how long ago something was, or on which day. */
export function when(at: string) {
  const date = new Date(at);
  const minutes = Math.round((Date.now() - date.getTime()) / 60000);
  if (minutes < 1) return "just now";
  if (minutes < 60) return `${plural(minutes, "minute")} ago`;
  if (minutes < 24 * 60) return `${plural(Math.round(minutes / 60), "hour")} ago`;
  return date.toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });
}

/** exactly is a moment in full, for a tooltip. */
export const exactly = (at: string) => new Date(at).toLocaleString("en-GB", { dateStyle: "full", timeStyle: "medium" });

/** clockOf is what clocks show somewhere, such as 2026-11-28T09:00, as people write it. */
const clockOf = (wall: string) => new Date(`${wall}Z`).toLocaleString("en-GB", { dateStyle: "long", timeStyle: "short", timeZone: "UTC" });

/** clockIn is that, with the place whose clocks they are. */
export const clockIn = (wall: string, zone: string | undefined) => clockOf(wall) + (zone ? ` in ${zoneName(zone)}` : "");

/** zoneName is a time zone, such as America/New_York, as people say it. */
export const zoneName = (zone: string) => zone.split("/").at(-1)!.replaceAll("_", " ");

/** dayOf is the day of a moment here, as people say it. */
export function dayOf(at: string, now = new Date()) {
  const date = new Date(at);
  const days = Math.round((new Date(now).setHours(0, 0, 0, 0) - new Date(date).setHours(0, 0, 0, 0)) / 86_400_000);
  if (days === 0) return "Today";
  if (days === 1) return "Yesterday";
  return date.toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long", year: "numeric" });
}

/** dayName is a day such as 2026-12-31 as people write it. */
export const dayName = (day: string) =>
  new Date(`${day}T12:00:00`).toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });

/** timeOf is the time of day of a moment here. */
export const timeOf = (at: string) => new Date(at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

/** tint turns 0xRRGGBB into a CSS colour: the one of a picture, not of the interface. */
export const tint = (n: number) => `#${n.toString(16).padStart(6, "0")}`;

/** binned says what becomes of items that go to the bin. */
export const binned = (n: number) =>
  n === 1
    ? "1 item goes to the bin. It stays there for 60 days and can be put back."
    : `${items(n)} go to the bin. They stay there for 60 days and can be put back.`;
