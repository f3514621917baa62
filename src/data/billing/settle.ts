/** What the provider says of a checkout is settled once, in one transaction, whoever brings the word (an event, or the answer to a question). */

import { and, eq } from "drizzle-orm";
import { assertNever } from "@/core/assert-never";
import type { Step } from "@/core/billing/subscription";
import { type Actor, system, type Told } from "@/core/events/event";
import { dateIn } from "@/core/time/relative";
import { published } from "../definition/published";
import { record } from "../events/record";
import { attempt, refuse } from "../file/attempt";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { type Checkout, checkoutById } from "./checkouts";
import { addCredit, creditOf } from "./credit";
import { take } from "./life";
import { isOpenAlready, openOffer } from "./open-offer";
import { subscriptionOf } from "./standing";
import { addInvoice, addOrder, payInvoice, stateOfInvoice, type Writing } from "./write-books";

/** What the provider says was paid. `payment` is its id there; null where nothing was to be paid. */
export interface PaidFact {
  readonly payment: string | null;
  readonly amount: number;
  readonly currency: string;
  readonly method: { readonly id: string; readonly words: string } | null;
}

export interface Settled {
  readonly checkout: Checkout;
  readonly order: { readonly id: string; readonly number: string } | null;
  readonly invoice: { readonly id: string; readonly number: string } | null;
  /**
   * "credited": what was bought could not be had any more, and the money is to the buyer's credit. "strange": it was paid in another currency,
   * which is nobody's credit: the agency pays it back.
   */
  readonly end: "had" | "credited" | "strange";
  readonly why: string;
}

/** Null where it is settled already. */
export function settle(file: PortalFile, id: string, paid: PaidFact, now: number): Settled | null {
  return transact(file, (): Settled | null => {
    const c = checkoutById(file, id);
    if (!c || c.state === "done") return null;
    const { definition } = published(file);
    const w: Writing = { actor: buyerActor(c), at: now, day: dateIn(now, definition.portal.timeZone) };
    reached("settling: begun");
    if (c.company && paid.method && c.bought.keep) keepMethod(file, c.company, c.account, paid.method, now);
    const theirs = paid.currency === definition.portal.currency || paid.amount === 0;
    const fits = theirs && paid.amount === c.bought.reckoned.due;
    const had = fits ? haveIt(file, c, paid, w) : null;
    const settled = had ?? (theirs ? creditIt(file, c, paid, w) : strangeMoney(file, c, paid, w));
    file.orm
      .update(t.checkouts)
      .set({ state: "done", endedAt: now, orderId: settled.order?.id ?? null, why: settled.why })
      .where(eq(t.checkouts.id, id))
      .run();
    reached("settling: written");
    return settled;
  });
}

const buyerActor = (c: Checkout): Actor => (c.person ? { kind: "person", id: c.person } : { kind: "visitor", id: null });

const METHOD_KEPT = "Another way to pay is kept.";

/** Null where it cannot be had any more as it was reckoned: the plan has changed meanwhile, the credit is used, the invoice is paid. */
function haveIt(file: PortalFile, c: Checkout, paid: PaidFact, w: Writing): Settled | null {
  const { wanted } = c.bought;
  switch (wanted.kind) {
    case "method":
      collectByCard(file, c.company!, w, { note: `${c.bought.what}. ${METHOD_KEPT}` });
      return { checkout: c, order: null, invoice: null, end: "had", why: METHOD_KEPT };
    case "invoice":
      return payOpen(file, c, wanted.invoice, paid, w);
    case "plan": {
      const done = hasCredit(file, c) ? stepFor(file, c, w) : null;
      return done === null ? null : { ...writeBooks(file, c, paid, w), why: done };
    }
    case "offer":
      return hasCredit(file, c) ? haveOffer(file, c, wanted, paid, w) : null;
    default:
      return assertNever(wanted);
  }
}

/** Whether the credit that it was reckoned with is still there. */
const hasCredit = (file: PortalFile, c: Checkout): boolean => !c.company || c.bought.reckoned.credit <= creditOf(file, c.company);

