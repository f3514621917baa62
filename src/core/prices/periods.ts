/**
 * Periods of a subscription: months or years anchored to the day on which it began. Where a month has no such day its last one counts, and
 * the next month has the day again: 31 January, 28 February, 31 March. Dates are calendar dates of the subscription's own zone.
 */
import { type Cycle, monthsOf } from "./cycles";

export interface Period {
  /** From 0, counted from the anchor. */
  readonly n: number;
  readonly from: string;
  /** The first day that is no part of it any more. */
  readonly until: string;
}

const DAY = 86_400_000;
const at = (date: string): number => Date.parse(`${date}T00:00:00Z`);
const text = (ms: number): string => new Date(ms).toISOString().slice(0, 10);

/** Whole days from one date to another; a calendar's days have no hours, so no clock change is in them. */
export const daysBetween = (from: string, until: string): number => Math.round((at(until) - at(from)) / DAY);
/** A date (YYYY-MM-DD) so many days later, or earlier. */
export const plusDays = (date: string, days: number): string => text(at(date) + days * DAY);

/** The first day of the n-th period. */
export function startOf(anchor: string, cycle: Cycle, n: number): string {
  const [y, m, d] = anchor.split("-").map(Number) as [number, number, number];
  const months = y * 12 + (m - 1) + n * monthsOf(cycle);
  const [year, month] = [Math.floor(months / 12), months % 12];
  const last = new Date(Date.UTC(year, month + 1, 0)).getUTCDate();
  return text(Date.UTC(year, month, Math.min(d, last)));
}

/**
 * The n-th period from an anchor on, counted from 0: a price by the month begins each on the anchor's day, or the last of a shorter
 * month.
 */
export const periodOf = (anchor: string, cycle: Cycle, n: number): Period => ({
  n,
  from: startOf(anchor, cycle, n),
  until: startOf(anchor, cycle, n + 1),
});

/** The period that a day is in; null before the anchor. */
export function periodAt(anchor: string, cycle: Cycle, day: string): Period | null {
  if (day < anchor) return null;
  const months = (Number(day.slice(0, 4)) - Number(anchor.slice(0, 4))) * 12 + Number(day.slice(5, 7)) - Number(anchor.slice(5, 7));
  const about = Math.floor(months / monthsOf(cycle));
  // The anchor's day may still be to come in this month, or year.
  const n = startOf(anchor, cycle, about) <= day ? about : about - 1;
  return periodOf(anchor, cycle, n);
}
