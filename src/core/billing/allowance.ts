/** Allowances: from what one more is taken. The month's own first, then what was bought beside it, of which what ends first. */
import type { Cycle } from "../prices/cycles";
import { periodAt } from "../prices/periods";

export interface TopUp {
  readonly id: string;
  readonly left: number;
  /** The first day on which it is gone; null where it stays. */
  readonly until: string | null;
}

export type Taken = { readonly from: "plan" } | { readonly from: "top-up"; readonly id: string };

const NEVER_ENDS = "9999-12-31";

/**
 * What one more use is taken from: the plan's own limit first, then top-ups, the one that ends first. Null where nothing is left. `day`
 * is YYYY-MM-DD.
 */
export function takeOne(limit: number, used: number, topUps: readonly TopUp[], day: string): Taken | null {
  if (used < limit) return { from: "plan" };
  const [first] = good(topUps, day).toSorted((a, b) => ((a.until ?? NEVER_ENDS) < (b.until ?? NEVER_ENDS) ? -1 : 1));
  return first ? { from: "top-up", id: first.id } : null;
}
const good = (topUps: readonly TopUp[], day: string): readonly TopUp[] =>
  topUps.filter((t) => t.left > 0 && (t.until === null || day < t.until));

/** All that may still be taken on a day. */
export const leftOf = (limit: number, used: number, topUps: readonly TopUp[], day: string): number =>
  Math.max(0, limit - used) + good(topUps, day).reduce((n, t) => n + t.left, 0);

export interface Counted {
  /** What additions of this time stand under: "2026-06", or the day on which a period began. */
  readonly key: string;
  /** The day on which it is counted anew. */
  readonly again: string;
}

/** By calendar months, or by the subscription's own periods; without one, by months. */
export function countedIn(by: "month" | "period", day: string, paid: { readonly anchor: string; readonly cycle: Cycle } | null): Counted {
  // A year's subscription has twelve allowances, each from the day of its month.
  const period = by === "period" && paid ? periodAt(paid.anchor, "month", day) : null;
  if (period) return { key: period.from, again: period.until };
  const [y, m] = [Number(day.slice(0, 4)), Number(day.slice(5, 7))];
  return { key: day.slice(0, 7), again: `${m === 12 ? y + 1 : y}-${String(m === 12 ? 1 : m + 1).padStart(2, "0")}-01` };
}