type OfferWanted = Extract<Checkout["bought"]["wanted"], { kind: "offer" }>;

function haveOffer(file: PortalFile, c: Checkout, wanted: OfferWanted, paid: PaidFact, w: Writing): Settled | null {
  const offer = published(file).definition.offers.find((o) => o.id === wanted.offer);
  if (!offer) return null;
  const books = writeBooks(file, c, paid, w);
  if (c.company) openOffer(file, { company: c.company, person: wanted.own ? c.person : null }, offer, c.bought, books.order!.id, w);
  record(file, {
    actor: w.actor,
    via: "page",
    at: w.at,
    kind: "bought",
    company: c.company,
    detail: `${c.bought.what}, ${books.order!.number}`,
  });
  return { ...books, why: `Bought: ${c.bought.what}.` };
}

function stepFor(file: PortalFile, c: Checkout, w: Writing): string | null {
  const { definition } = published(file);
  const { happening, lines } = c.bought;
  if (!happening || !c.company) return null;
  const was = subscriptionOf(file, c.company);
  const life = {
    company: c.company,
    day: c.bought.day,
    timeZone: was?.timeZone ?? definition.portal.timeZone,
    collect: c.bought.keep ? ("card" as const) : (was?.collect ?? "none"),
    by: { actor: w.actor, via: "page" as const, at: w.at },
    // Where there is a payment, the letter about it tells this, too.
    ...(isFree(c) ? { note: (done: Step) => `${c.bought.what}. ${done.why}` } : {}),
  };
  // What it would come to now is what was asked for: else something has changed meanwhile, and nothing of it is done.
  const stepped = attempt(file, () => {
    const done = take(file, life, happening, { grace: definition.billing.grace });
    const asked = lines.reduce((n, l) => n + l.amount, 0);
    return done && done.due.reduce((n, l) => n + l.amount, 0) === asked ? done.why : refuse(null);
  });
  return stepped.ok ? stepped.value : null;
}

/** Whether it could be had now as it was reckoned: tried, and taken back. */
export function stillFits(file: PortalFile, c: Checkout, now: number): boolean {
  const { wanted } = c.bought;
  switch (wanted.kind) {
    case "invoice":
      return stateOfInvoice(file, wanted.invoice) === "open";
    case "method":
      return hasCredit(file, c);
    case "offer": {
      const offer = published(file).definition.offers.find((o) => o.id === wanted.offer);
      return hasCredit(file, c) && offer !== undefined && !isOpenAlready(file, c, offer, now);
    }
    case "plan":
      return hasCredit(file, c) && planFits(file, c, now);
    default:
      return assertNever(wanted);
  }
}

function planFits(file: PortalFile, c: Checkout, now: number): boolean {
  const w: Writing = { actor: buyerActor(c), at: now, day: dateIn(now, published(file).definition.portal.timeZone) };
  const tried = attempt(file, () => stepFor(file, c, w) !== null, { really: false });
  return tried.ok && tried.value;
}

const isFree = (c: Checkout): boolean => c.bought.lines.every((l) => l.amount === 0);

function writeBooks(file: PortalFile, c: Checkout, paid: PaidFact, w: Writing): Omit<Settled, "why"> {
  const { bought } = c;
  // A trial that costs nothing yet leaves no paper, nor does what is free.
  if (isFree(c) && bought.wanted.kind !== "offer") return { checkout: c, order: null, invoice: null, end: "had" };
  const own = bought.wanted.kind === "offer" && bought.wanted.own;
  const order = addOrder(
    file,
    {
      what: bought.what,
      buyer: c.company === null ? "guest" : own ? "person" : "company",
      company: c.company,
      person: c.person,
      email: c.email,
      total: bought.reckoned.total,
    },
    w,
  );
  // What is once had for nothing is an order all the same, which the agency may have to fulfil.
  if (isFree(c)) return { checkout: c, order, invoice: null, end: "had" };
  const invoice = addInvoice(
    file,
    {
      what: bought.what,
      company: c.company,
      person: own ? c.person : null,
      order: order.id,
      buyer: bought.buyer,
      tax: bought.tax,
      reckoned: bought.reckoned,
      due: w.day,
    },
    w,
  );
  reached("settling: invoiced");
  if (paid.amount > 0) payInvoice(file, invoice.id, { outside: paid.payment, amount: paid.amount, by: paid.method?.words ?? "card" }, w);
  return { checkout: c, order, invoice, end: "had" };
}

