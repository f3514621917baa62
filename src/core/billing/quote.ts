/**
 * What somebody asks to buy, and what that comes to on a day: its lines, when it holds, and what will have happened once it is paid. Nothing
 * that a browser sends is believed but what was chosen; the server quotes again before anything is charged.
 */

import { z } from "zod";
import type { Offer, Plan, Price } from "../definition/parts/plans";
import { daysBetween, periodOf, plusDays } from "../prices/periods";
import { isOffered } from "../prices/prices";
import { changeOf, type Line, type Terms } from "./change";
import { recordsOpened } from "./opens";
import type { Happening, Subscription } from "./subscription";

export const wantedSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("plan"), price: z.string().max(64), seats: z.int().min(1).max(10_000) }),
  /** `own`: for the person alone, not for their company. */
  z.strictObject({ kind: z.literal("offer"), offer: z.string().max(64), record: z.string().max(64).nullable(), own: z.boolean() }),
  z.strictObject({ kind: z.literal("invoice"), invoice: z.string().max(64) }),
  /** Nothing is bought: another way to pay is kept. */
  z.strictObject({ kind: z.literal("method") }),
]);
export type Wanted = z.infer<typeof wantedSchema>;

export type QuoteLine = Line | { readonly kind: "offer"; readonly offer: string; readonly record: string | null; readonly amount: number };

export interface Quote {
  readonly lines: readonly QuoteLine[];
  /** When it holds: at once, after a trial, or from the end of what is paid for. */
  readonly when: "now" | "trial" | "at the end";
  /** The day from which it holds, or on which a trial is over. */
  readonly from: string;
  /** What it costs from then on, for each period. */
  readonly renewal: { readonly amount: number; readonly cycle: Terms["cycle"] } | null;
  readonly happening: Happening | null;
}

export type NoQuote =
  /** It is not sold any more, or not to this company. */
  | { readonly no: "gone" }
  | { readonly no: "already" }
  | { readonly no: "seats"; readonly least: number }
  /** Something is due first, or it is cancelled or paused. */
  | { readonly no: "due" | "ending" | "paused" };

interface Sold {
  readonly plans: readonly Plan[];
  readonly prices: readonly Price[];
}

export interface Buying {
  readonly company: string | null;
  readonly life: Subscription | null;
  /** Whether it ever had a plan: a trial is given once. */
  readonly before: boolean;
  /** People of the company that take a seat. */
  readonly people: number;
  readonly day: string;
}

/** What a company would have at this price: the price as it is now, for so many seats. */
export const termsOf = (p: Price, seats: number): Terms => ({
  plan: p.plan,
  price: p.id,
  cycle: p.cycle,
  each: p.amount,
  seats: p.per === "seat" ? seats : 1,
});

/** At the least what the price asks, and a seat for everybody who is there. */
export const leastSeats = (p: Price, people: number): number => (p.per === "seat" ? Math.max(p.least, people) : 1);

/** What a plan costs now and from its next period on, or why it cannot be chosen. */
export function quotePlan(sold: Sold, wanted: { readonly price: string; readonly seats: number }, b: Buying): Quote | NoQuote {
  const price = sold.prices.find((p) => p.id === wanted.price);
  const plan = sold.plans.find((p) => p.id === price?.plan);
  // Who pays a retired price may change their seats at it.
  const theirs = price !== undefined && b.life?.terms.price === price.id && b.life.state !== "lapsed";
  if (!price || !plan || (!theirs && (price.retired || !isOffered(plan, b.company)))) return { no: "gone" };
  const least = leastSeats(price, b.people);
  const terms = termsOf(price, wanted.seats);
  if (price.per === "seat" && terms.seats < least) return { no: "seats", least };
  const s = b.life;
  if (s === null || s.state === "lapsed") {
    const first = s === null && !b.before;
    const away = s === null ? Number.POSITIVE_INFINITY : daysBetween(s.paidUntil, b.day);
    return fresh(price, terms, { trial: first, setup: first || (s !== null && away > SETUP_AGAIN_DAYS) }, b.day);
  }
  if (s.state === "grace") return { no: "due" };
  if (s.state === "ending") return { no: "ending" };
  if (s.state === "paused") return { no: "paused" };
  const renewal = { amount: terms.each * terms.seats, cycle: terms.cycle };
  const same = s.terms.price === terms.price && s.terms.seats === terms.seats;
  if (same && s.next === null) return { no: "already" };
  const happening: Happening = { kind: "changed", terms };
  if (s.state === "trial") return { lines: [], when: "trial", from: s.paidUntil, renewal, happening };
  const c = changeOf(s.terms, terms, s.anchor, b.day);
  return { lines: c.lines, when: c.when === "at the end" ? "at the end" : "now", from: c.from, renewal, happening };
}

/** Whoever comes back within so many days of what was paid for is set up already. */
const SETUP_AGAIN_DAYS = 60;

function fresh(price: Price, terms: Terms, asks: { readonly trial: boolean; readonly setup: boolean }, day: string): Quote {
  const trialDays = asks.trial ? price.trialDays : 0;
  const fee = asks.setup ? price.setup : 0;
  const setup: Line[] = fee > 0 ? [{ kind: "setup", plan: terms.plan, seats: terms.seats, from: day, until: day, amount: fee }] : [];
  const happening: Happening = { kind: "bought", terms, trialDays, setup: fee };
  const renewal = { amount: terms.each * terms.seats, cycle: terms.cycle };
  if (trialDays > 0) return { lines: setup, when: "trial", from: plusDays(day, trialDays), renewal, happening };
  const { from, until } = periodOf(day, terms.cycle, 0);
  const period: Line = { kind: "period", plan: terms.plan, seats: terms.seats, from, until, amount: renewal.amount };
  return { lines: [period, ...setup], when: "now", from: day, renewal, happening };
}

/** Who may buy an offer: a company by its payers, a person for themselves, anybody. */
export function quoteOffer(offers: readonly Offer[], wanted: Extract<Wanted, { kind: "offer" }>): Quote | NoQuote {
  const offer = offers.find((o) => o.id === wanted.offer);
  if (!offer || offer.retired) return { no: "gone" };
  const chosen = recordsOpened(offer.opens) === "one";
  if (chosen && wanted.record === null) return { no: "gone" };
  const record = chosen ? wanted.record : null;
  return {
    lines: [{ kind: "offer", offer: offer.id, record, amount: offer.price }],
    when: "now",
    from: "",
    renewal: null,
    happening: null,
  };
}
