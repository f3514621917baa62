/**
 * Another plan, cycle or number of seats. What costs more holds at once and is charged for the rest of the period by days; what costs
 * less holds from the period's end, and nothing is paid back. Moving to a longer cycle begins it today and takes off what is left of the old.
 */

import { type Cycle, monthsOf } from "../prices/cycles";
import { shareOf } from "../prices/money";
import { daysBetween, type Period, periodAt, periodOf } from "../prices/periods";

/** What is paid for in one period. */
export interface Terms {
  readonly plan: string;
  readonly price: string;
  readonly cycle: Cycle;
  /** Price of one seat, or of the company where there is only one price. Minor units. */
  readonly each: number;
  readonly seats: number;
}
/** For one period, in minor units. */
export const amountOf = (t: Pick<Terms, "each" | "seats">): number => t.each * t.seats;

export interface Line {
  readonly kind: "period" | "rest" | "unused" | "setup";
  readonly plan: string;
  readonly seats: number;
  readonly from: string;
  /** The first day that it is not for any more. */
  readonly until: string;
  /** Negative for what is taken off. */
  readonly amount: number;
}

export interface Change {
  readonly when: "now" | "at the end" | "nothing changes";
  /** From when on it holds. */
  readonly from: string;
  readonly lines: readonly Line[];
  readonly total: number;
  /** Where the cycle is another from now on, its anchor. */
  readonly anchor: string | null;
}

const change = (when: Change["when"], from: string, lines: readonly Line[], anchor: string | null = null): Change => ({
  when,
  from,
  lines,
  total: lines.reduce((sum, l) => sum + l.amount, 0),
  anchor,
});

const same = (a: Terms, b: Terms): boolean => a.plan === b.plan && a.price === b.price && a.seats === b.seats;

/** What a change on `day` would cost and when it would hold: shown before it is confirmed, and the same lines on the invoice after. */
export function changeOf(now: Terms, to: Terms, anchor: string, day: string): Change {
  // Where days were given the next period is counted from their end: until then it is as in the period before it, however long that lasts.
  const period = periodAt(anchor, now.cycle, day) ?? periodOf(anchor, now.cycle, -1);
  if (same(now, to)) return change("nothing changes", day, []);
  const left = daysBetween(day, period.until);
  const whole = daysBetween(period.from, period.until);
  if (now.cycle === to.cycle) {
    const more = amountOf(to) - amountOf(now);
    if (more < 0) return change("at the end", period.until, []);
    const rest: Line = { kind: "rest", plan: to.plan, seats: to.seats, from: day, until: period.until, amount: shareOf(more, left, whole) };
    return change("now", day, [rest]);
  }
  if (monthsOf(to.cycle) < monthsOf(now.cycle)) return change("at the end", period.until, []);
  const unused: Line = {
    kind: "unused",
    plan: now.plan,
    seats: now.seats,
    from: day,
    until: period.until,
    amount: -shareOf(amountOf(now), left, whole),
  };
  return change("now", day, [unused, periodLine(to, periodOf(day, to.cycle, 0))], day);
}

export const periodLine = (t: Terms, { from, until }: Period): Line => ({
  kind: "period",
  plan: t.plan,
  seats: t.seats,
  from,
  until,
  amount: amountOf(t),
});
