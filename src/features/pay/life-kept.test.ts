/** A subscription between its days: what is kept, events of the provider, ends at any moment, and who may. */

import { beforeEach, describe, expect, it } from "vitest";
import type { Wanted } from "@/core/billing/quote";
import { INVOICES, PAYMENTS } from "@/core/schema/books";
import { customerOf } from "@/data/billing/buyers";
import { beginCheckout, checkoutById } from "@/data/billing/checkouts";
import { creditOf } from "@/data/billing/credit";
import { seatsOf } from "@/data/billing/people";
import { subscriptionOf } from "@/data/billing/standing";
import { published, storePublished } from "@/data/definition/published";
import { atPoints } from "@/data/file/points";
import { companyDesk } from "@/joining/company-page";
import { keepCompanySettings } from "@/joining/company-settings";
import { ownFolder } from "@/testing/folder";
import { noon, Paying, price } from "@/testing/paying";
import { MemoryPayments } from "@/testing/payments";
import { must, type TestPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { begin } from "./begin";
import { offerHere } from "./quote";
import { takeEvent } from "./settling";

ownFolder();

let w: Paying;
let p: TestPortal;
beforeEach(() => {
  w = new Paying();
  p = w.p;
});

describe("what is kept", () => {
  it("is charged for nobody who may not pay, nor for what somebody buys for themselves", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    const taken = w.payments.taken.length;
    const looker = w.request("Lois", "looker");
    expect(offerHere(looker, { kind: "plan", price: "large-m", seats: 1 }, "GB")).toMatchObject({ ok: false, error: { no: "not-you" } });
    const { bought } = must(offerHere(looker, { kind: "offer", offer: "once", record: null, own: true }, "GB"));
    const buyer = { name: "Lois", email: "lois@t.example", address: "", country: "GB", taxNumber: "", reference: "" };
    const own = beginCheckout(p.file, {
      filling: "own-0123456789abcdef",
      company: w.company,
      person: looker.viewer.person!.id,
      email: buyer.email,
      bought: { ...bought, buyer },
      account: "acc",
      back: "/",
      now: noon(w.today),
    })!;
    // Whatever the caller says of them: a purchase of one's own is never the company's.
    for (const payer of [false, true]) {
      const to = must(await begin(p.file, w.till(), checkoutById(p.file, own.id)!, { now: noon(w.today), other: false, payer, key: null }));
      expect(to).toMatch(/^http/);
    }
    expect(w.payments.taken.length).toBe(taken);
    const page = [...w.payments.checkouts.values()].at(-1)!;
    expect(page.keep).toBe(false);
    expect(customerOf(p.file, w.company, "acc")!.method).not.toBeNull();
    // A purchase for the company by somebody whose right to pay is gone meanwhile goes to the provider's page.
    const company = w.order({ kind: "plan", price: "large-m", seats: 1 }, "gone-0123456789abcd");
    w.today = "2026-02-14";
    expect(must(await begin(p.file, w.till(), company, { now: noon("2026-01-31"), other: false, payer: false, key: null }))).toMatch(
      /^http/,
    );
    expect(w.payments.taken.length).toBe(taken);
  });
});

