/** Periods, proration, tax and the life of a subscription: by hand, against date-fns, and for random lives. */
import { addMonths, addYears, format } from "date-fns";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs, said, seed } from "@/testing/random";
import type { Cycle } from "../prices/cycles";
import { rounded, shareOf, split } from "../prices/money";
import { daysBetween, periodAt, periodOf, plusDays, startOf } from "../prices/periods";
import { amountOf, changeOf, type Line, type Terms } from "./change";
import { type Happening, isOpen, type Subscription, step } from "./subscription";
import { taxed } from "./tax";

const many = { seed, numRuns: runs(2_000) };
const date = (from: string, days: number): fc.Arbitrary<string> => fc.integer({ min: 0, max: days }).map((n) => plusDays(from, n));
const cycle = fc.constantFrom<Cycle>("month", "year");

describe("amounts", () => {
  it("are split so that the parts sum to the whole, none further than one from its share", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.array(fc.integer({ min: 0, max: 1e6 }), { minLength: 1, maxLength: 12 }),
        (amount, weights) => {
          const parts = split(amount, weights);
          expect(parts.reduce((a, b) => a + b, 0)).toBe(amount);
          const total = weights.reduce((a, b) => a + b, 0);
          if (total > 0) for (const [i, p] of parts.entries()) expect(Math.abs(p - (amount * weights[i]!) / total)).toBeLessThan(1 + 1e-6);
        },
      ),
      many,
    );
    // By hand: 100 in three is 34, 33, 33; of 10 by 1, 1, 2 the halves go to the first.
    expect([split(100, [1, 1, 1]), split(10, [1, 1, 2]), split(-100, [1, 1, 1]), split(7, [0, 0])]).toEqual([
      [34, 33, 33],
      [3, 2, 5],
      [-34, -33, -33],
      [7, 0],
    ]);
  });
  it("round half away from zero, so that a credit undoes its charge", () => {
    expect([rounded(5n, 2n), rounded(-5n, 2n), rounded(5n, -2n), rounded(24n, 10n), shareOf(999, 1, 2), shareOf(-999, 1, 2)]).toEqual([
      3, -3, -3, 2, 500, -500,
    ]);
  });
});

describe("periods", () => {
  // Worked by hand (common practice, no source): the anchor's day where the month has it, else its last.
  it.each([
    ["2026-01-31", "month", ["2026-01-31", "2026-02-28", "2026-03-31", "2026-04-30", "2026-05-31"]],
    ["2028-01-30", "month", ["2028-01-30", "2028-02-29", "2028-03-30"]],
    ["2028-02-29", "year", ["2028-02-29", "2029-02-28", "2030-02-28", "2031-02-28", "2032-02-29"]],
    ["2026-11-15", "month", ["2026-11-15", "2026-12-15", "2027-01-15"]],
  ] as const)("from %s by the %s", (anchor, c, starts) => {
    expect(starts.map((_, n) => startOf(anchor, c, n))).toEqual(starts);
  });
  it(`begin where date-fns has them, one after the other, and every day is in one (${said(2_000)} cases)`, () => {
    fc.assert(
      fc.property(date("1970-01-01", 146_097), cycle, fc.integer({ min: 0, max: 400 }), (anchor, c, n) => {
        const [y, m, d] = anchor.split("-").map(Number) as [number, number, number];
        const local = new Date(y, m - 1, d);
        expect(startOf(anchor, c, n)).toBe(format(c === "year" ? addYears(local, n) : addMonths(local, n), "yyyy-MM-dd"));
        const p = periodOf(anchor, c, n);
        expect(p.until).toBe(periodOf(anchor, c, n + 1).from);
        for (const day of [p.from, plusDays(p.from, daysBetween(p.from, p.until) >> 1), plusDays(p.until, -1)])
          expect(periodAt(anchor, c, day)).toEqual(p);
        expect(periodAt(anchor, c, plusDays(anchor, -1))).toBeNull();
      }),
      many,
    );
  });
  it("has as many days in a night when clocks change as in any other", () => {
    expect([daysBetween("2026-03-28", "2026-03-30"), daysBetween("2026-10-24", "2026-10-26")]).toEqual([2, 2]);
  });
});

const terms = (plan: string, each: number, seats = 1, c: Cycle = "month"): Terms => ({
  plan,
  price: `${plan}-${each}`,
  cycle: c,
  each,
  seats,
});

