/** A payment that failed is tried again, and said: on the day, on day 3, and on the last day before the doors are shut. */
import { daysBetween, plusDays } from "../prices/periods";

/** Days on which it is tried and told, from the day that it failed (`failedOn`) to the first day on which the doors are shut. */
export function triesOf(failedOn: string, graceUntil: string): string[] {
  const last = plusDays(graceUntil, -1);
  const days = [failedOn, plusDays(failedOn, 3), last].filter((d) => d >= failedOn && d <= last);
  return [...new Set(days)].sort();
}

/** The next of them after a day; null where there is none. */
export const nextTry = (failedOn: string, graceUntil: string, day: string): string | null =>
  triesOf(failedOn, graceUntil).find((d) => d > day) ?? null;

/** Days of grace from `day` on, today among them; both are YYYY-MM-DD. */
export const daysLeft = (graceUntil: string, day: string): number => Math.max(0, daysBetween(day, graceUntil));