describe("events", () => {
  it("money of another currency opens nothing and is nobody's credit: the agency is told, and so is the buyer", async () => {
    const c = w.order({ kind: "plan", price: "small-m", seats: 1 });
    const id = (await w.begun(c)).split("/").at(-1)!;
    const outcome = { ...w.payments.pay(id), currency: "JPY" };
    takeEvent(p.file, { id: "e-jpy", type: "checkout", subject: id, outcome }, noon(w.today));
    expect([w.state().state, w.invoices().length, creditOf(p.file, w.company)]).toEqual(["none", 0, 0]);
    expect(w.mails("paid").join()).toContain("was paid in JPY, which this portal does not take");
    expect(p.file.db.prepare("SELECT count(*) FROM sys_events WHERE act = 'paid-for-nothing'").pluck().get()).toBe(1);
  });

  it("twice, late and out of order come to the same; one whose amount is another opens nothing", async () => {
    const c = w.order({ kind: "plan", price: "small-m", seats: 1 });
    const id = (await w.begun(c)).split("/").at(-1)!;
    const outcome = w.payments.pay(id);
    const event = { id: "e1", type: "checkout" as const, subject: id, outcome };
    takeEvent(p.file, { ...event, outcome: { ...outcome, state: "open" } }, noon(w.today));
    expect(w.state().state).toBe("none");
    for (let i = 0; i < 3; i++) takeEvent(p.file, event, noon(w.today));
    expect([w.invoices().length, p.file.db.prepare(`SELECT count(*) FROM ${PAYMENTS}`).pluck().get()]).toEqual([1, 1]);
    takeEvent(p.file, { ...event, outcome: { ...outcome, reference: "nobody's" } }, noon(w.today));
    const other = w.order({ kind: "offer", offer: "once", record: null, own: false });
    const otherId = (await w.begun({ ...other })).split("/").at(-1)!;
    if (w.payments.checkouts.has(otherId))
      takeEvent(p.file, { ...event, id: "e2", outcome: { ...w.payments.pay(otherId), amount: 1 } }, noon(w.today));
    else expect([...w.state().features].sort()).toEqual(["large", "small"]); // paid by what is kept
  });
  it("one filling-in of the form is one checkout and one payment, however often it is sent", async () => {
    const all = [1, 2, 3].map(() => w.order({ kind: "plan", price: "small-m", seats: 1 }, "the-same-filling-in"));
    expect(new Set(all.map((c) => c.id)).size).toBe(1);
    const ways = new Set(await Promise.all(all.map(w.begun)));
    expect(ways.size).toBe(1);
    const elsewhere = beginCheckout(p.file, {
      ...all[0]!,
      filling: "the-same-filling-in",
      company: p.company("Two"),
      person: null,
      now: 0,
    } as never);
    expect(elsewhere).toBeNull();
  });
});

describe("killed at a named point", () => {
  const POINTS = [
    "settling: begun",
    "settling: invoiced",
    "settling: written",
    "checkout: opened",
    "checkout: claimed",
    "checkout: charged",
    "renewal: asked",
    "renewal: answered",
    "charging: ended",
    "charging: written",
  ];
  let dies: { at: string; after: number } | null = null;
  atPoints((point) => {
    if (dies?.at === point && dies.after-- === 0) {
      dies = null;
      throw new Error(`killed at ${point}`);
    }
  });
  const surviving = async (work: () => Promise<unknown>): Promise<void> => {
    await work().catch((e: Error) => {
      if (!e.message.startsWith("killed")) throw e;
    });
  };

  it("nothing is lost and nothing is twice: 108 kills over purchase, change and renewals", { timeout: 60_000 }, async () => {
    let kills = 0;
    for (const at of POINTS)
      for (let after = 0; after < 12; after++) {
        p.file.db.exec(
          "DELETE FROM sys_subscriptions; DELETE FROM sys_checkouts; DELETE FROM sys_charges; DELETE FROM sys_payments; DELETE FROM sys_customers; DELETE FROM sys_credit; DELETE FROM sys_invoice_papers; DELETE FROM sys_counters",
        );
        p.file.db.exec(`DELETE FROM t_invoice_lines; DELETE FROM ${PAYMENTS}; DELETE FROM ${INVOICES}; DELETE FROM t_orders`);
        w.payments = new MemoryPayments();
        w.today = "2026-01-31";
        dies = { at, after: after % 4 };
        // Pressed again where nothing came back; the provider's event comes again until it is taken.
        const first = w.order({ kind: "plan", price: "small-m", seats: 1 }, `first-${at}-${after}-012345`);
        let to = "";
        for (let i = 0; i < 3 && !to; i++) await surviving(async () => void (to = await w.begun(first)));
        const id = to.split("/").at(-1)!;
        const outcome = w.payments.pay(id);
        for (let i = 0; i < 3; i++)
          await surviving(async () => takeEvent(p.file, { id: "e", type: "checkout", subject: id, outcome }, noon(w.today)));
        w.today = "2026-02-10";
        const second = w.order({ kind: "plan", price: "large-m", seats: 1 }, `second-${at}-${after}-012345`);
        for (let i = 0; i < 3; i++) await surviving(() => w.begun(second));
        for (const day of ["2026-02-28", "2026-03-31", "2026-04-30"]) {
          w.today = day;
          for (let i = 0; i < 3; i++) await surviving(w.run);
        }
        if (dies === null) kills++;
        dies = null;
        const why = `${at}, ${after}`;
        expect([why, w.invoices().map((i) => i.s)]).toEqual([why, ["paid", "paid", "paid", "paid", "paid"]]);
        expect([why, w.payments.taken.length]).toEqual([why, 5]);
        const paid = p.file.db.prepare("SELECT outside FROM sys_payments").pluck().all() as string[];
        expect([why, paid.sort()]).toEqual([why, w.payments.taken.map((x) => x.payment).sort()]);
        expect(p.file.db.prepare("SELECT coalesce(sum(amount), 0) FROM sys_credit").pluck().get()).toBe(0);
      }
    expect(kills).toBeGreaterThanOrEqual(60);
  });
});

