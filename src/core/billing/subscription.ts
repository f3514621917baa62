/**
 * The life of a subscription: none, trial, active, grace (a payment is due), ending, lapsed, paused. Each step is a function of what was, what
 * happened and on which day; it says what is owed and why, in words that an owner and a client can read. Nothing is deleted by a lapse.
 */

import { type Period, periodAt, periodOf, plusDays } from "../prices/periods";
import { changeOf, type Line, periodLine, type Terms } from "./change";

export type State = "trial" | "active" | "grace" | "ending" | "lapsed" | "paused";

export interface Subscription {
  readonly state: State;
  readonly terms: Terms;
  /** From the period's end on, where something less was chosen. */
  readonly next: Terms | null;
  /** The day that periods are counted from. */
  readonly anchor: string;
  /** The first day that is not paid for, or not free, any more. */
  readonly paidUntil: string;
  /** In grace: the first day on which the doors are shut. */
  readonly graceUntil: string | null;
}

export interface Rules {
  /** Days between a payment that failed and the doors being shut. */
  readonly grace: number;
}

export type Happening =
  | { readonly kind: "bought"; readonly terms: Terms; readonly trialDays: number; readonly setup: number }
  | { readonly kind: "paid" }
  | { readonly kind: "failed" }
  | { readonly kind: "changed"; readonly terms: Terms }
  | { readonly kind: "cancelled" }
  | { readonly kind: "kept" }
  | { readonly kind: "paused" }
  | { readonly kind: "resumed" }
  /** Days given by hand, free of charge: a trial or what is paid for runs on, a grace is longer, what was shut opens. */
  | { readonly kind: "days"; readonly days: number }
  /** A trial is over, and nobody has said how to pay. */
  | { readonly kind: "unpayable" }
  /** Nothing but that the day is there. */
  | { readonly kind: "day" };

export interface Step {
  readonly now: Subscription;
  /** What is to be paid at once; empty where nothing is. */
  readonly due: readonly Line[];
  readonly why: string;
}

/** Whether the plan's features are open. */
export const isOpen = (s: Subscription | null): boolean => s !== null && s.state !== "lapsed" && s.state !== "paused";

/** Null for what cannot happen to it: a lapsed one is not cancelled, nor one twice bought. */
export function step(s: Subscription | null, h: Happening, day: string, rules: Rules): Step | null {
  switch (h.kind) {
    case "bought":
      return s === null || s.state === "lapsed" ? bought(h, day) : null;
    case "day":
      return s && dayOf(s, day, rules);
    case "paid":
      return s && paid(s, day);
    case "failed":
      return s && failed(s, day, rules);
    case "changed":
      return s && changed(s, h.terms, day);
    case "cancelled":
      return s && cancelled(s);
    case "kept":
      return s?.state === "ending" ? { now: { ...s, state: "active" }, due: [], why: "Kept: it goes on as before." } : null;
    case "paused":
      return s && s.state !== "lapsed" && s.state !== "paused"
        ? {
            now: { ...s, state: "paused", graceUntil: null },
            due: [],
            why: "Paused by the agency: the doors are shut, and nothing is charged.",
          }
        : null;
    case "resumed":
      return s?.state === "paused" ? resumed(s, day) : null;
    case "days":
      return s && given(s, h.days, day);
    case "unpayable":
      return s?.state === "trial" && day >= s.paidUntil
        ? { now: { ...s, state: "lapsed" }, due: [], why: `The trial was over on ${s.paidUntil}, and no way to pay was given.` }
        : null;
  }
}

/** Sentences name the last day on which something is open, as pages and invoices do. */
const before = (day: string): string => plusDays(day, -1);

function bought({ terms, trialDays, setup }: Extract<Happening, { kind: "bought" }>, day: string): Step {
  const once: Line[] = setup > 0 ? [{ kind: "setup", plan: terms.plan, seats: terms.seats, from: day, until: day, amount: setup }] : [];
  if (trialDays > 0) {
    const until = plusDays(day, trialDays);
    const now: Subscription = { state: "trial", terms, next: null, anchor: until, paidUntil: until, graceUntil: null };
    return { now, due: once, why: `A trial until ${before(until)}; the first payment is on the day after.` };
  }
  const first = periodOf(day, terms.cycle, 0);
  const now: Subscription = { state: "active", terms, next: null, anchor: day, paidUntil: first.until, graceUntil: null };
  return { now, due: [periodLine(terms, first), ...once], why: `Bought: paid until ${before(first.until)}.` };
}

/** The period that is to be paid on the day that the last one ends. */
const upcoming = (s: Subscription): { terms: Terms; period: Period } => {
  const terms = s.next ?? s.terms;
  // What was chosen for the end may be of another cycle: its periods are counted from there.
  const period = terms.cycle === s.terms.cycle ? periodAt(s.anchor, terms.cycle, s.paidUntil)! : periodOf(s.paidUntil, terms.cycle, 0);
  return { terms, period };
};

