/** A subscription from the checkout on, by a clock of its own: renewals, failure, grace, lapse and return; and killed at every named point. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { plusDays } from "@/core/billing/periods";
import type { Wanted } from "@/core/billing/quote";
import { INVOICES, PAYMENTS } from "@/core/schema/books";
import { customerOf, keepBuyer } from "@/data/billing/buyers";
import { beginCheckout, type Checkout, checkoutById } from "@/data/billing/checkouts";
import { seatsOf } from "@/data/billing/people";
import { standingOf, subscriptionOf } from "@/data/billing/standing";
import { published, storePublished } from "@/data/definition/published";
import { atPoints } from "@/data/file/points";
import { companyDesk, keepCompanySettings } from "@/identity/company-page";
import type { PortalRequest } from "@/identity/request";
import { personViewer } from "@/identity/viewer";
import { MemoryPayments } from "@/testing/payments";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { begin } from "./begin";
import { offerHere } from "./quote";
import { runBilling } from "./run";
import { takeEvent } from "./settling";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-life-"));
beforeAll(() => {
  process.env.ELKHORN_DATA = folder;
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const noon = (day: string): number => Date.parse(`${day}T12:00:00Z`);
const GRACE = 7;
let p: TestPortal;
let payments: MemoryPayments;
let today: string;

const price = (id: string, plan: string, amount: number, more: object = {}) => ({
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

beforeEach(() => {
  p = testPortal({
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
  payments = new MemoryPayments();
  today = "2026-01-31";
});

const TILL = () => ({ provider: {} as never, account: { account: "acc", mode: "test" as const, secret: "", hook: "" }, payments });
const paying = () => ({ account: "acc", payments });

/** A request of somebody of company One, as pages have it. */
function request(name = "Dana", role = "lead"): PortalRequest {
  const known = p.file.db.prepare("SELECT id FROM t_people WHERE f_person_name = ?").pluck().get(name) as string | undefined;
  if (!known) p.person(name, "One", role);
  const id = p.file.db.prepare("SELECT id FROM t_people WHERE f_person_name = ?").pluck().get(name) as string;
  const desk = p.desk({ ...viewerOf(id), now: noon(today) } as never);
  return {
    file: p.file,
    slug: "test",
    published: published(p.file),
    viewer: desk.viewer,
    desk,
    memberships: [],
    base: "",
    path: "/",
    seeAs: null,
  } as never;
}
const viewerOf = (id: string) => personViewer(p.file, id, null, noon(today))!;

function order(wanted: Wanted, filling = `filling-${wanted.kind}-${today}`): Checkout {
  const r = request();
  const { bought } = must(offerHere(r, wanted, "GB"));
  const buyer = { name: "One", email: "dana@t.example", address: "", country: "GB", taxNumber: "", reference: "" };
  keepBuyer(p.file, p.company("One"), buyer, noon(today));
  return beginCheckout(p.file, {
    filling,
    company: p.company("One"),
    person: r.viewer.person!.id,
    email: buyer.email,
    bought: { ...bought, buyer },
    account: "acc",
    back: "/",
    now: noon(today),
  })!;
}
const begun = async (c: Checkout): Promise<string> =>
  must(await begin(p.file, TILL(), checkoutById(p.file, c.id)!, { now: noon(today), other: false, key: null }));

/** Bought, paid on the provider's page, and its event taken. */
async function buy(wanted: Wanted): Promise<Checkout> {
  const c = order(wanted);
  const to = await begun(c);
  if (to.startsWith("http")) {
    const id = to.split("/").at(-1)!;
    takeEvent(p.file, { id: `evt-${id}`, type: "checkout", subject: id, outcome: payments.pay(id) }, noon(today));
  }
  return checkoutById(p.file, c.id)!;
}
const run = () => runBilling(p.file, paying(), () => noon(today));
async function until(day: string): Promise<void> {
  while (today < day) {
    today = plusDays(today, 1);
    await run();
  }
}
const state = () => standingOf(p.file, published(p.file).definition, p.company("One"), today);
const invoices = () =>
  p.file.db
    .prepare(
      `SELECT f_invoice_number n, f_invoice_state s, f_invoice_total t, f_invoice_issued d FROM ${INVOICES} ORDER BY f_invoice_issued, id`,
    )
    .all() as { n: string; s: string; t: number; d: string }[];
const mails = (occasion: string) =>
  p.file.db.prepare("SELECT body FROM sys_messages WHERE occasion = ? ORDER BY made_at, rowid").pluck().all(occasion) as string[];

