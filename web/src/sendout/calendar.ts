import type { Schema } from "~/api/client";

export type CalendarPost = Schema["CalendarPost"];

/** pad writes a number with two digits. */
const pad = (n: number) => String(n).padStart(2, "0");

/** dayKey is a day as 2026-11-28. */
export const dayKey = (date: Date) => `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`;

/** fromKey is noon of a day: a time that no clock leaves out. */
export const fromKey = (key: string) => new Date(`${key}T12:00:00`);

/** addDays is a day so many days later. */
export function addDays(key: string, days: number) {
  const date = fromKey(key);
  date.setDate(date.getDate() + days);
  return dayKey(date);
}

/** monday is the first day of the week of a day. */
export const monday = (key: string) => addDays(key, -((fromKey(key).getDay() + 6) % 7));

/** daysOf are the days that a month or a week shows: whole weeks from Monday. */
export function daysOf(view: "month" | "week", key: string): string[] {
  if (view === "week") return Array.from({ length: 7 }, (_, i) => addDays(monday(key), i));
  const first = monday(`${key.slice(0, 8)}01`);
  const days: string[] = [];
  for (let day = first; days.length % 7 !== 0 || days.length === 0 || day.slice(0, 7) === key.slice(0, 7); day = addDays(day, 1))
    days.push(day);
  return days;
}

/** byDay lays posts on the days that clocks of their pages show. */
export function byDay(posts: CalendarPost[]): Map<string, CalendarPost[]> {
  const out = new Map<string, CalendarPost[]>();
  for (const p of posts) {
    const day = (p.wall || p.due).slice(0, 10);
    out.set(day, [...(out.get(day) ?? []), p]);
  }
  for (const day of out.values()) day.sort((a, b) => a.wall.localeCompare(b.wall));
  return out;
}

/** otherMonth is the same day of another month, or its last one. */
export function otherMonth(key: string, by: number) {
  const date = fromKey(`${key.slice(0, 8)}01`);
  date.setMonth(date.getMonth() + by);
  const last = new Date(date.getFullYear(), date.getMonth() + 1, 0).getDate();
  return `${dayKey(date).slice(0, 8)}${pad(Math.min(Number(key.slice(8)), last))}`;
}
