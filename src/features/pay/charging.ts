/** How a charge of what is kept ended: the invoice is paid and the time goes on, or the grace begins. Once for each try. */
import { daysLeft } from "@/core/billing/dunning";
import { plusDays } from "@/core/prices/periods";
import { formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { chargeById, endCharge } from "@/data/billing/charges";
import { type Life, take } from "@/data/billing/life";
import { afterPaying } from "@/data/billing/settle";
import { subscriptionOf } from "@/data/billing/standing";
import { paperOf, payInvoice, refusedPayment, type Writing } from "@/data/billing/write-books";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { reached } from "@/data/file/points";
import { transact } from "@/data/file/transact";
import { dayWords } from "@/orders/letters";
import type { Outcome } from "@/services/payments/contract";

/** Nothing where that try has ended already, or the provider has no end of it yet. */
export function chargeEnded(file: PortalFile, id: string, o: Outcome, now: number): void {
  if (o.state !== "paid" && o.state !== "refused") return;
  const state = o.state;
  transact(file, () => {
    const c = chargeById(file, id);
    if (!c || !endCharge(file, id, { state, payment: o.payment, why: o.why, at: now })) return;
    reached("charging: ended");
    const { definition } = published(file);
    const w: Writing = { actor: { kind: "system", id: "payments" }, at: now, day: dateIn(now, definition.portal.timeZone) };
    const paper = paperOf(file, c.invoiceId)!;
    const words = formatMoney(paper.reckoned.due, paper.currency, definition.portal.locale);
    if (state === "paid") {
      if (!payInvoice(file, c.invoiceId, { outside: o.payment, amount: o.amount, by: o.method?.words ?? "card" }, w)) return;
      const why = afterPaying(file, c.companyId, w);
      const detail = `${paper.number}: ${words}.`;
      record(file, { ...w, via: "job", kind: "payment-came", company: c.companyId, detail, told: { note: `${detail} ${why}` } });
    } else {
      refusedPayment(file, c.invoiceId, { outside: null, amount: paper.reckoned.due, by: o.method?.words ?? "card", why: o.why ?? "" }, w);
      paymentFailed(file, c.companyId, `${words} for ${paper.number}: ${o.why ?? "the payment was refused."}`, now);
    }
    reached("charging: written");
  });
}

/** Grace, or a day more of it: said to those who may pay. */
export function paymentFailed(file: PortalFile, company: string, what: string, now: number): void {
  const was = subscriptionOf(file, company);
  if (!was) return;
  const { grace } = published(file).definition.billing;
  const day = dateIn(now, was.timeZone);
  const life: Life = {
    company,
    day,
    timeZone: was.timeZone,
    collect: was.collect,
    by: { actor: { kind: "system", id: "payments" }, via: "job", at: now },
  };
  const done = take(file, life, { kind: "failed" }, { grace });
  if (!done) return;
  const shut = done.now.graceUntil;
  const left = shut === null ? " The plan has ended." : ` ${staysOpen(dayWords(file, plusDays(shut, -1)), daysLeft(shut, day))}`;
  record(file, { ...life.by, kind: "payment-failed", company, detail: what, told: { note: `${what}${left}` } });
}
const staysOpen = (last: string, days: number): string =>
  days <= 1 ? "Everything stays open today, and no longer." : `Everything stays open until ${last}: ${days} days, today among them.`;