describe("fourteen months", () => {
  it("are charged once each on their day, across the ends of short months, with an invoice each and a message", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    expect([...state().features]).toEqual(["small"]);
    await until("2027-03-31");
    // Worked by hand (common practice, no source): the 31st, or the last day of a month that has none.
    expect(invoices().map((i) => i.d)).toEqual([
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
    expect(new Set(invoices().map((i) => `${i.s} ${i.t}`))).toEqual(new Set(["paid 1200"]));
    expect(
      invoices()
        .map((i) => i.n)
        .slice(-4),
    ).toEqual(["2026-0012", "2027-0001", "2027-0002", "2027-0003"]);
    expect(payments.taken).toHaveLength(15);
    expect(mails("paid")).toHaveLength(15);
  });

  it("a clock that jumps over months charges each of them once, and a second run nothing", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    today = "2026-05-01";
    await run();
    await run();
    expect([invoices().length, payments.taken.length, subscriptionOf(p.file, p.company("One"))!.life.paidUntil]).toEqual([
      4,
      4,
      "2026-05-31",
    ]);
  });
});

describe("a payment that fails", () => {
  it("opens a grace with three tries and messages, shuts the doors on the day, and opens them at once when it is paid", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    payments.refuses = true;
    await until("2026-02-28");
    expect([state().state, state().until, [...state().features]]).toEqual(["grace", "2026-03-06", ["small"]]);
    await until("2026-03-06");
    // The day, day 3, the last day.
    expect(
      p.file.db.prepare(`SELECT f_payment_state s, substr(f_payment_at, 1, 10) d FROM ${PAYMENTS} WHERE f_payment_state = 'refused'`).all(),
    ).toEqual(["2026-02-28", "2026-03-03", "2026-03-06"].map((d) => ({ s: "refused", d })));
    expect(mails("payment-due")).toHaveLength(3);
    await until("2026-03-07");
    expect([state().state, [...state().features], invoices().map((i) => i.s)]).toEqual(["lapsed", [], ["paid", "void"]]);
    expect(mails("plan-changed")[0]).toContain("It opens again at once when you pay");
    payments.refuses = false;
    today = "2026-04-02";
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    // Begun anew: what was shut meanwhile is not charged.
    expect([state().state, subscriptionOf(p.file, p.company("One"))!.life.paidUntil, [...state().features]]).toEqual([
      "active",
      "2026-05-02",
      ["small"],
    ]);
  });
  it("is paid in its grace by the invoice itself; the time goes on from the day that it was due", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    payments.refuses = true;
    await until("2026-03-02");
    payments.refuses = false;
    const open = p.file.db.prepare(`SELECT id FROM ${INVOICES} WHERE f_invoice_state = 'open'`).pluck().get() as string;
    await buy({ kind: "invoice", invoice: open });
    expect([state().state, subscriptionOf(p.file, p.company("One"))!.life.paidUntil, invoices().map((i) => i.s)]).toEqual([
      "active",
      "2026-03-31",
      ["paid", "paid"],
    ]);
    await until("2026-03-31");
    expect(invoices()).toHaveLength(3);
  });
  it("is none where the provider cannot be reached: it is asked again by the same key", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    payments.silent = true;
    await until("2026-03-01");
    expect([state().state, invoices().map((i) => i.s)]).toEqual(["active", ["paid", "open"]]);
    payments.silent = false;
    await run();
    expect([invoices().map((i) => i.s), payments.taken.length]).toEqual([["paid", "paid"], 2]);
  });
});

