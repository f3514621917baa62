/** A subscription from the checkout on, by a clock of its own: renewals, failure, grace, lapse and return; and killed at every named point. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { Wanted } from "@/core/billing/quote";
import { INVOICES, PAYMENTS } from "@/core/schema/books";
import { customerOf } from "@/data/billing/buyers";
import { beginCheckout, checkoutById } from "@/data/billing/checkouts";
import { seatsOf } from "@/data/billing/people";
import { subscriptionOf } from "@/data/billing/standing";
import { published, storePublished } from "@/data/definition/published";
import { atPoints } from "@/data/file/points";
import { companyDesk, keepCompanySettings } from "@/identity/company-page";
import { noon, Paying, price } from "@/testing/paying";
import { MemoryPayments } from "@/testing/payments";
import { must, type TestPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { begin } from "./begin";
import { offerHere } from "./quote";
import { takeEvent } from "./settling";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-life-"));
beforeAll(() => {
  process.env.ELKHORN_DATA = folder;
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

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
    const [one, two] = [
      w.order({ kind: "plan", price: "large-m", seats: 1 }, "tab-one-0123456789"),
      w.order({ kind: "plan", price: "large-m", seats: 1 }, "tab-two-0123456789"),
    ];
    const three = w.order({ kind: "plan", price: "large-m", seats: 1 }, "tab-three-01234567");
    const ids = [(await w.begun(one)).split("/").at(-1)!, (await w.begun(two)).split("/").at(-1)!];
    for (const id of ids) takeEvent(p.file, { id: `evt-${id}`, type: "checkout", subject: id, outcome: w.payments.pay(id) }, noon(w.today));
    // A third that was not begun yet is told so before anything is charged.
    expect(await begin(p.file, w.till(), three, { now: noon(w.today), other: false, key: null })).toMatchObject({ ok: false });
    expect([w.payments.taken.length, w.invoices().length, checkoutById(p.file, two.id)!.why]).toEqual([
      3,
      2,
      expect.stringContaining("could not be had"),
    ]);
    await w.until("2026-02-28");
    // 36.00 are due, 12.00 of them from their credit.
    expect([w.invoices().at(-1)!.t, w.payments.taken.at(-1)!.amount]).toEqual([3_600, 2_400]);
  });
});

describe("events", () => {
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
    expect(offerHere(w.request(), wanted, "")).toMatchObject({ ok: true });
    expect(offerHere(w.request("Lo", "looker"), { kind: "offer", offer: "once", record: null, own: true }, "")).toMatchObject({ ok: true });
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
