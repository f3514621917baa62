/** A subscription from the checkout on, by a clock of its own: renewals, failure, grace, lapse and return; and killed at every named point. */

import { beforeEach, describe, expect, it } from "vitest";
import { termsOf } from "@/core/billing/quote";
import { system } from "@/core/events/event";
import { INVOICES, PAYMENTS } from "@/core/schema/books";
import { type Checkout, checkoutById } from "@/data/billing/checkouts";
import { creditOf } from "@/data/billing/credit";
import { take } from "@/data/billing/life";
import { subscriptionOf } from "@/data/billing/standing";
import { published } from "@/data/definition/published";
import { ownFolder } from "@/testing/folder";
import { noon, Paying } from "@/testing/paying";
import { must, type TestPortal } from "@/testing/portal";
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

describe("fourteen months", () => {
  it("are charged once each on their day, across the ends of short months, with an invoice each and a message", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    expect([...w.state().features]).toEqual(["small"]);
    await w.until("2027-03-31");
    // Worked by hand (common practice, no source): the 31st, or the last day of a month that has none.
    expect(w.invoices().map((i) => i.d)).toEqual([
      "2026-01-31",
      "2026-02-28",
      "2026-03-31",
      "2026-04-30",
      "2026-05-31",
      "2026-06-30",
      "2026-07-31",
      "2026-08-31",
      "2026-09-30",
      "2026-10-31",
      "2026-11-30",
      "2026-12-31",
      "2027-01-31",
      "2027-02-28",
      "2027-03-31",
    ]);
    expect(new Set(w.invoices().map((i) => `${i.s} ${i.t}`))).toEqual(new Set(["paid 1200"]));
    expect(
      w
        .invoices()
        .map((i) => i.n)
        .slice(-4),
    ).toEqual(["2026-0012", "2027-0001", "2027-0002", "2027-0003"]);
    expect(w.payments.taken).toHaveLength(15);
    expect(w.mails("paid")).toHaveLength(15);
  });

  it("a clock that jumps over months charges each of them once, and a second run nothing", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.today = "2026-05-01";
    await w.run();
    await w.run();
    expect([w.invoices().length, w.payments.taken.length, subscriptionOf(p.file, p.company("One"))!.life.paidUntil]).toEqual([
      4,
      4,
      "2026-05-31",
    ]);
  });
});

describe("a payment that fails", () => {
  it("opens a grace with three tries and messages, shuts the doors on the day, and opens them at once when it is paid", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.payments.refuses = true;
    await w.until("2026-02-28");
    expect([w.state().state, w.state().until, [...w.state().features]]).toEqual(["grace", "2026-03-06", ["small"]]);
    await w.until("2026-03-06");
    // The day, day 3, the last day.
    expect(
      p.file.db.prepare(`SELECT f_payment_state s, substr(f_payment_at, 1, 10) d FROM ${PAYMENTS} WHERE f_payment_state = 'refused'`).all(),
    ).toEqual(["2026-02-28", "2026-03-03", "2026-03-06"].map((d) => ({ s: "refused", d })));
    // On each of these days the doors are open as the mail says: shut is the 7th.
    const said = w.mails("payment-due").map((m) => /Everything stays open.*?\./.exec(m)?.[0]);
    expect(said).toEqual([
      "Everything stays open until 6 Mar 2026: 7 days, today among them.",
      "Everything stays open until 6 Mar 2026: 4 days, today among them.",
      "Everything stays open today, and no longer.",
    ]);
    await w.until("2026-03-07");
    expect([w.state().state, [...w.state().features], w.invoices().map((i) => i.s)]).toEqual(["lapsed", [], ["paid", "void"]]);
    expect(w.mails("plan-changed")[0]).toContain("It opens again at once when you pay");
    w.payments.refuses = false;
    w.today = "2026-04-02";
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    // Begun anew: what was shut meanwhile is not charged.
    expect([w.state().state, subscriptionOf(p.file, p.company("One"))!.life.paidUntil, [...w.state().features]]).toEqual([
      "active",
      "2026-05-02",
      ["small"],
    ]);
  });
  it("is paid in its grace by the invoice itself; the time goes on from the day that it was due", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.payments.refuses = true;
    await w.until("2026-03-02");
    w.payments.refuses = false;
    const open = p.file.db.prepare(`SELECT id FROM ${INVOICES} WHERE f_invoice_state = 'open'`).pluck().get() as string;
    await w.buy({ kind: "invoice", invoice: open });
    expect([w.state().state, subscriptionOf(p.file, p.company("One"))!.life.paidUntil, w.invoices().map((i) => i.s)]).toEqual([
      "active",
      "2026-03-31",
      ["paid", "paid"],
    ]);
    await w.until("2026-03-31");
    expect(w.invoices()).toHaveLength(3);
  });
  it("is none where the provider cannot be reached: it is asked again by the same key", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.payments.silent = true;
    await w.until("2026-03-01");
    expect([w.state().state, w.invoices().map((i) => i.s)]).toEqual(["active", ["paid", "open"]]);
    w.payments.silent = false;
    await w.run();
    expect([w.invoices().map((i) => i.s), w.payments.taken.length]).toEqual([["paid", "paid"], 2]);
  });
});

