/** What a draft changes of what is sold, one sentence each. */

import type { Definition } from "../definition/definition";
import type { Price } from "../definition/parts/plans";
import { CYCLES } from "../prices/cycles";

type Money = (minor: number) => string;

/** "£90.00 a month, 14 days of trial, £20.00 once". */
export function priceWords(x: Price, money: Money): string {
  const trial = x.trialDays > 0 ? `, ${x.trialDays === 1 ? "one day" : `${x.trialDays} days`} of trial` : "";
  const setup = x.setup > 0 ? `, ${money(x.setup)} once` : "";
  const least = x.per === "seat" && x.least > 1 ? `, ${x.least} seats at the least` : "";
  return `${money(x.amount)} ${x.per === "seat" ? CYCLES[x.cycle].eachSeat : CYCLES[x.cycle].each}${least}${trial}${setup}`;
}

/** Items of two lists by their ids: come, gone, and other than they were. */
function between<T extends { readonly id: string }>(was: readonly T[], is: readonly T[]): { come: T[]; gone: T[]; changed: T[] } {
  const before = new Map(was.map((x) => [x.id, JSON.stringify(x)]));
  const after = new Set(is.map((x) => x.id));
  return {
    come: is.filter((x) => !before.has(x.id)),
    gone: was.filter((x) => !after.has(x.id)),
    changed: is.filter((x) => before.has(x.id) && before.get(x.id) !== JSON.stringify(x)),
  };
}

/** What publishing changes about plans, prices and offers, each as a sentence. */
export function planChanges(live: Definition, next: Definition, money: Money): string[] {
  const plan = (id: string): string => [...next.plans, ...live.plans].find((p) => p.id === id)?.name ?? "a plan";
  const plans = between(live.plans, next.plans);
  const features = between(live.features, next.features);
  const prices = between(live.prices, next.prices);
  const offers = between(live.offers, next.offers);
  return [
    ...features.come.map((f) => `A new feature, ${f.name}.`),
    ...features.gone.map((f) => `The feature ${f.name} goes.`),
    ...features.changed.map((f) => `A feature is called ${f.name}.`),
    ...plans.come.map((p) => `A new plan, ${p.name}.`),
    ...plans.gone.map((p) => `The plan ${p.name} goes.`),
    ...plans.changed.map((p) => `The plan ${p.name} changes in what it is, opens, counts or is offered to.`),
    ...prices.come.map((p) => `${plan(p.plan)} at ${priceWords(p, money)}.`),
    ...prices.gone.map((p) => `${plan(p.plan)} is not offered at ${priceWords(p, money)}.`),
    ...prices.changed.map(
      (p) => `${plan(p.plan)} at ${priceWords(p, money)} is ${p.retired ? "retired: who pays it keeps it" : "offered again"}.`,
    ),
    ...[...offers.come, ...offers.changed].map((o) => `${o.name} at ${money(o.price)}, once.`),
    ...offers.gone.map((o) => `${o.name} is sold no more.`),
    ...(JSON.stringify(live.billing) === JSON.stringify(next.billing) ? [] : ["The rules of paying change."]),
  ];
}

/** What publishing changes about acts, each as a sentence. */
export function actChanges(live: Definition, next: Definition): string[] {
  const acts = between(live.acts, next.acts);
  return [
    ...acts.come.map((a) => `A new act, ${a.name}.`),
    ...acts.gone.map((a) => `The act ${a.name} goes.`),
    ...acts.changed.map((a) => `The act ${a.name} does something else.`),
  ];
}
