/** What those who pay are told: in the transaction of what happened, so that nothing happens untold and nothing is told twice. */

import type { OccasionId } from "@/core/messages/occasions";
import { formatDate, formatMoney } from "@/core/text/format";
import { buyerOf } from "@/data/billing/buyers";
import { payersOf } from "@/data/billing/people";
import type { Settled } from "@/data/billing/settle";
import { paperOf } from "@/data/billing/write-books";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { write } from "@/data/messages/outbox";
import { portalAddress } from "@/identity/requests/addresses";
import { saidOf } from "@/letters/letters";
import { orderHref } from "./links";

type To = { readonly id: string | null; readonly name: string; readonly email: string };

function tell(file: PortalFile, occasion: OccasionId, to: readonly To[], note: string, now: number): void {
  const seen = new Set<string>();
  for (const x of to) {
    if (!x.email || seen.has(x.email.toLowerCase())) continue;
    seen.add(x.email.toLowerCase());
    const said = { ...saidOf(file, { name: x.name, email: x.email, ...(x.id ? { id: x.id } : {}) }, now), note };
    write(file, { occasion, to: { personId: x.id, email: x.email }, said, link: null, by: "system", now });
  }
}

/** Who may pay for a company, and where its invoices go. */
function payers(file: PortalFile, company: string): To[] {
  const buyer = buyerOf(file, company);
  return [...payersOf(file, company), ...(buyer ? [{ id: null, name: buyer.name, email: buyer.email }] : [])];
}

export function tellPayers(file: PortalFile, company: string, occasion: OccasionId, note: string, now: number): void {
  tell(file, occasion, payers(file, company), note, now);
}

export function tellSettled(file: PortalFile, s: Settled, now: number): void {
  const { definition } = published(file);
  const { currency, locale } = definition.portal;
  const money = (n: number): string => formatMoney(n, currency, locale);
  const { bought, company, person, email } = s.checkout;
  const own = { id: person, name: bought.buyer.name, email };
  if (s.end === "credited") {
    const note = `${bought.what} could not be had any more when your payment of ${money(bought.reckoned.due)} came. ${company ? "It is to your credit: the next invoice uses it, or ask for it back." : `Write to ${definition.brand.contact || definition.portal.name} to have it back.`}`;
    tell(file, "paid", [own], note, now);
    return;
  }
  if (s.end === "strange") {
    const note = `${s.why} Write to ${definition.brand.contact || definition.portal.name} if it does not come back soon.`;
    tell(file, "paid", [own], note, now);
    return;
  }
  if (bought.wanted.kind === "method" || !s.invoice) {
    const note = `${bought.what}. ${s.why}`;
    if (company) tellPayers(file, company, "plan-changed", note, now);
    return;
  }
  const number = paperOf(file, s.invoice.id)?.number ?? s.invoice.number;
  const amount = `${bought.what}: ${money(bought.reckoned.total)}, invoice ${number}.`;
  const where = company === null && s.order ? orderHref(file, s.order.id) : `${portalAddress(file.slug)}/-/invoices/${s.invoice.id}`;
  const to = company === null || (bought.wanted.kind === "offer" && bought.wanted.own) ? [own] : [own, ...payers(file, company)];
  tell(file, "paid", to, `${amount}\n\n${where}`, now);
}

export const dayWords = (file: PortalFile, day: string): string => formatDate(day, published(file).definition.portal.locale);