describe("changes", () => {
  it("cost what is left of the period by days, worked by hand (common practice, no source)", () => {
    // June has 30 days: on the 16th there are 15 left. From 90.00 to 180.00: half of 90.00.
    expect(changeOf(terms("a", 9_000), terms("b", 18_000), "2026-06-01", "2026-06-16")).toMatchObject({ when: "now", total: 4_500 });
    // On its first day all of it, on its last a thirtieth.
    expect(changeOf(terms("a", 9_000), terms("b", 18_000), "2026-06-01", "2026-06-01").total).toBe(9_000);
    expect(changeOf(terms("a", 9_000), terms("b", 18_000), "2026-06-01", "2026-06-30").total).toBe(300);
    // A seat more for a third of the month: 11.00 * 10/30 = 3.67.
    expect(changeOf(terms("c", 1_100, 3), terms("c", 1_100, 4), "2026-06-01", "2026-06-21").total).toBe(367);
    // Less holds from the end, and gives nothing back.
    expect(changeOf(terms("b", 18_000), terms("a", 9_000), "2026-06-01", "2026-06-16")).toMatchObject({
      when: "at the end",
      from: "2026-07-01",
      total: 0,
    });
    // To the year in the middle of a month: ten months' price, less what is left of the month.
    const year = changeOf(terms("a", 9_000), { ...terms("a", 90_000, 1, "year") }, "2026-06-01", "2026-06-16");
    expect([year.when, year.anchor, year.lines.map((l) => [l.kind, l.amount, l.from, l.until])]).toEqual([
      "now",
      "2026-06-16",
      [
        ["unused", -4_500, "2026-06-16", "2026-07-01"],
        ["period", 90_000, "2026-06-16", "2027-06-16"],
      ],
    ]);
  });
  it("up, down and up again costs nothing more: it is paid for", () => {
    const life = live([
      ["2026-06-01", { kind: "bought", terms: terms("a", 9_000), trialDays: 0, setup: 0 }],
      ["2026-06-11", { kind: "changed", terms: terms("b", 18_000) }],
      ["2026-06-12", { kind: "changed", terms: terms("a", 9_000) }],
      ["2026-06-20", { kind: "changed", terms: terms("b", 18_000) }],
    ]);
    expect(life.lines.map((l) => l.amount)).toEqual([9_000, 6_000]);
    expect([life.now?.terms.plan, life.now?.next]).toEqual(["b", null]);
  });
  it(`no day is charged twice or left out, whatever goes up when (${said(2_000)} lives)`, () => {
    const ups = fc.array(fc.tuple(fc.integer({ min: 0, max: 27 }), fc.integer({ min: 1, max: 5_000 })), { maxLength: 6 });
    fc.assert(
      fc.property(date("2024-01-01", 1_500), fc.integer({ min: 0, max: 20_000 }), ups, (anchor, price, raised) => {
        const period = periodOf(anchor, "month", 0);
        const whole = daysBetween(period.from, period.until);
        let now = terms("p0", price);
        let charged = amountOf(now);
        const order = raised.filter(([d]) => d < whole).sort((a, b) => a[0] - b[0]);
        const levels = Array.from({ length: whole }, () => price);
        for (const [i, [day, more]] of order.entries()) {
          const to = terms(`p${i + 1}`, now.each + more);
          charged += changeOf(now, to, anchor, plusDays(anchor, day)).total;
          for (let d = day; d < whole; d++) levels[d] = to.each;
          now = to;
        }
        const exact = levels.reduce((a, b) => a + b, 0) / whole;
        // Each line is rounded by itself: half a unit a line at the most.
        expect(Math.abs(charged - exact)).toBeLessThanOrEqual(order.length / 2 + 1e-6);
      }),
      many,
    );
  });
});

describe("tax", () => {
  it("on a line, half a penny up, as published by HMRC (VAT Notice 700, section 17.5.1; from memory: 86.76p is 87p, 86.34p is 86p)", () => {
    // A tenth of a penny cannot be held; the same rounding in whole pence of 20 % of 4.338 and 4.317 pounds, a hundred times each.
    expect([rounded(8_676n, 100n), rounded(8_634n, 100n), rounded(8_650n, 100n)]).toEqual([87, 86, 87]);
    expect(taxed(999, "exclusive", { rate: 2_000 })).toEqual({ net: 999, tax: 200, gross: 1_199 });
    // Of a price that has 20 % in it a sixth is tax.
    expect(taxed(1_200, "inclusive", { rate: 2_000 })).toEqual({ net: 1_000, tax: 200, gross: 1_200 });
    expect(taxed(-999, "exclusive", { rate: 2_000 })).toEqual({ net: -999, tax: -200, gross: -1_199 });
    expect(taxed(500, "none", { rate: 2_000 })).toEqual({ net: 500, tax: 0, gross: 500 });
  });
  it("sums: net and tax are the gross, whatever the rate and mode", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e8, max: 1e8 }),
        fc.integer({ min: 0, max: 4_000 }),
        fc.constantFrom("none", "inclusive", "exclusive"),
        (amount, rate, mode) => {
          const t = taxed(amount, mode as "none", { rate });
          expect(t.net + t.tax).toBe(t.gross);
          expect(mode === "inclusive" ? t.gross : t.net).toBe(amount);
        },
      ),
      many,
    );
  });
});

const RULES = { grace: 7 };