function dayOf(s: Subscription, day: string, rules: Rules): Step | null {
  if (s.state === "grace") {
    if (s.graceUntil === null || day < s.graceUntil) return null;
    return {
      now: { ...s, state: "lapsed", graceUntil: null },
      due: [],
      why: `Lapsed: the payment due on ${s.paidUntil} did not come in ${rules.grace} days.`,
    };
  }
  if (day < s.paidUntil || s.state === "lapsed" || s.state === "paused") return null;
  if (s.state === "ending") return { now: { ...s, state: "lapsed" }, due: [], why: `Ended on ${s.paidUntil}, as it was cancelled.` };
  const { terms, period } = upcoming(s);
  // Until the payment is there nothing is said to be paid: `paid` moves it on, `failed` begins the grace.
  return { now: s, due: [periodLine(terms, period)], why: `Due: ${period.from} until ${before(period.until)}.` };
}

function paid(s: Subscription, day: string): Step | null {
  if (s.state === "lapsed") {
    // Whoever comes back begins anew: what was shut meanwhile is not charged.
    const first = periodOf(day, s.terms.cycle, 0);
    return {
      now: { ...s, state: "active", anchor: day, paidUntil: first.until, graceUntil: null },
      due: [],
      why: `Paid: open again, until ${before(first.until)}.`,
    };
  }
  if (s.state !== "trial" && s.state !== "active" && s.state !== "grace") return null;
  const { terms, period } = upcoming(s);
  const anchor = terms.cycle === s.terms.cycle ? s.anchor : period.from;
  return {
    now: { state: "active", terms, next: null, anchor, paidUntil: period.until, graceUntil: null },
    due: [],
    why: `Paid until ${before(period.until)}.`,
  };
}

function failed(s: Subscription, day: string, rules: Rules): Step | null {
  if (s.state === "grace")
    return { now: s, due: [], why: `The payment failed once more; the doors stay open until ${before(s.graceUntil ?? s.paidUntil)}.` };
  if ((s.state !== "active" && s.state !== "trial") || day < s.paidUntil) return null;
  if (rules.grace === 0) return { now: { ...s, state: "lapsed", graceUntil: null }, due: [], why: "Lapsed: the payment failed." };
  // From the day on which it is known: a clock that jumped does not shut doors unsaid.
  const graceUntil = plusDays(day, rules.grace);
  return {
    now: { ...s, state: "grace", graceUntil },
    due: [],
    why: `The payment failed; the doors stay open until ${before(graceUntil)}.`,
  };
}

function changed(s: Subscription, to: Terms, day: string): Step | null {
  if (s.state === "trial")
    return {
      now: { ...s, terms: to, next: null },
      due: [],
      why: "Chosen instead: the trial goes on, and this is paid for from its end on.",
    };
  if (s.state !== "active") return null;
  const c = changeOf(s.terms, to, s.anchor, day);
  if (c.when === "nothing changes") return { now: { ...s, next: null }, due: [], why: "It stays as it is." };
  if (c.when === "at the end") return { now: { ...s, next: to }, due: [], why: `From ${c.from} on; until then it stays as it is.` };
  const paidUntil = c.anchor === null ? s.paidUntil : periodOf(c.anchor, to.cycle, 0).until;
  return { now: { ...s, terms: to, next: null, anchor: c.anchor ?? s.anchor, paidUntil }, due: c.lines, why: "It holds from today on." };
}

function cancelled(s: Subscription): Step | null {
  if (s.state === "grace")
    return { now: { ...s, state: "lapsed", graceUntil: null }, due: [], why: "Cancelled while a payment was due: the doors are shut." };
  if (s.state !== "active" && s.state !== "trial") return null;
  return {
    now: { ...s, state: "ending", next: null },
    due: [],
    why: `Cancelled: it runs until ${before(s.paidUntil)}, and is not charged again.`,
  };
}

/** Time that was paid for runs on while it is paused. */
function resumed(s: Subscription, day: string): Step {
  const open = day < s.paidUntil;
  return open
    ? { now: { ...s, state: "active" }, due: [], why: `Resumed: paid until ${before(s.paidUntil)}.` }
    : { now: { ...s, state: "lapsed" }, due: [], why: `Resumed, but paid until ${before(s.paidUntil)} only: it opens on payment.` };
}

/** What is given runs before what is paid for next: its periods are counted from there. */
function given(s: Subscription, days: number, day: string): Step | null {
  if (days < 1 || s.state === "paused") return null;
  if (s.state === "grace") {
    const graceUntil = plusDays(s.graceUntil ?? day, days);
    return { now: { ...s, graceUntil }, due: [], why: `Given ${days} days: the doors stay open until ${before(graceUntil)}.` };
  }
  const until = plusDays(s.state === "lapsed" || s.paidUntil < day ? day : s.paidUntil, days);
  const state = s.state === "lapsed" ? "active" : s.state;
  return { now: { ...s, state, anchor: until, paidUntil: until }, due: [], why: `Given ${days} days: until ${before(until)}.` };
}