describe("trial, change, cancelling", () => {
  it("a trial is told of three days before its end, and is then paid; a second one is not given", async () => {
    await w.buy({ kind: "plan", price: "tried", seats: 1 });
    expect([w.state().state, w.state().until, w.invoices().length]).toEqual(["trial", "2026-02-13", 0]);
    await w.until("2026-02-11");
    expect(w.mails("trial-ends")).toHaveLength(1);
    await w.until("2026-02-14");
    expect([w.state().state, w.invoices().map((i) => [i.d, i.t])]).toEqual(["active", [["2026-02-14", 36_000]]]);
    expect(offerHere(w.request(), { kind: "plan", price: "small-y", seats: 1 }, "GB")).toMatchObject({ ok: true });
  });
  it("a trial without a way to pay is over on its day", async () => {
    await w.buy({ kind: "plan", price: "tried", seats: 1 });
    p.file.db.prepare("UPDATE sys_customers SET method = NULL").run();
    await w.until("2026-02-14");
    expect([w.state().state, w.invoices().length, [...w.state().features]]).toEqual(["lapsed", 0, []]);
  });
  it("up is paid by what is kept for the rest of the time, with the lines that were shown; down waits for the end", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.today = "2026-02-14";
    const shown = must(offerHere(w.request(), { kind: "plan", price: "large-m", seats: 1 }, "GB")).bought;
    // 14 of 28 days are left: half of 20.00.
    expect([shown.lines.map((l) => l.amount), shown.reckoned.due]).toEqual([[1_000], 1_200]);
    await w.buy({ kind: "plan", price: "large-m", seats: 1 });
    expect([[...w.state().features], w.invoices().at(-1)!.t, w.payments.taken.at(-1)!.amount]).toEqual([["large"], 1_200, 1_200]);
    w.today = "2026-02-15";
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    expect([...w.state().features]).toEqual(["large"]);
    await w.until("2026-02-28");
    expect([[...w.state().features], w.invoices().at(-1)!.t]).toEqual([["small"], 1_200]);
  });
  it("what changed between the choice and the payment is not done, and the money is to their credit, which the next invoice uses", async () => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.today = "2026-02-14";
    p.file.db.prepare("UPDATE sys_customers SET method = NULL").run();
    const large = { kind: "plan", price: "large-m", seats: 1 } as const;
    const [one, two, three] = ["one", "two", "three"].map((tab) => w.order(large, `tab-${tab}-0123456789`)) as [
      Checkout,
      Checkout,
      Checkout,
    ];
    const pageOf = async (c: Checkout): Promise<string> => (await w.begun(c)).split("/").at(-1)!;
    const first = await pageOf(one);
    const second = await pageOf(two);
    // Of two pages for the same one at the most is paid: the first was closed when the second opened.
    expect(w.payments.pay(first).state).toBe("closed");
    expect(checkoutById(p.file, one.id)!.state).toBe("failed");
    // Paid on the page, and changed by the agency before the word of it comes.
    const paid = w.payments.pay(second);
    const was = subscriptionOf(p.file, w.company)!;
    const by = { actor: system("test"), via: "page", at: noon(w.today) } as const;
    const terms = termsOf(published(p.file).definition.prices.find((x) => x.id === "large-m")!, 1);
    take(
      p.file,
      { company: w.company, day: w.today, timeZone: was.timeZone, collect: was.collect, by },
      { kind: "changed", terms },
      { grace: 7 },
    );
    takeEvent(p.file, { id: "evt-2", type: "checkout", subject: second, outcome: paid }, noon(w.today));
    expect(checkoutById(p.file, two.id)!.why).toContain("could not be had");
    // One that was not begun yet is told so before anything is charged.
    const late = await begin(p.file, w.till(), three, { now: noon(w.today), other: false, payer: true, key: null });
    expect([late.ok, w.payments.taken.length]).toEqual([false, 2]);
    await w.until("2026-02-28");
    // 36.00 are due, 12.00 of them from their credit.
    expect([w.invoices().at(-1)!.t, w.payments.taken.at(-1)!.amount]).toEqual([3_600, 2_400]);
  });
});

