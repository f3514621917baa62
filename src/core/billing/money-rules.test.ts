/** Invoices, allowances, what is open and money a month: worked by hand, and for any order of events. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs, seed } from "@/testing/random";
import { countedIn, leftOf, takeOne } from "./allowance";
import { nextTry, triesOf } from "./dunning";
import { openTo, stateOn } from "./entitlement";
import { invoiceNumber, rateFor, reckon, refunded } from "./invoice";
import { monthly, moved } from "./worth";

const many = { seed, numRuns: runs(2_000) };

describe("an invoice", () => {
  it("is the sum of its lines, and uses what the buyer has to their credit", () => {
    const two = [
      { text: "Standard", amount: 18_000 },
      { text: "Setting up", amount: 999 },
    ];
    // By hand: 180.00 and 9.99 with 20 %: 36.00 and 2.00 (1.998) of tax.
    expect(reckon(two, "exclusive", { rate: 2_000 }, 5_000)).toMatchObject({
      net: 18_999,
      tax: 3_800,
      total: 22_799,
      credit: 5_000,
      due: 17_799,
      left: 0,
    });
    expect(reckon(two, "exclusive", null)).toMatchObject({ net: 18_999, tax: 0, due: 18_999 });
    // What is left of a dearer month, against a cheap year: nothing to pay, the rest to their credit.
    const back = [
      { text: "Unused", amount: -42_000 },
      { text: "A year", amount: 30_000 },
    ];
    expect(reckon(back, "none", null, 700)).toMatchObject({ total: -12_000, credit: 0, due: 0, left: 12_000 });
  });
  it("loses nothing: net and tax are the total; what is due, used and left come out even", () => {
    const line = fc.record({ text: fc.constant("x"), amount: fc.integer({ min: -1e7, max: 1e7 }) });
    fc.assert(
      fc.property(
        fc.array(line, { maxLength: 6 }),
        fc.constantFrom("none", "inclusive", "exclusive"),
        fc.integer({ min: 0, max: 4_000 }),
        fc.nat(1e7),
        (lines, mode, rate, credit) => {
          const i = reckon(lines, mode as "none", { rate }, credit);
          expect(i.net + i.tax).toBe(i.total);
          expect(i.due + i.credit - i.left).toBe(i.total);
          expect(i.credit).toBeLessThanOrEqual(credit);
          expect(Math.min(i.due, i.left)).toBe(0);
        },
      ),
      many,
    );
  });
  it("paid back in parts gives back what it charged", () => {
    const i = reckon([{ text: "x", amount: 1_000 }], "exclusive", { rate: 2_000 });
    expect(refunded(i, 0, 1_200)).toEqual({ net: -1_000, tax: -200, gross: -1_200 });
    // A third of it, three times: 66.67 of tax each, which are 67, 66 and 67.
    expect([0, 400, 800].map((before) => refunded(i, before, 400))).toEqual([
      { net: -333, tax: -67, gross: -400 },
      { net: -334, tax: -66, gross: -400 },
      { net: -333, tax: -67, gross: -400 },
    ]);
  });
  it("paid back in any parts gives back its tax to the penny, and never another sign", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 100_000 }), { minLength: 1, maxLength: 12 }), fc.nat(5_000), (parts, share) => {
        const total = parts.reduce((a, b) => a + b, 0);
        const of = { total, tax: Math.floor((total * share) / 10_000) };
        let before = 0;
        const back = parts.map((n) => {
          const x = refunded(of, before, n);
          before += n;
          return x;
        });
        expect(back.reduce((a, x) => a + x.tax, 0)).toBe(0 - of.tax);
        expect(back.reduce((a, x) => a + x.net, 0)).toBe(of.tax - total);
        for (const x of back) expect(x.tax <= 0 && x.net <= 0 && x.net + x.tax === x.gross).toBe(true);
      }),
      many,
    );
  });
  it("has the rate of its country, and a number of its year", () => {
    const rates = [{ name: "VAT", rate: 2_300, country: "IE" }];
    expect([rateFor(rates, "IE")?.rate, rateFor(rates, "NL"), rateFor(rates, null)]).toEqual([2_300, null, null]);
    expect(invoiceNumber("F-", "2026-06-15", 7)).toBe("F-2026-0007");
  });
});

describe("an allowance", () => {
  it("takes the month's own first, then what ends first, and never what is over", () => {
    const top = [
      { id: "late", left: 1, until: null },
      { id: "soon", left: 1, until: "2026-07-01" },
      { id: "over", left: 5, until: "2026-06-15" },
      { id: "empty", left: 0, until: null },
    ];
    expect(takeOne(2, 1, top, "2026-06-15")).toEqual({ from: "plan" });
    expect(takeOne(2, 2, top, "2026-06-15")).toEqual({ from: "top-up", id: "soon" });
    expect(takeOne(2, 2, top, "2026-07-01")).toEqual({ from: "top-up", id: "late" });
    expect(takeOne(2, 2, [], "2026-06-15")).toBeNull();
    expect(leftOf(2, 1, top, "2026-06-15")).toBe(3);
  });
  it("is never exceeded, in any order of additions, top-ups and days", () => {
    const event = fc.oneof(fc.constant("add" as const), fc.integer({ min: 1, max: 4 }), fc.constant("day" as const));
    fc.assert(
      fc.property(fc.nat(5), fc.array(event, { maxLength: 60 }), (limit, events) => {
        let [used, added, bought, day] = [0, 0, 0, 1];
        const top: { id: string; left: number; until: string | null }[] = [];
        const today = (): string => `2026-06-${String(day).padStart(2, "0")}`;
        for (const e of events) {
          if (e === "day") day = Math.min(30, day + 1);
          else if (typeof e === "number") {
            bought += e;
            top.push({ id: String(top.length), left: e, until: `2026-06-${String(Math.min(30, day + e)).padStart(2, "0")}` });
          } else {
            const left = leftOf(limit, used, top, today());
            const taken = takeOne(limit, used, top, today());
            expect(taken !== null).toBe(left > 0);
            if (taken?.from === "plan") used++;
            if (taken?.from === "top-up") top.find((t) => t.id === taken.id)!.left--;
            if (taken) added++;
          }
          expect(added).toBeLessThanOrEqual(limit + bought);
          expect(used).toBeLessThanOrEqual(limit);
        }
      }),
      many,
    );
  });
  it("is counted by the month, or from the day of the subscription; a year has twelve of them", () => {
    const paid = { anchor: "2026-01-31", cycle: "year" } as const;
    expect(countedIn("month", "2026-12-31", paid)).toEqual({ key: "2026-12", again: "2027-01-01" });
    expect(countedIn("period", "2026-03-01", paid)).toEqual({ key: "2026-02-28", again: "2026-03-31" });
    expect(countedIn("period", "2026-03-01", null)).toEqual({ key: "2026-03", again: "2026-04-01" });
  });
});

describe("what is open", () => {
  const plan = { name: "Standard", features: ["portal", "history"] };
  const given = [{ feature: "reports", until: "2026-05-01", why: "given by Rosalind" }];
  it("comes from the plan and from what was given, each with its reason", () => {
    expect(openTo(plan, { state: "active", until: null }, given, "2026-05-01")).toEqual([
      { feature: "portal", why: "by the plan Standard" },
      { feature: "history", why: "by the plan Standard" },
      { feature: "reports", why: "given by Rosalind, until 2026-05-01" },
    ]);
    expect(openTo(plan, { state: "lapsed", until: null }, given, "2026-05-02")).toEqual([]);
    expect(openTo(null, { state: "none", until: null }, given, "2026-04-30").map((o) => o.feature)).toEqual(["reports"]);
  });
  it("is shut on the day after its last, though nothing ran", () => {
    const grace = { state: "grace", until: "2026-06-20" } as const;
    expect([stateOn(grace, "2026-06-20"), stateOn(grace, "2026-06-21")]).toEqual(["grace", "lapsed"]);
    expect(stateOn({ state: "active", until: "2026-06-20" }, "2027-01-01")).toBe("active");
  });
});

it("a payment that failed is tried on the day, on day 3 and on the last", () => {
  expect(triesOf("2026-03-01", "2026-03-08")).toEqual(["2026-03-01", "2026-03-04", "2026-03-07"]);
  expect(triesOf("2026-03-01", "2026-03-03")).toEqual(["2026-03-01", "2026-03-02"]);
  expect([nextTry("2026-03-01", "2026-03-08", "2026-03-01"), nextTry("2026-03-01", "2026-03-08", "2026-03-07")]).toEqual([
    "2026-03-04",
    null,
  ]);
});

it("money a month is a twelfth of a year's, and its changes add up", () => {
  expect(monthly({ each: 420_000, seats: 1, cycle: "year" })).toBe(35_000);
  const worth = fc.array(fc.record({ company: fc.constantFrom("a", "b", "c", "d"), plan: fc.constant("p"), monthly: fc.nat(1e6) }));
  const one = (list: { company: string; plan: string; monthly: number }[]) => [...new Map(list.map((w) => [w.company, w])).values()];
  fc.assert(
    fc.property(worth, worth, (a, b) => {
      const m = moved(one(a), one(b));
      expect(m.at + m.come - m.gone + m.more - m.less).toBe(m.now);
    }),
    many,
  );
});