/** What happened on which day, and what was to be paid for it. */
function live(events: readonly (readonly [string, Happening])[]): { now: Subscription | null; lines: Line[]; why: string[] } {
  let now: Subscription | null = null;
  const lines: Line[] = [];
  const why: string[] = [];
  for (const [day, h] of events) {
    const next = step(now, h, day, RULES);
    if (!next) continue;
    now = next.now;
    lines.push(...next.due);
    why.push(next.why);
  }
  return { now, lines, why };
}

describe("the life of a subscription", () => {
  it("trial, paid, a payment that fails, grace, lapse, and back: doors by the day", () => {
    const a = terms("a", 9_000);
    let s: Subscription | null = null;
    const open: [string, string, boolean][] = [];
    const on = (day: string, h: Happening): void => {
      s = step(s, h, day, RULES)?.now ?? s;
      open.push([day, s!.state, isOpen(s)]);
    };
    on("2026-01-17", { kind: "bought", terms: a, trialDays: 14, setup: 0 });
    on("2026-01-31", { kind: "day" }); // due
    on("2026-01-31", { kind: "paid" });
    on("2026-02-28", { kind: "failed" });
    on("2026-03-06", { kind: "day" });
    on("2026-03-07", { kind: "day" });
    on("2026-03-20", { kind: "paid" });
    on("2026-03-21", { kind: "cancelled" });
    on("2026-04-19", { kind: "day" });
    on("2026-04-20", { kind: "day" });
    expect(open).toEqual([
      ["2026-01-17", "trial", true],
      ["2026-01-31", "trial", true],
      ["2026-01-31", "active", true],
      ["2026-02-28", "grace", true],
      ["2026-03-06", "grace", true],
      ["2026-03-07", "lapsed", false],
      ["2026-03-20", "active", true],
      ["2026-03-21", "ending", true],
      ["2026-04-19", "ending", true],
      ["2026-04-20", "lapsed", false],
    ]);
  });
  it("pays every day once, over fourteen months of renewals with changes between (random lives)", () => {
    const change = fc.record({
      at: fc.integer({ min: 1, max: 420 }),
      each: fc.integer({ min: 100, max: 30_000 }),
      seats: fc.integer({ min: 1, max: 9 }),
    });
    fc.assert(
      fc.property(date("2024-01-25", 800), fc.array(change, { maxLength: 8 }), (begin, changes) => {
        let s: Subscription | null = null;
        const periods: Line[] = [];
        const take = (day: string, h: Happening): void => {
          const next = step(s, h, day, RULES);
          if (!next) return;
          s = next.now;
          periods.push(...next.due.filter((l) => l.kind === "period"));
        };
        take(begin, { kind: "bought", terms: terms("a", 1_000), trialDays: 0, setup: 0 });
        for (let n = 1; n <= 425; n++) {
          const day = plusDays(begin, n);
          const due = step(s, { kind: "day" }, day, RULES);
          if (due) {
            take(day, { kind: "day" });
            take(day, { kind: "paid" });
          }
          for (const c of changes.filter((x) => x.at === n)) take(day, { kind: "changed", terms: terms(`p${c.each}`, c.each, c.seats) });
        }
        expect(periods[0]!.from).toBe(begin);
        for (const [i, p] of periods.entries()) if (i > 0) expect(p.from).toBe(periods[i - 1]!.until);
        expect(periods.length).toBeGreaterThanOrEqual(14);
        expect(s!.paidUntil).toBe(periods.at(-1)!.until);
      }),
      { seed, numRuns: runs(300) },
    );
  });
  it("never opens by anything but being bought, paid, given or resumed in time; says why at each step", () => {
    const a = terms("a", 9_000);
    const anything = fc.constantFrom<Happening>(
      { kind: "bought", terms: a, trialDays: 0, setup: 0 },
      { kind: "paid" },
      { kind: "failed" },
      { kind: "changed", terms: terms("b", 18_000) },
      { kind: "cancelled" },
      { kind: "kept" },
      { kind: "paused" },
      { kind: "resumed" },
      { kind: "days", days: 5 },
      { kind: "unpayable" },
      { kind: "day" },
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 20 }), anything), { maxLength: 40 }), (events) => {
        let s: Subscription | null = null;
        let day = "2026-01-31";
        for (const [wait, h] of events) {
          day = plusDays(day, wait);
          const next = step(s, h, day, RULES);
          if (!next) continue;
          expect(next.why).toMatch(/^[A-Z].*\.$/);
          // What is said to be open until a day is open on that day, and shut or to be paid on the next.
          const until = /(?:open|paid|runs|days:) until (\d{4}-\d\d-\d\d)/i.exec(next.why)?.[1];
          if (until && next.now.state !== "lapsed") expect([next.now.graceUntil, next.now.paidUntil]).toContain(plusDays(until, 1));
          if (!isOpen(s) && isOpen(next.now)) expect(["bought", "paid", "resumed", "days"]).toContain(h.kind);
          expect(next.now.state === "grace").toBe(next.now.graceUntil !== null);
          s = next.now;
        }
      }),
      many,
    );
  });
});
