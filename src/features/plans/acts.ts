/**
 * What the owner does with one company's plan and money: each act in a transaction of its caller, with its reason in the log. Whoever calls
 * has asked whether this person of staff may.
 */
import { z } from "zod";
import { leastSeats, termsOf } from "@/core/billing/quote";
import type { Happening } from "@/core/billing/subscription";
import { actorOf } from "@/core/events/event";
import { formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { buyerOf, keepBuyer } from "@/data/billing/buyers";
import { addCredit } from "@/data/billing/credit";
import { invoiceDue, lacksCountry } from "@/data/billing/due";
import { giveFeature, takeGiven } from "@/data/billing/given-features";
import { type Life, take } from "@/data/billing/life";
import { seatsTaken } from "@/data/billing/people";
import { afterPaying } from "@/data/billing/settle";
import { subscriptionOf } from "@/data/billing/standing";
import {
  companyOfInvoice,
  openInvoices,
  paperOf,
  payBack,
  payInvoice,
  refundable,
  stateOfInvoice,
  voidInvoice,
  type Writing,
} from "@/data/billing/write-books";
import { record } from "@/data/events/record";
import { transact } from "@/data/file/transact";
import { companyFacts } from "@/data/tables/company-facts";
import type { OfficePortal } from "@/identity/requests/office-gate";
import type { DraftAnswer } from "@/office/draft";
import type { Payments } from "@/services/payments/contract";
import { readAmount } from "./amount";

const reason = z.string().trim().min(3, "Say why, in a few words: it stands in the log.").max(200, "Keep the reason under 200 characters.");
const id = z.string().min(1).max(64);
export const companyAct = z.discriminatedUnion("act", [
  z.object({
    act: z.literal("days"),
    days: z.coerce.number().int("Write a whole number of days.").min(1, "Write 1 or more days.").max(3_660, "That is more than ten years."),
    reason,
  }),
  z.object({ act: z.literal("feature"), feature: id, until: z.union([z.literal(""), z.iso.date("Write the day as YYYY-MM-DD.")]), reason }),
  z.object({ act: z.literal("take feature"), given: id, reason }),
  z.object({ act: z.literal("credit"), amount: z.string().max(40), reason }),
  z.object({ act: z.literal("pause"), reason }),
  z.object({ act: z.literal("resume"), reason }),
  z.object({ act: z.literal("cancel"), reason }),
  z.object({
    act: z.literal("plan"),
    price: id,
    seats: z.coerce.number().int("Write a whole number of seats.").min(1).max(10_000),
    reason,
  }),
  z.object({ act: z.literal("country"), country: z.string().regex(/^[A-Z]{2}$/, "Choose a country."), reason }),
  z.object({ act: z.literal("paid outside"), invoice: id, reason }),
  z.object({ act: z.literal("void"), invoice: id, reason }),
  z.object({ act: z.literal("refund"), invoice: id, amount: z.string().max(40), reason }),
]);
export type CompanyAct = z.input<typeof companyAct>;

export const no = (message: string): DraftAnswer => ({ ok: false, messages: [message] });

/** What the acts need of the office. */
export type Money = Pick<OfficePortal, "file" | "live" | "owner" | "now"> & { readonly staff: Pick<OfficePortal["staff"], "name"> };

type Asked = z.output<typeof companyAct>;

const writing = (p: Money): Writing => ({
  actor: actorOf(p.owner),
  at: p.now,
  day: dateIn(p.now, p.live.definition.portal.timeZone),
});

function lifeOf(p: Money, company: string, why: string): Life {
  const was = subscriptionOf(p.file, company);
  const timeZone = was?.timeZone ?? p.live.definition.portal.timeZone;
  const by = { actor: actorOf(p.owner), via: "page", at: p.now } as const;
  return { company, day: dateIn(p.now, timeZone), timeZone, collect: was?.collect ?? "outside", by, reason: why, note: (done) => done.why };
}

function happened(p: Money, company: string, happening: Happening, why: string): DraftAnswer {
  const done = take(p.file, lifeOf(p, company, why), happening, { grace: p.live.definition.billing.grace });
  if (!done) return no("That cannot happen to this plan as it stands now. Load the page again.");
  return { ok: true };
}

export function act(p: Money, company: string, a: Exclude<Asked, { act: "refund" }>): DraftAnswer {
  const { definition } = p.live;
  switch (a.act) {
    case "days":
      return happened(p, company, { kind: "days", days: a.days }, a.reason);
    case "pause":
      return happened(p, company, { kind: "paused" }, a.reason);
    case "resume":
      return happened(p, company, { kind: "resumed" }, a.reason);
    case "cancel":
      return happened(p, company, { kind: "cancelled" }, a.reason);
    case "feature": {
      const feature = definition.features.find((f) => f.id === a.feature);
      if (!feature) return no("Choose a feature that is published.");
      if (a.until !== "" && a.until < writing(p).day) return no("That day is over. Choose a later one, or none.");
      giveFeature(p.file, p.owner, {
        company,
        feature: feature.id,
        name: feature.name,
        until: a.until || null,
        by: p.staff.name,
        reason: a.reason,
      });
      return { ok: true };
    }
    case "take feature":
      return takeGiven(p.file, p.owner, company, a.given, a.reason) ? { ok: true } : no("That is not open any more. Load the page again.");
    case "credit": {
      const amount = amountOf(p, a.amount);
      if (typeof amount === "string") return no(amount);
      addCredit(p.file, company, amount, a.reason, null, p.now);
      record(p.file, {
        actor: actorOf(p.owner),
        via: "page",
        at: p.now,
        kind: "credit-given",
        company,
        detail: `${money(p, amount)} (${a.reason})`,
      });
      return { ok: true };
    }
    case "country":
      return setCountry(p, company, a);
    case "plan":
      return putOn(p, company, a);
    case "paid outside":
      return paidOutside(p, company, a);
    case "void":
      return voidOpen(p, company, a);
  }
}

const money = (p: Money, n: number): string => formatMoney(n, p.live.definition.portal.currency, p.live.definition.portal.locale);

/** More than nothing. */
function amountOf(p: Money, text: string): number | string {
  const read = readAmount(text, p.live.definition.portal.currency);
  return typeof read === "number" && read <= 0 ? "Write an amount." : read;
}

/** Where the company is billed: the tax of its invoices from now on. Those that are made stay as they are. */
function setCountry(p: Money, company: string, a: Extract<Asked, { act: "country" }>): DraftAnswer {
  const name = companyFacts(p.file, company)?.name ?? "";
  const known = buyerOf(p.file, company) ?? { name, email: "", address: "", country: "", taxNumber: "", reference: "" };
  if (known.country === a.country) return no("That is its country already.");
  keepBuyer(p.file, company, { ...known, country: a.country }, p.now);
  const detail = `${known.country || "none"} to ${a.country} (${a.reason})`;
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "billing-country-set", company, detail });
  return { ok: true };
}