describe("trial, change, cancelling", () => {
  it("a trial is told of three days before its end, and is then paid; a second one is not given", async () => {
    await buy({ kind: "plan", price: "tried", seats: 1 });
    expect([state().state, state().until, invoices().length]).toEqual(["trial", "2026-02-13", 0]);
    await until("2026-02-11");
    expect(mails("trial-ends")).toHaveLength(1);
    await until("2026-02-14");
    expect([state().state, invoices().map((i) => [i.d, i.t])]).toEqual(["active", [["2026-02-14", 36_000]]]);
    expect(offerHere(request(), { kind: "plan", price: "small-y", seats: 1 }, "GB")).toMatchObject({ ok: true });
  });
  it("a trial without a way to pay is over on its day", async () => {
    await buy({ kind: "plan", price: "tried", seats: 1 });
    p.file.db.prepare("UPDATE sys_customers SET method = NULL").run();
    await until("2026-02-14");
    expect([state().state, invoices().length, [...state().features]]).toEqual(["lapsed", 0, []]);
  });
  it("up is paid by what is kept for the rest of the time, with the lines that were shown; down waits for the end", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    today = "2026-02-14";
    const shown = must(offerHere(request(), { kind: "plan", price: "large-m", seats: 1 }, "GB")).bought;
    // 14 of 28 days are left: half of 20.00.
    expect([shown.lines.map((l) => l.amount), shown.reckoned.due]).toEqual([[1_000], 1_200]);
    await buy({ kind: "plan", price: "large-m", seats: 1 });
    expect([[...state().features], invoices().at(-1)!.t, payments.taken.at(-1)!.amount]).toEqual([["large"], 1_200, 1_200]);
    today = "2026-02-15";
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    expect([...state().features]).toEqual(["large"]);
    await until("2026-02-28");
    expect([[...state().features], invoices().at(-1)!.t]).toEqual([["small"], 1_200]);
  });
  it("what changed between the choice and the payment is not done, and the money is to their credit, which the next invoice uses", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    today = "2026-02-14";
    p.file.db.prepare("UPDATE sys_customers SET method = NULL").run();
    const [one, two] = [
      order({ kind: "plan", price: "large-m", seats: 1 }, "tab-one-0123456789"),
      order({ kind: "plan", price: "large-m", seats: 1 }, "tab-two-0123456789"),
    ];
    const three = order({ kind: "plan", price: "large-m", seats: 1 }, "tab-three-01234567");
    const ids = [(await begun(one)).split("/").at(-1)!, (await begun(two)).split("/").at(-1)!];
    for (const id of ids) takeEvent(p.file, { id: `evt-${id}`, type: "checkout", subject: id, outcome: payments.pay(id) }, noon(today));
    // A third that was not begun yet is told so before anything is charged.
    expect(await begin(p.file, TILL(), three, { now: noon(today), other: false, key: null })).toMatchObject({ ok: false });
    expect([payments.taken.length, invoices().length, checkoutById(p.file, two.id)!.why]).toEqual([
      3,
      2,
      expect.stringContaining("could not be had"),
    ]);
    await until("2026-02-28");
    // 36.00 are due, 12.00 of them from their credit.
    expect([invoices().at(-1)!.t, payments.taken.at(-1)!.amount]).toEqual([3_600, 2_400]);
  });
});

describe("events", () => {
  it("twice, late and out of order come to the same; one whose amount is another opens nothing", async () => {
    const c = order({ kind: "plan", price: "small-m", seats: 1 });
    const id = (await begun(c)).split("/").at(-1)!;
    const outcome = payments.pay(id);
    const event = { id: "e1", type: "checkout" as const, subject: id, outcome };
    takeEvent(p.file, { ...event, outcome: { ...outcome, state: "open" } }, noon(today));
    expect(state().state).toBe("none");
    for (let i = 0; i < 3; i++) takeEvent(p.file, event, noon(today));
    expect([invoices().length, p.file.db.prepare(`SELECT count(*) FROM ${PAYMENTS}`).pluck().get()]).toEqual([1, 1]);
    takeEvent(p.file, { ...event, outcome: { ...outcome, reference: "nobody's" } }, noon(today));
    const other = order({ kind: "offer", offer: "once", record: null, own: false });
    const otherId = (await begun({ ...other })).split("/").at(-1)!;
    if (payments.checkouts.has(otherId))
      takeEvent(p.file, { ...event, id: "e2", outcome: { ...payments.pay(otherId), amount: 1 } }, noon(today));
    else expect([...state().features].sort()).toEqual(["large", "small"]); // paid by what is kept
  });
  it("one filling-in of the form is one checkout and one payment, however often it is sent", async () => {
    const all = [1, 2, 3].map(() => order({ kind: "plan", price: "small-m", seats: 1 }, "the-same-filling-in"));
    expect(new Set(all.map((c) => c.id)).size).toBe(1);
    const ways = new Set(await Promise.all(all.map(begun)));
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
        payments = new MemoryPayments();
        today = "2026-01-31";
        dies = { at, after: after % 4 };
        // Pressed again where nothing came back; the provider's event comes again until it is taken.
        const first = order({ kind: "plan", price: "small-m", seats: 1 }, `first-${at}-${after}-012345`);
        let to = "";
        for (let i = 0; i < 3 && !to; i++) await surviving(async () => void (to = await begun(first)));
        const id = to.split("/").at(-1)!;
        const outcome = payments.pay(id);
        for (let i = 0; i < 3; i++)
          await surviving(async () => takeEvent(p.file, { id: "e", type: "checkout", subject: id, outcome }, noon(today)));
        today = "2026-02-10";
        const second = order({ kind: "plan", price: "large-m", seats: 1 }, `second-${at}-${after}-012345`);
        for (let i = 0; i < 3; i++) await surviving(() => begun(second));
        for (const day of ["2026-02-28", "2026-03-31", "2026-04-30"]) {
          today = day;
          for (let i = 0; i < 3; i++) await surviving(run);
        }
        if (dies === null) kills++;
        dies = null;
        const why = `${at}, ${after}`;
        expect([why, invoices().map((i) => i.s)]).toEqual([why, ["paid", "paid", "paid", "paid", "paid"]]);
        expect([why, payments.taken.length]).toEqual([why, 5]);
        const paid = p.file.db.prepare("SELECT outside FROM sys_payments").pluck().all() as string[];
        expect([why, paid.sort()]).toEqual([why, payments.taken.map((x) => x.payment).sort()]);
        expect(p.file.db.prepare("SELECT coalesce(sum(amount), 0) FROM sys_credit").pluck().get()).toBe(0);
      }
    expect(kills).toBeGreaterThanOrEqual(60);
  });
});