describe("who may", () => {
  it("only a payer buys for the company; others are told who may; a guest buys what is for anybody", () => {
    const wanted: Wanted = { kind: "plan", price: "small-m", seats: 1 };
    expect(offerHere(w.request("Lo", "looker"), wanted, "")).toEqual({ ok: false, error: { no: "not-you" } });
    expect(offerHere(w.request(), wanted, "GB")).toMatchObject({ ok: true });
    expect(offerHere(w.request("Lo", "looker"), { kind: "offer", offer: "once", record: null, own: true }, "GB")).toMatchObject({
      ok: true,
    });
    expect(offerHere(w.request("Lo", "looker"), { kind: "offer", offer: "once", record: null, own: false }, "")).toEqual({
      ok: false,
      error: { no: "not-you" },
    });
    for (const price of ["nothing", "", "large"])
      expect(offerHere(w.request(), { kind: "plan", price, seats: 1 }, "")).toEqual({ ok: false, error: { no: "gone" } });
  });
  it("an invoice is its buyer's alone", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    const id = p.file.db.prepare(`SELECT id FROM ${INVOICES}`).pluck().get() as string;
    const table = published(p.file).policy.schema.table(INVOICES);
    const see = (d: { viewer: never }) => p.desk(d.viewer).read(table, id) !== undefined;
    expect(see(w.request() as never)).toBe(true);
    expect([see(w.request("Lo", "looker") as never), see(p.person("Rafe", "Two", "lead") as never), see(p.visitor() as never)]).toEqual([
      false,
      false,
      false,
    ]);
    const dana = w.request();
    expect([
      dana.desk.may(table, "add"),
      dana.desk.may(table, "change"),
      p.owners.may(table, "change"),
      p.owners.may(table, "see"),
    ]).toEqual([false, false, false, true]);
    expect(p.owners.remove(table, id).ok).toBe(false);
    expect(offerHere(w.request("Rafe", "lead"), { kind: "invoice", invoice: id }, "")).toEqual({ ok: false, error: { no: "gone" } });
    expect(customerOf(p.file, p.company("One"), "another account")).toBeNull();
  });
});

it("a free plan is a plan: chosen without a way to pay, open at once, and going on by itself without paper", async () => {
  const d = published(p.file).definition;
  storePublished(p.file, { ...d, prices: [...d.prices, price("nothing", "small", 0)] }, PUBLISHER);
  const c = await w.buy({ kind: "plan", price: "nothing", seats: 1 });
  expect([c.state, [...w.state().features], w.payments.checkouts.size]).toEqual(["done", ["small"], 0]);
  await w.until("2026-04-30");
  expect([w.state().state, w.invoices(), subscriptionOf(p.file, p.company("One"))!.life.paidUntil]).toEqual(["active", [], "2026-05-31"]);
  // From there to one that costs something a way to pay is asked for.
  expect(await w.begun(w.order({ kind: "plan", price: "large-m", seats: 1 }))).toContain("http");
});

