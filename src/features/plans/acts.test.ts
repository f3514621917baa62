/** The agency's acts with money: what each refuses, and that the books agree with themselves and the provider after any of them in any order. */

import fc from "fast-check";
import { beforeEach, expect, it } from "vitest";
import { plusDays } from "@/core/prices/periods";
import { INVOICES, ORDERS, PAYMENTS } from "@/core/schema/books";
import { creditOf } from "@/data/billing/credit";
import { subscriptionOf } from "@/data/billing/standing";
import { openInvoices, type Paper, refundable } from "@/data/billing/write-books";
import { published } from "@/data/definition/published";
import { transact } from "@/data/file/transact";
import type { DraftAnswer } from "@/office/draft";
import { ownFolder } from "@/testing/folder";
import { noon, Paying } from "@/testing/paying";
import { runs, seed, whole } from "@/testing/random";
import { act, type CompanyAct, companyAct, type Money, refund } from "./acts";

ownFolder();

let w: Paying;
beforeEach(() => {
  w = new Paying();
});

const why = "as agreed";
const office = (): Money => ({
  file: w.p.file,
  live: published(w.p.file) as never,
  owner: { ...w.p.owner, now: noon(w.today) } as never,
  now: noon(w.today),
  staff: { name: "Rosalind" },
});
/** As the office sends it, to company One unless another is named. */
async function does(input: CompanyAct, company = w.company): Promise<DraftAnswer> {
  const read = companyAct.safeParse(input);
  if (!read.success) return { ok: false, messages: read.error.issues.map((i) => i.message) };
  const a = read.data;
  if (a.act === "refund") return refund(office(), company, a, () => w.payments);
  return transact(w.p.file, () => act(office(), company, a));
}
const said = async (input: CompanyAct, company?: string): Promise<string> => {
  const answer = await does(input, company);
  return answer.ok ? "done" : answer.messages.join(" ");
};
const first = (where = "1"): string => w.p.file.db.prepare(`SELECT id FROM ${INVOICES} WHERE ${where} LIMIT 1`).pluck().get() as string;
const logged = (): string[] => w.p.file.db.prepare("SELECT detail FROM sys_events WHERE detail LIKE ?").pluck().all(`%${why}%`) as string[];

it("no act is done without a reason, nor with what is no amount, day, seat or feature", async () => {
  for (const a of [
    { act: "days", days: 3, reason: "" },
    { act: "void", invoice: "x", reason: "  " },
    { act: "credit", amount: "5", reason: "ab" },
  ] as const)
    expect(await said(a)).toContain("Say why");
  for (const days of [0, -1, 1.5, 1e9]) expect(await said({ act: "days", days, reason: why })).not.toBe("done");
  for (const amount of ["", "0", "-5", "five", "€ 5", "12.345", "0.001"]) {
    expect([amount, await said({ act: "credit", amount, reason: why })]).not.toEqual([amount, "done"]);
    expect(creditOf(w.p.file, w.company)).toBe(0);
  }
  expect(await said({ act: "feature", feature: "nothing", until: "", reason: why })).toBe("Choose a feature that is published.");
  expect(await said({ act: "feature", feature: "large", until: "2020-01-01", reason: why })).toContain("That day is over");
  expect(await said({ act: "plan", price: "nothing", seats: 1, reason: why })).toBe("Choose a price that is published.");
  expect(await said({ act: "plan", price: "small-m", seats: 0, reason: why })).not.toBe("done");
  // Nothing to pause, resume or cancel.
  for (const a of ["pause", "resume", "cancel"] as const) expect(await said({ act: a, reason: why })).toContain("cannot happen");
  expect(logged()).toEqual([]);
});

it("an invoice is its company's, paid once, void once, and paid back at most whole", async () => {
  await does({ act: "country", country: "FR", reason: why });
  expect(await said({ act: "plan", price: "small-m", seats: 1, reason: why })).toBe("done");
  const open = first();
  const other = w.p.company("Two");
  for (const a of [
    { act: "paid outside", invoice: open, reason: why },
    { act: "void", invoice: open, reason: why },
    { act: "refund", invoice: open, amount: "1", reason: why },
  ] as const)
    expect([a.act, await said(a, other)]).toEqual([a.act, expect.stringMatching(/not (open|here) any more/)]);
  expect(await said({ act: "refund", invoice: open, amount: "1", reason: why })).toContain("Nothing of this invoice");
  expect(await said({ act: "paid outside", invoice: open, reason: why })).toBe("done");
  for (const a of ["paid outside", "void"] as const)
    expect(await said({ act: a, invoice: open, reason: why })).toContain("not open any more");
  expect(await said({ act: "refund", invoice: open, amount: "10.01", reason: why })).toContain("At most");
  expect(await said({ act: "refund", invoice: open, amount: "10", reason: why })).toBe("done");
  expect(await said({ act: "refund", invoice: open, amount: "0.01", reason: why })).toContain("Nothing of this invoice");
  // Paid outside, it goes back outside: the provider knows nothing of it.
  expect(w.payments.back).toEqual([]);
});

