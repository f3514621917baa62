/**
 * What those who pay are told: by letters that follow the events about money, so that nothing is told that the log does not have, and
 * nothing twice.
 */
import type { Actor, Told } from "@/core/events/event";
import { type HeardBy, kindsHeardBy } from "@/core/events/kinds";
import type { OccasionId } from "@/core/messages/occasions";
import { formatDate, formatMoney } from "@/core/text/format";
import { buyerOf } from "@/data/billing/buyers";
import { payersOf } from "@/data/billing/people";
import type { Settled } from "@/data/billing/settle";
import { paperOf } from "@/data/billing/write-books";
import { published } from "@/data/definition/published";
import type { Feed } from "@/data/events/feeds";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { write } from "@/data/messages/outbox";
import { portalAddress } from "@/identity/requests/addresses";
import { saidOf } from "@/letters/said";
import { orderHref } from "./links";

type To = NonNullable<Told["to"]>;

/** The letter about each kind that those who pay hear of; null where the agency tells them itself, or not at all. */
const ABOUT: Record<HeardBy<"payers">, OccasionId | null> = {
  "subscription-changed": "plan-changed",
  "payment-came": "paid",
  "order-refused": "paid",
  "method-kept": "plan-changed",
  "paid-outside": "paid",
  "payment-failed": "payment-due",
  "trial-ending": "trial-ends",
  "paid-back": "paid-back",
  bought: null,
  "order-taken-along": null,
  "paid-to-credit": null,
  "credit-given": null,
  "feature-given": null,
  "feature-taken-back": null,
  "invoice-void": null,
};

/** Only of what the event says something to be told about: a plan that changes by a payment is told by the letter about the payment. */
export const moneyLetters: Feed = {
  kinds: kindsHeardBy("payers"),
  hear: (file, event) => {
    const occasion = ABOUT[event.kind as HeardBy<"payers">];
    if (occasion === null || !event.told) return;
    const seen = new Set<string>();
    for (const x of event.told.to ?? (event.company ? payers(file, event.company) : [])) {
      if (!x.email || seen.has(x.email.toLowerCase())) continue;
      seen.add(x.email.toLowerCase());
      const said = { ...saidOf(file, { name: x.name, email: x.email, ...(x.id ? { id: x.id } : {}) }, event.at), note: event.told.note };
      write(file, { occasion, to: { personId: x.id, email: x.email }, said, link: null, by: "system", now: event.at });
    }
  },
};

/** Who may pay for a company, and where its invoices go. */
function payers(file: PortalFile, company: string): To {
  const buyer = buyerOf(file, company);
  return [...payersOf(file, company), ...(buyer ? [{ id: null, name: buyer.name, email: buyer.email }] : [])];
}

/** The payment of a checkout is recorded and told to who bought; one for a company, to all who pay for it, too. */
export function recordSettled(file: PortalFile, s: Settled, now: number): void {
  const { definition } = published(file);
  const { currency, locale } = definition.portal;
  const money = (n: number): string => formatMoney(n, currency, locale);
  const { bought, company, person, email } = s.checkout;
  const own = { id: person, name: bought.buyer.name, email };
  const actor: Actor = person ? { kind: "person", id: person } : { kind: "visitor", id: null };
  const happened = (kind: "payment-came" | "order-refused", detail: string, told: Told): void =>
    void record(file, { actor, via: "page", at: now, kind, company, detail, told });
  const write = definition.brand.contact || definition.portal.name;
  if (s.end === "credited") {
    const after = company ? "It is to your credit: the next invoice uses it, or ask for it back." : `Write to ${write} to have it back.`;
    const note = `${bought.what} could not be had any more when your payment of ${money(bought.reckoned.due)} came. ${after}`;
    happened("order-refused", s.why, { note, to: [own] });
    return;
  }
  if (s.end === "strange") {
    happened("order-refused", s.why, { note: `${s.why} Write to ${write} if it does not come back soon.`, to: [own] });
    return;
  }
  // What is free, or another way to pay, is told with the event that the step itself records.
  if (!s.invoice) return;
  const number = paperOf(file, s.invoice.id)?.number ?? s.invoice.number;
  const amount = `${bought.what}: ${money(bought.reckoned.total)}, invoice ${number}.`;
  const where = company === null && s.order ? orderHref(file, s.order.id) : `${portalAddress(file.slug)}/-/invoices/${s.invoice.id}`;
  const to = company === null || (bought.wanted.kind === "offer" && bought.wanted.own) ? [own] : [own, ...payers(file, company)];
  happened("payment-came", amount, { note: `${amount}\n\n${where}`, to });
}

/** A day (ISO 8601 date) in the portal's language. */
export const dayWords = (file: PortalFile, day: string): string => formatDate(day, published(file).definition.portal.locale);
