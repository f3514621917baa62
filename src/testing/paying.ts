/** A portal that sells, with one company and a provider in memory, by a clock of its own. */

import type { Wanted } from "@/core/billing/quote";
import { plusDays } from "@/core/prices/periods";
import { INVOICES } from "@/core/schema/books";
import { keepBuyer } from "@/data/billing/buyers";
import { beginCheckout, type Checkout, checkoutById } from "@/data/billing/checkouts";
import { type Standing, standingOf } from "@/data/billing/standing";
import { published, storePublished } from "@/data/definition/published";
import { begin } from "@/features/pay/begin";
import { offerHere } from "@/features/pay/quote";
import { runBilling } from "@/features/pay/run";
import { takeEvent } from "@/features/pay/settling";
import type { PortalRequest } from "@/identity/requests/request";
import { personViewer } from "@/identity/viewers/viewer";
import { MemoryPayments } from "./payments";
import { must, type TestPortal, testPortal } from "./portal";
import { PUBLISHER } from "./world";

export const noon = (day: string): number => Date.parse(`${day}T12:00:00Z`);
export const GRACE = 7;

export const price = (id: string, plan: string, amount: number, more: object = {}) => ({
  id,
  plan,
  cycle: "month" as const,
  per: "company" as const,
  amount,
  least: 1,
  trialDays: 0,
  setup: 0,
  retired: false,
  ...more,
});
const plan = (id: string) => ({ id, name: id, about: "", features: [id], allowances: [], seats: null, offered: "all" as const });

/** Two plans, by the month, the year, and with a trial; something bought once; VAT on top. */
export function sellingPortal(): TestPortal {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "sites" },
      { roles: ["looker"], table: "sites" },
    ],
  });
  const d = published(p.file).definition;
  storePublished(
    p.file,
    {
      ...d,
      features: [
        { id: "small", name: "small" },
        { id: "large", name: "large" },
      ],
      plans: [plan("small"), plan("large")],
      prices: [
        price("small-m", "small", 1_000),
        price("large-m", "large", 3_000),
        price("small-y", "small", 10_000, { cycle: "year" }),
        price("tried", "large", 3_000, { id: "tried", cycle: "year", amount: 30_000, trialDays: 14 }),
      ],
      offers: [
        {
          id: "once",
          name: "Handbook",
          about: "",
          price: 2_400,
          buyer: "anybody",
          opens: { kind: "feature", feature: "large", days: 10 },
          retired: false,
        },
      ],
      billing: {
        ...d.billing,
        grace: GRACE,
        payers: ["lead"],
        tax: { mode: "exclusive", rates: [{ id: "vat", country: "GB", name: "VAT", rate: 2_000 }] },
      },
    },
    PUBLISHER,
  );
  return p;
}

export class Paying {
  payments = new MemoryPayments();
  today = "2026-01-31";

  constructor(readonly p: TestPortal = sellingPortal()) {}

  till = () => ({
    provider: {} as never,
    account: { account: "acc", mode: "test" as const, secret: "", hook: "" },
    payments: this.payments,
  });
  paying = () => ({ account: "acc", payments: this.payments });
  get company(): string {
    return this.p.company("One");
  }

  /** A request of somebody of company One, as pages have it. */
  request(name = "Dana", role = "lead"): PortalRequest {
    const known = this.p.file.db.prepare("SELECT id FROM t_people WHERE f_person_name = ?").pluck().get(name) as string | undefined;
    if (!known) this.p.person(name, "One", role);
    const id = this.p.file.db.prepare("SELECT id FROM t_people WHERE f_person_name = ?").pluck().get(name) as string;
    const desk = this.p.desk({ ...this.viewerOf(id), now: noon(this.today) } as never);
    return {
      file: this.p.file,
      slug: "test",
      published: published(this.p.file),
      viewer: desk.viewer,
      desk,
      memberships: [],
      base: "",
      path: "/",
      seeAs: null,
    } as never;
  }
  viewerOf = (id: string) => personViewer(this.p.file, id, null, noon(this.today))!;

  order(wanted: Wanted, filling = `filling-${wanted.kind}-${this.today}`): Checkout {
    const r = this.request();
    const { bought } = must(offerHere(r, wanted, "GB"));
    const buyer = { name: "One", email: "dana@t.example", address: "", country: "GB", taxNumber: "", reference: "" };
    keepBuyer(this.p.file, this.p.company("One"), buyer, noon(this.today));
    return beginCheckout(this.p.file, {
      filling,
      company: this.p.company("One"),
      person: r.viewer.person!.id,
      email: buyer.email,
      bought: { ...bought, buyer },
      account: "acc",
      back: "/",
      now: noon(this.today),
    })!;
  }
  begun = async (c: Checkout): Promise<string> =>
    must(
      await begin(this.p.file, this.till(), checkoutById(this.p.file, c.id)!, {
        now: noon(this.today),
        other: false,
        payer: true,
        key: null,
      }),
    );

  /** Bought, paid on the provider's page, and its event taken. */
  async buy(wanted: Wanted): Promise<Checkout> {
    const c = this.order(wanted);
    const to = await this.begun(c);
    if (to.startsWith("http")) {
      const id = to.split("/").at(-1)!;
      takeEvent(this.p.file, { id: `evt-${id}`, type: "checkout", subject: id, outcome: this.payments.pay(id) }, noon(this.today));
    }
    return checkoutById(this.p.file, c.id)!;
  }
  run = () => runBilling(this.p.file, this.paying(), () => noon(this.today));
  async until(day: string): Promise<void> {
    while (this.today < day) {
      this.today = plusDays(this.today, 1);
      await this.run();
    }
  }
  state = (): Standing => standingOf(this.p.file, published(this.p.file).definition, this.p.company("One"), this.today);
  invoices = () =>
    this.p.file.db
      .prepare(
        `SELECT f_invoice_number n, f_invoice_state s, f_invoice_total t, f_invoice_issued d FROM ${INVOICES} ORDER BY f_invoice_issued, id`,
      )
      .all() as { n: string; s: string; t: number; d: string }[];
  mails = (occasion: string) =>
    this.p.file.db.prepare("SELECT body FROM sys_messages WHERE occasion = ? ORDER BY made_at, rowid").pluck().all(occasion) as string[];
}
