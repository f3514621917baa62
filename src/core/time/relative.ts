/** Relative dates, resolved in the portal's time zone. Calendar dates are `YYYY-MM-DD` throughout. */

export type DateAnchor = "today" | "start of week" | "start of month" | "start of year" | "now";

const formats = new Map<string, Intl.DateTimeFormat>();

/** The calendar date at an instant (milliseconds since the epoch) in an IANA time zone. */
export function dateIn(now: number, timeZone: string): string {
  let f = formats.get(timeZone);
  if (!f) {
    f = new Intl.DateTimeFormat("en-CA", { timeZone, year: "numeric", month: "2-digit", day: "2-digit" });
    formats.set(timeZone, f);
  }
  return f.format(now);
}

/** A date (YYYY-MM-DD) so many days later, or earlier. */
export function addDays(date: string, days: number): string {
  return new Date(Date.parse(`${date}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}

/** Weeks start on Monday (ISO 8601). */
export function anchorDate(anchor: DateAnchor, today: string): string {
  switch (anchor) {
    case "today":
    case "now":
      return today;
    case "start of week":
      return addDays(today, -((new Date(`${today}T00:00:00Z`).getUTCDay() + 6) % 7));
    case "start of month":
      return `${today.slice(0, 7)}-01`;
    case "start of year":
      return `${today.slice(0, 4)}-01-01`;
  }
}

/** True only of a date that the calendar has: 2026-02-30 is refused. */
export function isCalendarDate(s: string): boolean {
  const parts = /^(\d{4})-(\d{2})-(\d{2})$/.exec(s);
  if (!parts) return false;
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])];
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  return month >= 1 && month <= 12 && day >= 1 && day <= (month === 2 && leap ? 29 : DAYS[month - 1]!);
}

/** Days of the months in a common year of the Gregorian calendar (ISO 8601). */
const DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