describe("seats", () => {
  it("of a price by the seat hold when a lead invites, and one more is paid for the rest of the time", async () => {
    const d = published(p.file).definition;
    storePublished(
      p.file,
      {
        ...d,
        prices: [...d.prices, price("seats", "large", 1_100, { per: "seat", least: 2 })],
        billing: { ...d.billing, tax: { mode: "none", rates: [] } },
      },
      PUBLISHER,
    );
    keepCompanySettings(p.file, p.owner, { leads: ["lead"], give: ["looker"], seats: null, seatsOf: {} });
    await w.buy({ kind: "plan", price: "seats", seats: 2 });
    expect(seatsOf(p.file, p.company("One"))).toEqual({ taken: 1, paidFor: 2, price: "seats" });
    const desk = () => companyDesk(p.file, w.request().viewer)!;
    expect(desk().invite("Lo", "lo@t.example", "looker")).toMatchObject({ ok: true });
    expect(desk().invite("Mo", "mo@t.example", "looker")).toMatchObject({
      ok: false,
      error: { message: expect.stringContaining("2 seats, and all are taken") },
    });
    expect(offerHere(w.request(), { kind: "plan", price: "seats", seats: 1 }, "")).toEqual({ ok: false, error: { no: "seats", least: 2 } });
    w.today = "2026-02-14";
    // A seat for 14 of the 28 days: half of 11.00.
    const more = must(offerHere(w.request(), { kind: "plan", price: "seats", seats: 3 }, "")).bought;
    expect(more.reckoned.due).toBe(550);
    await w.buy({ kind: "plan", price: "seats", seats: 3 });
    expect(desk().invite("Mo", "mo@t.example", "looker")).toMatchObject({ ok: true });
  });
});

it("each step stands in the log once, and is told once", async () => {
  const logged = () => p.file.db.prepare("SELECT act FROM sys_events WHERE act NOT LIKE 'record-%' ORDER BY id").pluck().all() as string[];
  const told = () => p.file.db.prepare("SELECT occasion FROM sys_messages ORDER BY rowid").pluck().all() as string[];
  const since = () => [logged().slice(from[0]), [...new Set(told().slice(from[1]))]];
  const d = published(p.file).definition;
  storePublished(p.file, { ...d, prices: [...d.prices, price("nothing", "small", 0)] }, PUBLISHER);
  w.request();
  const from = [logged().length, told().length] as const;
  await w.buy({ kind: "plan", price: "nothing", seats: 1 });
  expect(since()).toEqual([["subscription-changed"], ["plan-changed"]]);
  const paid = async (wanted: Wanted, filling: string) => {
    const id = (await w.begun(w.order(wanted, filling))).split("/").at(-1)!;
    if (!w.payments.checkouts.has(id)) return;
    takeEvent(p.file, { id: `e-${filling}`, type: "checkout", subject: id, outcome: w.payments.pay(id) }, noon(w.today));
  };
  await paid({ kind: "method" }, "method-0123456789abcd");
  expect(since()).toEqual([["subscription-changed", "method-kept"], ["plan-changed"]]);
  await paid({ kind: "plan", price: "large-m", seats: 1 }, "large-0123456789abcde");
  expect(since()).toEqual([
    ["subscription-changed", "method-kept", "subscription-changed", "payment-came"],
    ["plan-changed", "paid"],
  ]);
});

it("what costs nothing is had without a payment", async () => {
  const d = published(p.file).definition;
  storePublished(p.file, { ...d, offers: d.offers.map((o) => ({ ...o, price: 0 })) }, PUBLISHER);
  const c = await w.buy({ kind: "offer", offer: "once", record: null, own: false });
  expect([c.state, w.payments.checkouts.size, w.invoices().length]).toEqual(["done", 0, 0]);
  // It is an order all the same: the agency may have to fulfil it.
  expect(p.file.db.prepare("SELECT count(*) FROM t_orders").pluck().get()).toBe(1);
  expect(p.file.db.prepare("SELECT count(*) FROM sys_opened").pluck().get()).toBe(1);
});