describe("at the same moment", () => {
  const kept = async (): Promise<void> => {
    await w.buy({ kind: "plan", price: "small-m", seats: 1 });
    w.today = "2026-02-14";
  };
  const how = { now: 0, other: false, payer: true, key: null };
  const all = (cs: readonly Checkout[]) => Promise.all(cs.map((c) => begin(p.file, w.till(), c, { ...how, now: noon(w.today) })));

  it("one upgrade in six tabs is charged once; the others are told, and nothing is credited", async () => {
    await kept();
    const tabs = Array.from({ length: 6 }, (_, i) => w.order({ kind: "plan", price: "large-m", seats: 1 }, `tab-${i}-0123456789ab`));
    const ends = await all(tabs);
    expect([ends.filter((e) => e.ok).length, w.payments.taken.length, w.invoices().length]).toEqual([1, 2, 2]);
    expect(ends.flatMap((e) => (e.ok ? [] : [e.error]))[0]).toContain("Another payment for this is under way");
    await w.run();
    expect([w.payments.taken.length, creditOf(p.file, w.company)]).toEqual([2, 0]);
  });
  it("one thing bought once in six tabs, and one invoice in six tabs beside the nightly run, are charged once", async () => {
    await kept();
    await all(
      Array.from({ length: 6 }, (_, i) => w.order({ kind: "offer", offer: "once", record: null, own: false }, `offer-${i}-0123456789ab`)),
    );
    expect(w.payments.taken.length).toBe(2);
    w.payments.refuses = true;
    await w.until("2026-02-28");
    w.payments.refuses = false;
    w.today = "2026-03-03"; // a day on which the run tries again
    const open = p.file.db.prepare(`SELECT id FROM ${INVOICES} WHERE f_invoice_state = 'open'`).pluck().get() as string;
    const tabs = Array.from({ length: 6 }, (_, i) => w.order({ kind: "invoice", invoice: open }, `invoice-${i}-0123456789`));
    await Promise.all([all(tabs.slice(0, 3)), w.run(), all(tabs.slice(3))]);
    expect([w.payments.taken.length, w.invoices().map((i) => i.s)]).toEqual([3, ["paid", "paid", "paid"]]);
  });
  it("a charge of which no word came is asked for again by the same key, and no other is begun meanwhile", async () => {
    await kept();
    const [one, two] = ["one", "two"].map((t) => w.order({ kind: "plan", price: "large-m", seats: 1 }, `tab-${t}-0123456789ab`)) as [
      Checkout,
      Checkout,
    ];
    w.payments.silent = true;
    expect(await all([one])).toMatchObject([{ ok: true, value: `/-/paying/${one.id}` }]);
    expect(await all([two])).toMatchObject([{ ok: false }]);
    w.payments.silent = false;
    expect(await all([two])).toMatchObject([{ ok: false }]);
    await w.run();
    expect([checkoutById(p.file, one.id)!.state, w.payments.taken.length]).toEqual(["done", 2]);
  });
});
