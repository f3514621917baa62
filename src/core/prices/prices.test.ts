import { expect, it } from "vitest";
import { emptyDefinition } from "@/data/installation/portals";
import { planChanges } from "../billing/changes";
import { checkDefinition, type Definition, readDefinition } from "../definition/definition";
import type { Price } from "../definition/parts/plans";
import { isOffered, offeredPrices, repeated, repriced, yearOf } from "./prices";

const plans = [{ id: "a", name: "Basic" }];
const price = (more: Partial<Price> = {}): Price => ({
  id: "p1",
  plan: "a",
  cycle: "month",
  per: "company",
  amount: 9_000,
  least: 1,
  trialDays: 0,
  setup: 0,
  retired: false,
  ...more,
});

it("a published price is retired and brought back, and nothing else", () => {
  expect(repriced([price()], [price({ retired: true })], plans)).toEqual([]);
  for (const more of [{ amount: 9_001 }, { trialDays: 7 }, { setup: 1 }, { cycle: "year" }, { per: "seat" }, { plan: "b" }] as const)
    expect(repriced([price()], [price(more)], plans)).toEqual([
      "A published price is not changed: retire the price of Basic a month, and make another.",
    ]);
  expect(repriced([price()], [], plans)[0]).toContain("is not taken away");
  expect(repriced([], [price()], plans)).toEqual([]);
});

it("two that nobody could tell apart are not offered side by side", () => {
  expect(
    repeated([price(), price({ id: "p2", retired: true }), price({ id: "p3", cycle: "year" }), price({ id: "p4", per: "seat" })], plans),
  ).toEqual([]);
  expect(repeated([price(), price({ id: "p2", amount: 1 })], plans)).toEqual([
    "There are two of the price of Basic a month: retire one of them.",
  ]);
});

it("offers the month before the year, to all or to those that are named", () => {
  const all = [
    price({ id: "y", cycle: "year", amount: yearOf(9_000) }),
    price(),
    price({ id: "old", retired: true }),
    price({ id: "b", plan: "b" }),
  ];
  expect(offeredPrices(all, "a").map((p) => p.id)).toEqual(["p1", "y"]);
  expect([
    isOffered({ offered: "all" }, null),
    isOffered({ offered: ["c1"] }, "c1"),
    isOffered({ offered: ["c1"] }, "c2"),
    isOffered({ offered: [] }, null),
  ]).toEqual([true, true, false, false]);
});

it("plans as they were stored before are read with their prices, and mean what they meant", () => {
  const { prices: _p, billing: _b, ...before } = emptyDefinition("T");
  const old = { id: "a", name: "Basic", about: "", month: 9_000, year: 90_000, features: [], allowances: [] };
  const stored = JSON.stringify({
    portal: { format: 1, portal: before.portal },
    access: { format: 1, roles: before.roles, walls: before.walls, grants: [], acts: [], safeguards: [] },
    plans: { format: 1, features: [], plans: [old], offers: [] },
    brand: { format: 2, brand: before.brand },
  });
  const read = readDefinition(stored);
  if (!read.ok) throw new Error(read.error.join(" "));
  expect(read.value.plans).toEqual([{ id: "a", name: "Basic", about: "", features: [], allowances: [], seats: null, offered: "all" }]);
  expect(read.value.prices.map((p) => [p.id, p.cycle, p.per, p.amount, p.retired])).toEqual([
    ["a-month", "month", "company", 9_000, false],
    ["a-year", "year", "company", 90_000, false],
  ]);
  expect(checkDefinition(read.value).ok).toBe(true);
});

it("says what a draft changes", () => {
  const live: Definition = {
    ...emptyDefinition("T"),
    prices: [price()],
    plans: [{ ...plans[0]!, about: "", features: [], allowances: [], seats: null, offered: "all" }],
  };
  const next: Definition = {
    ...live,
    prices: [price({ retired: true }), price({ id: "p2", amount: 9_900, trialDays: 14 })],
    billing: { ...live.billing, grace: 3 },
  };
  expect(planChanges(live, next, (n) => `£${n / 100}`)).toEqual([
    "Basic at £99 a month, 14 days of trial.",
    "Basic at £90 a month is retired: who pays it keeps it.",
    "The rules of paying change.",
  ]);
  expect(planChanges(live, live, String)).toEqual([]);
});