it("what a void invoice had used of the credit is there again", async () => {
  await does({ act: "country", country: "FR", reason: why });
  await does({ act: "credit", amount: "5", reason: why });
  await does({ act: "plan", price: "small-m", seats: 1, reason: why });
  expect(creditOf(w.p.file, w.company)).toBe(0);
  await does({ act: "void", invoice: first(), reason: why });
  expect(creditOf(w.p.file, w.company)).toBe(500);
});

it("where the provider does not answer, nothing is paid back; asked again, once", async () => {
  await w.buy({ kind: "plan", price: "small-m", seats: 1 });
  w.payments.silent = true;
  const back = { act: "refund", invoice: first(), amount: "4", reason: why } as const;
  expect(await said(back)).toContain("cannot be reached");
  expect(refundable(w.p.file, back.invoice)).toMatchObject([{ left: 1_200 }]);
  w.payments.silent = false;
  expect(await said(back)).toBe("done");
  expect([w.payments.back.map((x) => x.amount), refundable(w.p.file, back.invoice)]).toMatchObject([[400], [{ left: 800 }]]);
});

const step = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.record({ do: fc.constant("buy" as const), price: fc.constantFrom("small-m", "large-m", "small-y", "tried") }),
  },
  { weight: 5, arbitrary: fc.record({ do: fc.constant("on" as const), days: fc.integer({ min: 1, max: 45 }) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("card" as const), refuses: fc.boolean() }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("handbook" as const) }) },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("back" as const), share: fc.constantFrom(1, 33, 50, 100), nth: fc.nat(20) }) },
  { weight: 2, arbitrary: fc.record({ do: fc.constantFrom("void" as const, "paid outside" as const, "pay" as const) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("credit" as const), pence: fc.integer({ min: 1, max: 9_999 }) }) },
  { weight: 4, arbitrary: fc.record({ do: fc.constantFrom("pause" as const, "resume" as const, "cancel" as const, "plan" as const) }) },
);
type Step = typeof step extends fc.Arbitrary<infer T> ? T : never;

const pounds = (pence: number): string => (pence / 100).toFixed(2);

async function take(s: Step): Promise<void> {
  switch (s.do) {
    case "buy":
      await w.buy({ kind: "plan", price: s.price, seats: 1 }).catch(refusedToSell);
      return;
    case "handbook":
      await w.buy({ kind: "offer", offer: "once", record: null, own: false }).catch(refusedToSell);
      return;
    case "on":
      w.today = plusDays(w.today, s.days);
      await w.run();
      return;
    case "card":
      w.payments.refuses = s.refuses;
      return;
    case "back": {
      const all = w.p.file.db.prepare("SELECT invoice_id, amount - refunded AS left FROM sys_payments WHERE refunded < amount").all() as {
        invoice_id: string;
        left: number;
      }[];
      const of = all[s.nth % Math.max(1, all.length)];
      if (of)
        await does({
          act: "refund",
          invoice: of.invoice_id,
          amount: pounds(Math.max(1, Math.floor((of.left * s.share) / 100))),
          reason: why,
        });
      return;
    }
    case "void":
    case "paid outside":
    case "pay": {
      const [invoice] = openInvoices(w.p.file, w.company);
      if (!invoice) return;
      if (s.do === "pay") await w.buy({ kind: "invoice", invoice }).catch(refusedToSell);
      else await does({ act: s.do, invoice, reason: why });
      return;
    }
    case "credit":
      await does({ act: "credit", amount: pounds(s.pence), reason: why });
      return;
    case "plan":
      await does({ act: "plan", price: "large-m", seats: 1, reason: why });
      return;
    default:
      await does({ act: s.do, reason: why });
  }
}
/** Not everything can be bought in every state; that is said, and nothing happens. */
function refusedToSell(e: Error): void {
  if (!/already|have-it|ending|paused|due|gone|sold|not-you|unkept|no way/i.test(e.message)) throw e;
}

interface Line {
  readonly id: string;
  readonly number: string;
  readonly kind: string;
  readonly state: string;
  readonly total: number;
  readonly due: number;
}