function payOpen(file: PortalFile, c: Checkout, invoice: string, paid: PaidFact, w: Writing): Settled | null {
  if (stateOfInvoice(file, invoice) !== "open" || !c.company) return null;
  if (!payInvoice(file, invoice, { outside: paid.payment, amount: paid.amount, by: paid.method?.words ?? "card" }, w)) return null;
  collectByCard(file, c.company, w);
  const why = afterPaying(file, c.company, w);
  return { checkout: c, order: null, invoice: { id: invoice, number: c.bought.what }, end: "had", why };
}

/** An invoice of the subscription is paid: its time goes on. */
export function afterPaying(file: PortalFile, company: string, w: Writing): string {
  const was = subscriptionOf(file, company);
  if (!was) return "Paid.";
  const { grace } = published(file).definition.billing;
  const by = { actor: w.actor, via: "page", at: w.at } as const;
  const day = dateIn(w.at, was.timeZone);
  const due = was.life.state === "grace" || (day >= was.life.paidUntil && (was.life.state === "active" || was.life.state === "trial"));
  const done = due ? take(file, { company, day, timeZone: was.timeZone, collect: was.collect, by }, { kind: "paid" }, { grace }) : null;
  return done?.why ?? "Paid.";
}

/** What is kept is charged from now on. */
function collectByCard(file: PortalFile, company: string, w: Writing, told?: Told): void {
  file.orm.update(t.subscriptions).set({ collect: "card" }).where(eq(t.subscriptions.companyId, company)).run();
  record(file, { actor: w.actor, via: "page", at: w.at, kind: "method-kept", company, told });
}

/** Nothing is lost: the money is to the company's credit, or the agency is told of a guest's. */
function creditIt(file: PortalFile, c: Checkout, paid: PaidFact, w: Writing): Settled {
  const why = `${c.bought.what} could not be had any more as it was asked for.`;
  if (c.company && paid.amount > 0) addCredit(file, c.company, paid.amount, why, null, w.at);
  if (c.company && paid.payment) {
    record(file, {
      actor: system("payments"),
      via: "job",
      at: w.at,
      kind: "paid-to-credit",
      company: c.company,
      detail: `${why} ${paid.payment}`,
    });
  } else if (paid.payment)
    record(file, {
      actor: system("payments"),
      via: "job",
      at: w.at,
      kind: "paid-for-nothing",
      detail: `${c.email}: ${why} ${paid.payment}`,
    });
  return { checkout: c, order: null, invoice: null, end: "credited", why };
}

/** Money of another currency is worth something else: it opens nothing and is no credit. */
function strangeMoney(file: PortalFile, c: Checkout, paid: PaidFact, w: Writing): Settled {
  const why = `${c.bought.what} was paid in ${paid.currency}, which this portal does not take. It is to be paid back.`;
  record(file, {
    actor: system("payments"),
    via: "job",
    at: w.at,
    kind: "paid-for-nothing",
    ...(c.company ? { company: c.company } : {}),
    detail: `${c.email}: ${why} ${paid.payment ?? ""}`.trim(),
  });
  return { checkout: c, order: null, invoice: null, end: "strange", why };
}

/** Keeps by what a company pays: an id of the provider's, and words such as the last digits. `at` in milliseconds. */
export function keepMethod(file: PortalFile, companyId: string, account: string, m: { id: string; words: string }, at: number): void {
  file.orm
    .update(t.customers)
    .set({ method: m.id, words: m.words, at })
    .where(and(eq(t.customers.companyId, companyId), eq(t.customers.account, account)))
    .run();
}
