/** Money a month: what all that is paid for comes to in a month, and what moved it. */

import { monthsOf } from "../prices/cycles";
import { rounded } from "../prices/money";
import { amountOf, type Terms } from "./change";

/** What a period costs, spread over its months: a year counts as a twelfth of it. Minor units. */
export const monthly = (t: Pick<Terms, "each" | "seats" | "cycle">): number => rounded(BigInt(amountOf(t)), BigInt(monthsOf(t.cycle)));

export interface Worth {
  readonly company: string;
  readonly plan: string;
  readonly monthly: number;
}

export interface Moved {
  readonly at: number;
  readonly now: number;
  readonly come: number;
  readonly gone: number;
  readonly more: number;
  readonly less: number;
}

/** From one state of things to another: what came is new companies, what went is those that pay no more, the rest pays more or less. */
export function moved(before: readonly Worth[], after: readonly Worth[]): Moved {
  const was = new Map(before.map((w) => [w.company, w.monthly]));
  const is = new Map(after.map((w) => [w.company, w.monthly]));
  const total = (m: ReadonlyMap<string, number>): number => [...m.values()].reduce((a, b) => a + b, 0);
  const of = (pick: (a: number, b: number) => number): number =>
    [...new Set([...was.keys(), ...is.keys()])].reduce((n, c) => n + pick(was.get(c) ?? 0, is.get(c) ?? 0), 0);
  return {
    at: total(was),
    now: total(is),
    come: of((a, b) => (a === 0 ? b : 0)),
    gone: of((a, b) => (b === 0 ? a : 0)),
    more: of((a, b) => (a > 0 && b > a ? b - a : 0)),
    less: of((a, b) => (b > 0 && b < a ? a - b : 0)),
  };
}