/** What must be so whatever happened. */
function agrees(): void {
  const { db } = w.p.file;
  const column = <T>(sql: string, ...given: unknown[]): T[] =>
    db
      .prepare(sql)
      .pluck()
      .all(...given) as T[];
  const papers = db
    .prepare(
      `SELECT i.id, f_invoice_number number, f_invoice_kind kind, f_invoice_state state, f_invoice_total total, f_invoice_to_pay due, p.body FROM ${INVOICES} i JOIN sys_invoice_papers p ON p.invoice_id = i.id`,
    )
    .all() as (Line & { readonly body: string })[];
  expect(papers).toHaveLength(column<number>(`SELECT count(*) FROM ${INVOICES}`)[0]!);
  for (const i of papers) {
    const { reckoned: r } = JSON.parse(i.body) as Paper;
    expect([r.net + r.tax, r.lines.reduce((n, l) => n + l.gross, 0)]).toEqual([r.total, r.total]);
    expect(column<number>("SELECT sum(f_line_total) FROM t_invoice_lines WHERE f_line_invoice = ?", i.id)[0]).toBe(i.total);
    if (i.kind !== "invoice") continue;
    expect(r.due + r.credit - r.left).toBe(r.total);
    const [paid = 0, back = 0] = (
      db.prepare("SELECT sum(amount), sum(refunded) FROM sys_payments WHERE invoice_id = ?").raw().get(i.id) as number[]
    ).map(Number);
    const stands = { open: [0], void: [0], paid: [i.due], "partly-paid-back": [i.due], "paid-back": [i.due] }[i.state];
    expect([i.number, i.state, paid]).toEqual([i.number, i.state, stands?.[0]]);
    expect(back).toBeLessThanOrEqual(paid);
    expect([i.number, back > 0, back === paid && paid > 0]).toEqual([i.number, i.state.endsWith("paid-back"), i.state === "paid-back"]);
    // Credit notes give back just what went back, and in the end its tax to the penny.
    const notes = papers.filter((n) => (JSON.parse(n.body) as Paper).of === i.number);
    expect(notes.reduce((n, x) => n + x.total, 0)).toBe(0 - back);
    if (back === r.total && back > 0) expect(notes.reduce((n, x) => n + (JSON.parse(x.body) as Paper).reckoned.tax, 0)).toBe(0 - r.tax);
  }
  // Numbers run through each year without a gap.
  const byYear = new Map<string, number[]>();
  const numbers = [...papers.map((i) => i.number), ...column<string>(`SELECT f_order_number FROM ${ORDERS}`)];
  for (const n of numbers) {
    const [, year, nth] = /^(.*)-(\d{4,})$/.exec(n)!;
    byYear.set(year!, [...(byYear.get(year!) ?? []), Number(nth)]);
  }
  for (const nths of byYear.values()) expect(nths.toSorted((a, b) => a - b)).toEqual(nths.map((_, i) => i + 1));
  expect(creditOf(w.p.file, w.company)).toBeGreaterThanOrEqual(0);
  // The provider has taken and given back what the books say, and nothing else.
  const known = (sql: string): number => Number(column<number | null>(sql)[0] ?? 0);
  const card = "outside NOT LIKE 'outside-%'";
  expect(known(`SELECT sum(amount) FROM sys_payments WHERE ${card}`)).toBe(w.payments.taken.reduce((n, t) => n + t.amount, 0) - unplaced());
  expect(known(`SELECT sum(refunded) FROM sys_payments WHERE ${card}`)).toBe(w.payments.back.reduce((n, t) => n + t.amount, 0));
  // Whoever has lapsed has nothing open by their plan.
  const life = subscriptionOf(w.p.file, w.company)?.life;
  if (life?.state === "lapsed") expect(w.state().why.filter((o) => o.why.startsWith("by the plan"))).toEqual([]);
  expect(
    column<string>(`SELECT DISTINCT f_payment_state FROM ${PAYMENTS} WHERE f_payment_invoice NOT IN (SELECT id FROM ${INVOICES})`),
  ).toEqual([]);
}

/** Paid for something that had changed meanwhile: it stands as credit, not as a payment of an invoice. */
const unplaced = (): number =>
  Number(
    w.p.file.db.prepare("SELECT coalesce(sum(amount), 0) FROM sys_credit WHERE why LIKE '%paid%' AND invoice_id IS NULL").pluck().get(),
  );

const missing = (all: readonly string[], of: ReadonlySet<string>): number => all.filter((x) => !of.has(x)).length;

it("the books agree with themselves and with the provider after any acts in any order", { timeout: 600_000 }, async () => {
  const met = new Set<string>();
  const lived = new Set<string>();
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 6, maxLength: 24 }), async (steps) => {
      w = new Paying();
      for (const s of steps) {
        await take(s);
        agrees();
        lived.add(subscriptionOf(w.p.file, w.company)?.life.state ?? "none");
        for (const state of w.p.file.db.prepare(`SELECT f_invoice_state FROM ${INVOICES}`).pluck().all() as string[]) met.add(state);
      }
    }),
    { seed, numRuns: runs(150) },
  );
  // All random acts have met every state that an invoice and a subscription can be in: else nothing was tried.
  if (!whole) return;
  expect(missing(["active", "ending", "grace", "lapsed", "none", "paused", "trial"], lived)).toBe(0);
  expect(missing(["open", "paid", "paid-back", "partly-paid-back", "void"], met)).toBe(0);
});
