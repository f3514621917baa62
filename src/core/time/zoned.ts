/** Instants are stored in UTC; shown and typed is the local time of the portal's zone. */
import { TZDate } from "@date-fns/tz";

/** Year to minute, as `YYYY-MM-DDTHH:MM` reads on a wall in the zone. */
export function wallTime(instant: string, timeZone: string): string {
  const at = new TZDate(instant, timeZone);
  const two = (n: number): string => String(n).padStart(2, "0");
  const date = `${String(at.getFullYear()).padStart(4, "0")}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
  return `${date}T${two(at.getHours())}:${two(at.getMinutes())}`;
}

/**
 * The instant of a wall's time, as `toISOString` writes it. A time that the zone skips is moved on by as much as is skipped, and one that it
 * has twice is the first (common practice; TC39 Temporal calls it "compatible").
 */
export function instantOf(wall: { date: string; hours: number; minutes: number; seconds: number }, timeZone: string): string {
  // No clock is ever put back there, and whole files are read in it before a zone is known.
  if (timeZone === "UTC")
    return `${wall.date}T${[wall.hours, wall.minutes, wall.seconds].map((n) => String(n).padStart(2, "0")).join(":")}.000Z`;
  const [year, month, day] = wall.date.split("-").map(Number) as [number, number, number];
  const at = new TZDate(year, month - 1, day, wall.hours, wall.minutes, wall.seconds, timeZone);
  const found = new Date(at.getTime()).toISOString();
  // Clocks go back by an hour, on Lord Howe Island by half of one.
  for (const back of [60, 30]) {
    const earlier = new Date(at.getTime() - back * 60_000).toISOString();
    if (wallTime(earlier, timeZone) === wallTime(found, timeZone)) return earlier;
  }
  return found;
}

/** The moment at which a date begins in a time zone, as an ISO 8601 text in UTC. */
export const startOfDay = (date: string, timeZone: string): string => instantOf({ date, hours: 0, minutes: 0, seconds: 0 }, timeZone);