/** On a plan from today, by the agency: what is due for it is an invoice to be paid outside. Whoever pays by card goes on doing so. */
function putOn(p: Money, company: string, a: Extract<Asked, { act: "plan" }>): DraftAnswer {
  const { definition } = p.live;
  const price = definition.prices.find((x) => x.id === a.price);
  if (!price) return no("Choose a price that is published.");
  const least = leastSeats(price, seatsTaken(p.file, company));
  const seats = price.per === "seat" ? a.seats : 1;
  if (seats < least) return no(`${least} seats at the least: as many as the price asks, and one for everybody who is there.`);
  if (price.amount > 0 && lacksCountry(p.file, company)) return no("Set the billing country first: the tax depends on it.");
  const was = subscriptionOf(p.file, company)?.life ?? null;
  const terms = termsOf(price, seats);
  const begins = was === null || was.state === "lapsed";
  const happening: Happening = begins ? { kind: "bought", terms, trialDays: 0, setup: 0 } : { kind: "changed", terms };
  const done = take(p.file, lifeOf(p, company, a.reason), happening, { grace: definition.billing.grace });
  if (!done) return no("That cannot happen to this plan as it stands now. Load the page again.");
  if (done.due.length > 0) invoiceDue(p.file, company, done.due, writing(p));
  return { ok: true };
}

function paidOutside(p: Money, company: string, a: Extract<Asked, { act: "paid outside" }>): DraftAnswer {
  if (companyOfInvoice(p.file, a.invoice) !== company || stateOfInvoice(p.file, a.invoice) !== "open")
    return no("This invoice is not open any more. Load the page again.");
  const paper = paperOf(p.file, a.invoice)!;
  const w = writing(p);
  payInvoice(p.file, a.invoice, { outside: null, amount: paper.reckoned.due, by: "outside", why: a.reason }, w);
  const why = afterPaying(p.file, company, w);
  record(p.file, {
    actor: w.actor,
    via: "page",
    at: p.now,
    kind: "paid-outside",
    company,
    detail: `${paper.number}, ${money(p, paper.reckoned.due)} (${a.reason})`,
    told: { note: `${paper.number}: ${money(p, paper.reckoned.total)}. ${why}` },
  });
  return { ok: true };
}

/** An invoice that will not be paid is void: its number stays, and nothing is owed by it. */
function voidOpen(p: Money, company: string, a: Extract<Asked, { act: "void" }>): DraftAnswer {
  if (!openInvoices(p.file, company).includes(a.invoice)) return no("This invoice is not open any more. Load the page again.");
  voidInvoice(p.file, a.invoice, writing(p));
  const { number } = paperOf(p.file, a.invoice)!;
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "invoice-void", company, detail: `${number} (${a.reason})` });
  return { ok: true };
}

/** The provider is asked by a key of its own for each part that goes back: asked twice, it goes back once. */
export async function refund(
  p: Money,
  company: string,
  a: Extract<Asked, { act: "refund" }>,
  payments: () => Pick<Payments, "refund"> | null,
): Promise<DraftAnswer> {
  if (companyOfInvoice(p.file, a.invoice) !== company) return no("This invoice is not here any more. Load the page again.");
  const amount = amountOf(p, a.amount);
  if (typeof amount === "string") return no(amount);
  const [paid] = refundable(p.file, a.invoice);
  if (!paid) return no("Nothing of this invoice can be paid back any more.");
  if (amount > paid.left) return no(`At most ${money(p, paid.left)} can be paid back.`);
  if (!paid.outside.startsWith("outside-")) {
    const provider = payments();
    if (!provider) return no("There is no account at the provider any more that it could go back by.");
    const back = await provider.refund(
      { payment: paid.outside, amount, reference: a.invoice },
      `back-${paid.outside}-${paid.left}-${amount}`,
    );
    if (!back.ok) return no(back.error.message);
  }
  return transact(p.file, () => {
    const note = payBack(p.file, paid.outside, amount, a.reason, writing(p));
    if (!note) return no("Nothing of this invoice can be paid back any more.");
    const by = paid.outside.startsWith("outside-") ? "by the way that you paid" : "to your card";
    record(p.file, {
      actor: actorOf(p.owner),
      via: "page",
      at: p.now,
      kind: "paid-back",
      company,
      detail: `${money(p, amount)}, ${note.number} (${a.reason})`,
      told: { note: `${money(p, amount)} go back ${by}: ${a.reason}. Credit note ${note.number}.` },
    });
    return { ok: true };
  });
}
