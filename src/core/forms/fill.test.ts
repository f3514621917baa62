import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs } from "@/testing/random";
import type { Condition } from "../schema/condition";
import type { Values } from "../schema/types";
import { type Expression, type Fill, type FillWorld, fillCycle, filled, inFillOrder, worth } from "./fill";

const SCALES: Record<string, number> = { price: 2, rate: 3, tickets: 0, whole: 0 };
const world: FillWorld = {
  // Enough of the language for these tests: "is", all and any.
  holds: (c, values) => {
    if (c.kind === "test") return values[c.path[0]!] === (c.operands[0] as { value: unknown }).value;
    return c.kind === "any" ? c.of.some((x) => world.holds(x, values)) : c.kind === "all" && c.of.every((x) => world.holds(x, values));
  },
  viewer: () => "p1",
  today: () => "2026-11-26",
  scaleOf: (f) => SCALES[f] ?? 0,
};
const fieldOf = (id: string) => ({ id, numeric: id in SCALES });
const is = (field: string, value: string): Condition => ({
  kind: "test",
  path: [field],
  operator: "is",
  operands: [{ kind: "literal", value }],
});
const both = (...of: Condition[]): Condition => ({ kind: "all", of });
const n = (value: number): Expression => ({ kind: "literal", value });
const math = (left: Expression, op: "+" | "-" | "*" | "/", right: Expression): Expression => ({ kind: "math", op, left, right });
const rule = (
  field: string,
  lines: [Condition, Expression][],
  otherwise: Expression | null = null,
  mode: Fill["while"] = "always",
): Fill => ({
  id: field,
  field,
  while: mode,
  lines: lines.map(([when, value]) => ({ when, value })),
  otherwise,
});
const run = (rules: Fill[], values: Values, touched: string[] = []) => filled(rules, values, new Set(touched), fieldOf, world);

describe("fill rules", () => {
  it("the worked case of a plan's form (common practice, no source): tickets by plan, a year at ten months' price", () => {
    const rules = [
      rule("tickets", [
        [is("plan", "Essential"), n(2)],
        [is("plan", "Standard"), n(4)],
        [is("plan", "Priority"), n(6)],
      ]),
      rule("price", [
        [both(is("plan", "Standard"), is("cycle", "monthly")), n(99)],
        [both(is("plan", "Standard"), is("cycle", "yearly")), math(n(99), "*", n(10))],
      ]),
    ];
    expect(run(rules, { plan: "Standard", cycle: "monthly" })).toMatchObject({ tickets: 4, price: 9_900 });
    expect(run(rules, { plan: "Standard", cycle: "yearly" })).toMatchObject({ tickets: 4, price: 99_000 });
    expect(run(rules, { plan: "Priority", cycle: "yearly" })).toEqual({ plan: "Priority", cycle: "yearly", tickets: 6 });
  });
  it("the first line that holds wins, else the last one; “only while empty” leaves what somebody wrote", () => {
    const lines: [Condition, Expression][] = [
      [is("a", "x"), n(1)],
      [is("a", "x"), n(2)],
    ];
    expect(run([rule("whole", lines, n(9))], { a: "x" }).whole).toBe(1);
    expect(run([rule("whole", lines, n(9))], { a: "y" }).whole).toBe(9);
    expect(run([rule("whole", lines, n(9), "empty")], { a: "x", whole: 7 }).whole).toBe(7);
    expect(run([rule("whole", lines, n(9), "empty")], { a: "x", whole: null }, ["whole"]).whole).toBeNull();
  });
  it("a rule comes after those whose fields it looks at, in whatever order they stand", () => {
    const twice = rule("price", [], math({ kind: "field", field: "whole" }, "*", n(2)));
    const first = rule("whole", [], n(21));
    for (const rules of [
      [twice, first],
      [first, twice],
    ])
      expect(run(rules, {}).price).toBe(4_200);
    expect(inFillOrder([twice, first]).map((r) => r.field)).toEqual(["whole", "price"]);
  });
  it("names a circle, and finds none where there is none", () => {
    const looks = (field: string, at: string) => rule(field, [], { kind: "field", field: at });
    expect(fillCycle([looks("a", "b"), looks("b", "c"), looks("c", "a")])).toEqual(["a", "b", "c"]);
    expect(fillCycle([rule("a", [[is("a", "x"), n(1)]])])).toEqual(["a"]);
    expect(fillCycle([looks("a", "b"), looks("b", "c"), looks("d", "a")])).toBeNull();
  });
  it("counts in whole numbers: 0.1 and 0.2 are 0.3, thirds are rounded half away from zero, nothing divides by nothing", () => {
    const price = { id: "price", numeric: true };
    expect(worth(math(n(0.1), "+", n(0.2)), price, {}, world)).toBe(30);
    expect(worth(math(n(1), "/", n(3)), price, {}, world)).toBe(33);
    expect(worth(math(n(-1), "/", n(8)), price, {}, world)).toBe(-13); // -0.125
    expect(worth(math(n(1), "/", n(0)), price, {}, world)).toBeUndefined();
    expect(worth({ kind: "days", from: { kind: "today", anchor: "today" }, days: 30 }, { id: "due", numeric: false }, {}, world)).toBe(
      "2026-12-26",
    );
  });
  it("agrees with exact fractions on random sums and products", () => {
    const leaf = fc.record({ whole: fc.integer({ min: -9_999, max: 9_999 }), field: fc.constantFrom("price", "rate", "whole") });
    fc.assert(
      fc.property(leaf, leaf, leaf, fc.constantFrom("+", "-", "*" as const), (a, b, c, op) => {
        const values = { [a.field]: a.whole };
        // One value a field: the others are literals of that field's scale.
        const lit = (x: typeof a): Expression => n(Number((x.whole / 10 ** SCALES[x.field]!).toFixed(SCALES[x.field])));
        const e = math(math({ kind: "field", field: a.field }, op as "+", lit(b)), "+", lit(c));
        const exact = (x: typeof a): bigint => BigInt(x.whole) * 10n ** BigInt(9 - SCALES[x.field]!);
        const [x, y, z] = [exact(a), exact(b), exact(c)];
        const sum = op === "+" ? x + y + z : op === "-" ? x - y + z : (x * y) / 10n ** 9n + z;
        const rounded = (2n * (sum < 0n ? -sum : sum) + 10n ** 7n) / (2n * 10n ** 7n);
        expect(worth(e, { id: "price", numeric: true }, values, world)).toBe(Number(sum < 0n ? -rounded : rounded) + 0);
      }),
      { numRuns: runs(1_000) },
    );
  });
});