describe("who may", () => {
  it("only a payer buys for the company; others are told who may; a guest buys what is for anybody", () => {
    const wanted: Wanted = { kind: "plan", price: "small-m", seats: 1 };
    expect(offerHere(request("Lo", "looker"), wanted, "")).toEqual({ ok: false, error: { no: "not-you" } });
    expect(offerHere(request(), wanted, "")).toMatchObject({ ok: true });
    expect(offerHere(request("Lo", "looker"), { kind: "offer", offer: "once", record: null, own: true }, "")).toMatchObject({ ok: true });
    expect(offerHere(request("Lo", "looker"), { kind: "offer", offer: "once", record: null, own: false }, "")).toEqual({
      ok: false,
      error: { no: "not-you" },
    });
    for (const price of ["nothing", "", "large"])
      expect(offerHere(request(), { kind: "plan", price, seats: 1 }, "")).toEqual({ ok: false, error: { no: "gone" } });
  });
  it("an invoice is its buyer's alone", async () => {
    await buy({ kind: "plan", price: "small-m", seats: 1 });
    const id = p.file.db.prepare(`SELECT id FROM ${INVOICES}`).pluck().get() as string;
    const table = published(p.file).policy.schema.table(INVOICES);
    const see = (d: { viewer: never }) => p.desk(d.viewer).read(table, id) !== undefined;
    expect(see(request() as never)).toBe(true);
    expect([see(request("Lo", "looker") as never), see(p.person("Rafe", "Two", "lead") as never), see(p.visitor() as never)]).toEqual([
      false,
      false,
      false,
    ]);
    const dana = request();
    expect([
      dana.desk.may(table, "add"),
      dana.desk.may(table, "change"),
      p.owners.may(table, "change"),
      p.owners.may(table, "see"),
    ]).toEqual([false, false, false, true]);
    expect(p.owners.remove(table, id).ok).toBe(false);
    expect(offerHere(request("Rafe", "lead"), { kind: "invoice", invoice: id }, "")).toEqual({ ok: false, error: { no: "gone" } });
    expect(customerOf(p.file, p.company("One"), "another account")).toBeNull();
  });
});

it("a free plan is a plan: chosen without a way to pay, open at once, and going on by itself without paper", async () => {
  const d = published(p.file).definition;
  storePublished(p.file, { ...d, prices: [...d.prices, price("nothing", "small", 0)] }, PUBLISHER);
  const c = await buy({ kind: "plan", price: "nothing", seats: 1 });
  expect([c.state, [...state().features], payments.checkouts.size]).toEqual(["done", ["small"], 0]);
  await until("2026-04-30");
  expect([state().state, invoices(), subscriptionOf(p.file, p.company("One"))!.life.paidUntil]).toEqual(["active", [], "2026-05-31"]);
  // From there to one that costs something a way to pay is asked for.
  expect(await begun(order({ kind: "plan", price: "large-m", seats: 1 }))).toContain("http");
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
    await buy({ kind: "plan", price: "seats", seats: 2 });
    expect(seatsOf(p.file, p.company("One"))).toEqual({ taken: 1, paidFor: 2, price: "seats" });
    const desk = () => companyDesk(p.file, request().viewer)!;
    expect(desk().invite("Lo", "lo@t.example", "looker")).toMatchObject({ ok: true });
    expect(desk().invite("Mo", "mo@t.example", "looker")).toMatchObject({
      ok: false,
      error: { message: expect.stringContaining("2 seats, and all are taken") },
    });
    expect(offerHere(request(), { kind: "plan", price: "seats", seats: 1 }, "")).toEqual({ ok: false, error: { no: "seats", least: 2 } });
    today = "2026-02-14";
    // A seat for 14 of the 28 days: half of 11.00.
    const more = must(offerHere(request(), { kind: "plan", price: "seats", seats: 3 }, "")).bought;
    expect(more.reckoned.due).toBe(550);
    await buy({ kind: "plan", price: "seats", seats: 3 });
    expect(desk().invite("Mo", "mo@t.example", "looker")).toMatchObject({ ok: true });
  });
});
