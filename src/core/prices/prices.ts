/** Prices: what may become of published ones, and which of them a company is offered. */
import { type Cycle, eachOf, monthsOf } from "./cycles";

export interface PriceOf {
  readonly id: string;
  readonly plan: string;
  readonly cycle: Cycle;
  readonly per: "company" | "seat";
  readonly amount: number;
  readonly least: number;
  readonly trialDays: number;
  readonly setup: number;
  readonly retired: boolean;
}
interface Named {
  readonly id: string;
  readonly name: string;
}

const nameOf = (p: PriceOf, plans: readonly Named[]): string =>
  `the price of ${plans.find((x) => x.id === p.plan)?.name ?? "a plan"} ${eachOf(p.cycle)}`;
const terms = ({ plan, cycle, per, amount, least, trialDays, setup }: PriceOf): string =>
  JSON.stringify([plan, cycle, per, amount, least, trialDays, setup]);

/** What would become of published prices that nobody may do to them, each as a sentence: who pays one keeps it until they are moved. */
export function repriced(live: readonly PriceOf[], next: readonly PriceOf[], plans: readonly Named[]): string[] {
  const after = new Map(next.map((p) => [p.id, p]));
  return live.flatMap((p) => {
    const now = after.get(p.id);
    if (!now) return [`A published price is not taken away: retire ${nameOf(p, plans)} instead.`];
    return terms(now) === terms(p) ? [] : [`A published price is not changed: retire ${nameOf(p, plans)}, and make another.`];
  });
}

/** Two that would be offered side by side, and nobody could tell apart. */
export function repeated(prices: readonly PriceOf[], plans: readonly Named[]): string[] {
  const seen = new Set<string>();
  return prices
    .filter((p) => !p.retired)
    .flatMap((p) => {
      const key = `${p.plan} ${p.cycle} ${p.per}`;
      if (!seen.has(key)) {
        seen.add(key);
        return [];
      }
      return [`There are two of ${nameOf(p, plans)}: retire one of them.`];
    });
}

/** Prices of the plan that are offered now, shortest cycle first. */
export const offeredPrices = <P extends PriceOf>(prices: readonly P[], plan: string): P[] =>
  prices.filter((p) => p.plan === plan && !p.retired).toSorted((a, b) => monthsOf(a.cycle) - monthsOf(b.cycle));

/** Whether a company is offered the plan: all are, or those that are named. */
export const isOffered = (plan: { readonly offered: "all" | readonly string[] }, company: string | null): boolean =>
  plan.offered === "all" || (company !== null && plan.offered.includes(company));

/** What a year is proposed at: ten months' price (common practice, no source). */
export const yearOf = (month: number): number => month * 10;
