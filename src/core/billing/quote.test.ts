/** What may be asked for and what it comes to: by hand, and for anything that a browser could send. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs, seed } from "@/testing/random";
import type { Offer, Plan, Price } from "../definition/parts/plans";
import { periodOf } from "../prices/periods";
import { type Buying, leastSeats, quoteOffer, quotePlan, termsOf, wantedSchema } from "./quote";
import type { Subscription } from "./subscription";

const plan = (id: string, offered: Plan["offered"] = "all"): Plan => ({
  id,
  name: id,
  about: "",
  features: [],
  allowances: [],
  seats: null,
  offered,
});
const price = (id: string, of: string, more: Partial<Price> = {}): Price => ({
  id,
  plan: of,
  cycle: "month",
  per: "company",
  amount: 9_000,
  least: 1,
  trialDays: 0,
  setup: 0,
  retired: false,
  ...more,
});
const sold = {
  plans: [plan("a"), plan("b"), plan("chosen", ["c1"])],
  prices: [
    price("a", "a"),
    price("old", "a", { amount: 7_000, retired: true }),
    price("seats", "b", { per: "seat", amount: 1_100, least: 3 }),
    price("tried", "b", { trialDays: 14, setup: 500 }),
    price("theirs", "chosen"),
  ],
};
const none: Buying = { company: "c1", life: null, before: false, people: 0, day: "2026-06-15" };
const life = (id: string, state: Subscription["state"] = "active", seats = 1): Subscription => ({
  state,
  terms: termsOf(sold.prices.find((p) => p.id === id)!, seats),
  next: null,
  anchor: "2026-06-01",
  paidUntil: "2026-07-01",
  graceUntil: state === "grace" ? "2026-07-08" : null,
});
const ask = (id: string, b: Partial<Buying> = {}, seats = 1) => quotePlan(sold, { price: id, seats }, { ...none, ...b });

describe("a plan", () => {
  it("that is not sold, not to this company, or retired is gone; who pays a retired price may change their seats at it", () => {
    expect([ask("nothing"), ask("old"), ask("theirs", { company: "c2" })]).toEqual([{ no: "gone" }, { no: "gone" }, { no: "gone" }]);
    expect("no" in ask("theirs")).toBe(false);
    expect(ask("old", { life: life("old") })).toEqual({ no: "already" });
    expect(ask("old", { life: life("old", "lapsed") })).toEqual({ no: "gone" });
  });
  it("by the seat has as many as the price asks and one for everybody who is there", () => {
    expect([ask("seats", {}, 2), ask("seats", { people: 5 }, 4)]).toEqual([
      { no: "seats", least: 3 },
      { no: "seats", least: 5 },
    ]);
    expect([leastSeats(sold.prices[2]!, 5), leastSeats(sold.prices[0]!, 5)]).toEqual([5, 1]);
    expect(ask("seats", { people: 2 }, 4)).toMatchObject({ lines: [{ amount: 4_400 }], renewal: { amount: 4_400, cycle: "month" } });
    // Of a price for the company seats are no matter.
    expect(ask("a", {}, 9)).toMatchObject({ lines: [{ amount: 9_000, seats: 1 }] });
  });
  it("has its trial once, with what it costs to set up at once", () => {
    expect(ask("tried")).toMatchObject({ when: "trial", from: "2026-06-29", lines: [{ kind: "setup", amount: 500 }] });
    expect(ask("tried", { before: true })).toMatchObject({ when: "now", lines: [{ kind: "period" }] });
    expect(ask("tried", { life: life("a", "lapsed") })).toMatchObject({ when: "now" });
  });
  it("waits for what has to come first", () => {
    expect((["grace", "ending", "paused"] as const).map((s) => ask("a", { life: life("seats", s, 3) }))).toEqual([
      { no: "due" },
      { no: "ending" },
      { no: "paused" },
    ]);
  });
});

it("an offer that is retired, or of one record without one, is gone", () => {
  const offer = (opens: Offer["opens"], retired = false): Offer => ({
    id: "o",
    name: "O",
    about: "",
    price: 400,
    buyer: "company",
    opens,
    retired,
  });
  const record: Offer["opens"] = { kind: "record", table: "t", days: null };
  const wanted = (r: string | null, id = "o") => ({ kind: "offer", offer: id, record: r, own: false }) as const;
  expect([
    quoteOffer([offer(record, true)], wanted("r")),
    quoteOffer([offer(record)], wanted(null)),
    quoteOffer([offer(record)], wanted("r", "x")),
  ]).toEqual(Array(3).fill({ no: "gone" }));
  expect(quoteOffer([offer({ kind: "order" })], wanted("r"))).toMatchObject({ lines: [{ record: null, amount: 400 }] });
});

it("whatever is asked, on whatever day and standing, either it is refused or its lines are for days that are to come, and its period is whole", () => {
  const states = fc.constantFrom<Subscription["state"]>("trial", "active", "grace", "ending", "lapsed", "paused");
  fc.assert(
    fc.property(
      fc.constantFrom(...sold.prices.map((p) => p.id), "x"),
      fc.integer({ min: 1, max: 20 }),
      fc.nat(20),
      fc.option(fc.record({ id: fc.constantFrom("a", "old", "seats", "tried"), state: states, seats: fc.integer({ min: 3, max: 9 }) }), {
        nil: null,
      }),
      (id, seats, people, has) => {
        const q = ask(id, { people, life: has && life(has.id, has.state, has.seats) }, seats);
        if ("no" in q) return;
        for (const l of q.lines) {
          if (l.kind === "offer") throw new Error("A plan has no line of an offer.");
          expect(l.from >= none.day).toBe(true);
          if (l.kind === "period") expect(l.until).toBe(periodOf(l.from, "month", 0).until);
          if (l.kind !== "unused") expect(l.amount).toBeGreaterThanOrEqual(0);
        }
      },
    ),
    { seed, numRuns: runs(2_000) },
  );
});

it("nothing but what the schema knows is taken from an address", () => {
  for (const bad of [
    { kind: "plan", price: "a" },
    { kind: "plan", price: "a", seats: 0 },
    { kind: "plan", price: "a", seats: 1.5 },
    { kind: "plan", price: "a", seats: 1, amount: 1 },
    { kind: "gift" },
    null,
  ])
    expect(wantedSchema.safeParse(bad).success).toBe(false);
});
