/** A year of money: who pays what, invoices with their lines, a payment that failed, one paid back; and the account at the Till that all of it went through. */
import { join } from "node:path";
import type { Owner } from "@/core/access/who/viewer";
import type { Buyer } from "@/core/billing/buyer";
import { amountOf } from "@/core/billing/change";
import { rateFor, reckon } from "@/core/billing/invoice";
import { linesIn } from "@/core/billing/lines";
import { termsOf } from "@/core/billing/quote";
import type { Subscription } from "@/core/billing/subscription";
import { monthly } from "@/core/billing/worth";
import { system } from "@/core/events/event";
import { periodOf, plusDays } from "@/core/prices/periods";
import { dateIn } from "@/core/time/relative";
import { sayIn } from "@/core/words/words";
import { keepBuyer, keepCustomer } from "@/data/billing/buyers";
import { store } from "@/data/billing/life";
import { keepMethod } from "@/data/billing/settle";
import { noteWorth } from "@/data/billing/standing";
import { addInvoice, payBack, payInvoice, refusedPayment, type Writing } from "@/data/billing/write-books";
import { published } from "@/data/definition/published";
import { dataFolder, type PortalFile } from "@/data/file/open";
import { keepAccount, payAccount } from "@/orders/account";
import { addAccount, addKept, addPaid, openTill, type Till } from "@/till/store";

export interface DemoPayer {
  readonly company: string;
  readonly name: string;
  readonly address: string;
  readonly email: string;
  readonly country: string;
  readonly price: string;
  readonly seats: number;
  readonly state: "trial" | "active" | "grace" | "lapsed";
  /** Days from today to the last day of the state. */
  readonly until: number;
  /** Periods that were paid before the present one ends. */
  readonly paid: number;
  readonly collect: "card" | "outside";
  /** What its card does when it is charged. */
  readonly card?: "paid" | "refused";
}

export interface Register {
  readonly db: Till;
  readonly account: string;
}

/** The portal's account at the Till, with its keys where an owner would have put them. */
export function openAccount(file: PortalFile, owner: Owner, port: number): Register {
  const db = openTill(join(dataFolder(), "till.db"));
  const { name } = published(file).definition.portal;
  const made = addAccount(db, { name, mode: "test", hookUrl: `http://${file.slug}.localhost:${port}/-/payments/events` });
  keepAccount(file, owner, { secret: made.secret, hook: made.hook, mode: "test" });
  return { db, account: made.id };
}

const at = (day: string, hour = 9): number => Date.parse(`${day}T${String(hour).padStart(2, "0")}:00:00Z`);

/** Plans, invoices and payments of a year for these companies, as the run of what falls due would have made them. */
export function makeMoney(file: PortalFile, till: Register, payers: readonly DemoPayer[], now: number): void {
  const { definition } = published(file);
  const zone = definition.portal.timeZone;
  const today = dateIn(now, zone);
  const sold = payers.map((p) => ({ p, invoices: historyOf(file, till, p, today, now) }));
  // Written in the order of their days, so that numbers run as they would have.
  const all = sold.flatMap((s) => s.invoices).sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  for (const i of all) i.write();
  for (const { p } of sold) storeLife(file, p, today, zone, now);
}

function historyOf(file: PortalFile, till: Register, p: DemoPayer, today: string, now: number): { day: string; write: () => void }[] {
  const { definition } = published(file);
  const { portal, billing } = definition;
  const price = definition.prices.find((x) => x.id === p.price)!;
  const terms = termsOf(price, p.seats);
  const buyer: Buyer = { name: p.name, email: p.email, address: p.address, country: p.country, taxNumber: "", reference: "" };
  keepBuyer(file, p.company, buyer, now);
  if (p.collect === "card") {
    const last = p.card === "refused" ? "0025" : "0017";
    const kept = addKept(till.db, till.account, { name: p.name, email: p.email, reference: p.company, does: p.card ?? "paid", last });
    const { account } = payAccount(file)!;
    keepCustomer(file, p.company, account, kept.customer, now);
    keepMethod(file, p.company, account, { id: kept.method, words: `card ending in ${last}` }, now);
  }
  const anchor = paidUntilOf(p, today, billing.grace);
  const rate = rateFor(billing.tax.rates, p.country);
  const first = p.state === "trial" ? 0 : p.paid;
  const periods = Array.from({ length: first + (p.state === "grace" ? 1 : 0) }, (_, i) => periodOf(anchor, terms.cycle, i - first));
  noteWorth(file, p.company, terms.plan, p.state === "trial" ? 0 : monthly(terms), at(periods[0]?.from ?? today));
  return periods.map((period, i) => ({
    day: period.from,
    write: () => {
      const w: Writing = { actor: system("payments"), at: at(period.from), day: period.from };
      const lines = linesIn(
        definition,
        [{ kind: "period", plan: terms.plan, seats: terms.seats, ...period, amount: amountOf(terms) }],
        sayIn(portal.locale),
      );
      const reckoned = reckon(lines, billing.tax.mode, rate);
      const tax = { mode: rate ? billing.tax.mode : ("none" as const), name: rate?.name ?? "", rate: rate?.rate ?? 0 };
      const invoice = addInvoice(
        file,
        {
          what: lines[0]!.text,
          company: p.company,
          person: null,
          order: null,
          buyer,
          tax,
          reckoned,
          due: plusDays(period.from, billing.grace),
        },
        w,
      );
      if (i === first) {
        refusedPayment(
          file,
          invoice.id,
          { outside: null, amount: reckoned.due, by: "card ending in 0025", why: "The card was refused by its bank." },
          w,
        );
        return;
      }
      const outside =
        p.collect === "card"
          ? addPaid(till.db, till.account, { amount: reckoned.due, currency: portal.currency, what: invoice.number, at: w.at })
          : null;
      payInvoice(
        file,
        invoice.id,
        { outside, amount: reckoned.due, by: outside ? "card ending in 0017" : "bank transfer" },
        { ...w, at: w.at + 60_000 },
      );
      // The agency gave one month's half back: the second last of whoever pays the most often.
      if (outside && p.paid >= 10 && i === first - 2)
        payBack(file, outside, Math.floor(reckoned.due / 2), "fitters could not come that fortnight", {
          ...w,
          at: at(plusDays(period.from, 16)),
          day: plusDays(period.from, 16),
        });
    },
  }));
}

/** The first day that is not paid for. */
function paidUntilOf(p: DemoPayer, today: string, grace: number): string {
  const last = plusDays(today, p.until);
  return p.state === "grace" ? plusDays(today, p.until + 1 - grace) : plusDays(last, 1);
}

function storeLife(file: PortalFile, p: DemoPayer, today: string, timeZone: string, now: number): void {
  const { definition } = published(file);
  const terms = termsOf(definition.prices.find((x) => x.id === p.price)!, p.seats);
  const paidUntil = paidUntilOf(p, today, definition.billing.grace);
  const graceUntil = p.state === "grace" ? plusDays(today, p.until + 1) : null;
  const life: Subscription = { state: p.state, terms, next: null, anchor: paidUntil, paidUntil, graceUntil };
  const by = { actor: system("demo"), via: "job", at: p.state === "lapsed" ? at(paidUntil) : now } as const;
  store(file, { company: p.company, day: today, timeZone, collect: p.collect, by }, life);
}
