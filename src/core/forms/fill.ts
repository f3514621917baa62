/**
 * Fill rules: a decision table a field. The first line whose tests hold gives the value, else the last one. Worked out alike in the
 * browser while somebody types, and on the server, whose word is final. Numbers are the fields' own whole numbers (minor units, scaled
 * decimals), so nothing is lost on the way; a quotient is rounded half away from zero.
 */
import { z } from "zod";
import { type Condition, conditionSchema, dateAnchor } from "../schema/condition";
import type { Value, Values } from "../schema/types";
import { addDays } from "../time/relative";

const scalar = z.union([z.string().max(4_000), z.number(), z.boolean()]);

export type Expression =
  | { readonly kind: "literal"; readonly value: string | number | boolean | readonly string[] }
  | { readonly kind: "field"; readonly field: string }
  | { readonly kind: "viewer"; readonly of: "person" | "company"; readonly field: string | null }
  | { readonly kind: "today"; readonly anchor: z.infer<typeof dateAnchor> }
  | { readonly kind: "math"; readonly op: "+" | "-" | "*" | "/"; readonly left: Expression; readonly right: Expression }
  | { readonly kind: "days"; readonly from: Expression; readonly days: number };

export const expressionSchema: z.ZodType<Expression> = z.lazy(() =>
  z.union([
    z.strictObject({ kind: z.literal("literal"), value: z.union([scalar, z.array(z.string().max(100)).max(100)]) }),
    z.strictObject({ kind: z.literal("field"), field: z.string().max(64) }),
    z.strictObject({ kind: z.literal("viewer"), of: z.enum(["person", "company"]), field: z.string().max(64).nullable() }),
    z.strictObject({ kind: z.literal("today"), anchor: dateAnchor }),
    z.strictObject({ kind: z.literal("math"), op: z.enum(["+", "-", "*", "/"]), left: expressionSchema, right: expressionSchema }),
    z.strictObject({ kind: z.literal("days"), from: expressionSchema, days: z.int().min(-36_600).max(36_600) }),
  ]),
) as z.ZodType<Expression>;

export const fillSchema = z.strictObject({
  id: z.string().max(64),
  field: z.string().max(64),
  /** Only where nothing stands yet, or whenever something changes. */
  while: z.enum(["empty", "always"]),
  lines: z.array(z.strictObject({ when: conditionSchema, value: expressionSchema })).max(50),
  /** Null leaves the field as it is. */
  otherwise: expressionSchema.nullable(),
});
export type Fill = z.infer<typeof fillSchema>;

export interface FillWorld {
  /** Whether a test holds for what is filled in. Browser and server use the same reader. */
  holds(c: Condition, values: Values): boolean;
  /** The reader's value in a field of their own record or their company's; for a null field, the id. */
  viewer(of: "person" | "company", field: string | null): Value;
  /** ISO date in the portal's zone. */
  today(anchor: z.infer<typeof dateAnchor>): string;
  /** Digits behind the point that a number field keeps in its whole number: 2 of money in pounds. */
  scaleOf(field: string): number;
}

/** A number with its scale: 990.00 in minor units is { whole: 99000, scale: 2 }. */
interface Scaled {
  readonly whole: bigint;
  readonly scale: number;
}

const TEN = (n: number): bigint => 10n ** BigInt(n);
const scaled = (v: number, scale: number): Scaled => ({ whole: BigInt(v), scale });

/** Digits of a literal as it was written, 1.5 as 15 tenths; nothing is held as a float on the way. */
function literalScaled(v: number): Scaled | null {
  const match = /^(-?\d+)(?:\.(\d{1,12}))?$/.exec(String(v));
  return match ? { whole: BigInt(match[1]! + (match[2] ?? "")), scale: (match[2] ?? "").length } : null;
}

function rounded(numerator: bigint, denominator: bigint): bigint {
  const negative = numerator < 0n !== denominator < 0n;
  const [n, d] = [numerator < 0n ? -numerator : numerator, denominator < 0n ? -denominator : denominator];
  const q = (2n * n + d) / (2n * d);
  return negative ? -q : q;
}

function atScale(n: Scaled, scale: number): bigint {
  return scale >= n.scale ? n.whole * TEN(scale - n.scale) : rounded(n.whole, TEN(n.scale - scale));
}

const MOST_SCALE = 18;

function numberOf(e: Expression, values: Values, world: FillWorld, depth: number): Scaled | null {
  if (depth > 20) return null;
  if (e.kind === "literal") return typeof e.value === "number" ? literalScaled(e.value) : null;
  if (e.kind === "field") {
    const v = values[e.field];
    return typeof v === "number" && Number.isSafeInteger(v) ? scaled(v, world.scaleOf(e.field)) : null;
  }
  if (e.kind !== "math") return null;
  const [a, b] = [numberOf(e.left, values, world, depth + 1), numberOf(e.right, values, world, depth + 1)];
  if (!a || !b) return null;
  switch (e.op) {
    case "+":
    case "-": {
      const scale = Math.max(a.scale, b.scale);
      const [x, y] = [atScale(a, scale), atScale(b, scale)];
      return { whole: e.op === "+" ? x + y : x - y, scale };
    }
    case "*": {
      const product = { whole: a.whole * b.whole, scale: a.scale + b.scale };
      return product.scale > MOST_SCALE ? { whole: atScale(product, MOST_SCALE), scale: MOST_SCALE } : product;
    }
    case "/": {
      if (b.whole === 0n) return null;
      const scale = 12;
      return { whole: rounded(a.whole * TEN(scale + b.scale), b.whole * TEN(a.scale)), scale };
    }
  }
}

/** The value as the field keeps it; undefined where there is none, such as a division by nothing. */
export function worth(
  e: Expression,
  target: { readonly id: string; readonly numeric: boolean },
  values: Values,
  world: FillWorld,
): Value | undefined {
  switch (e.kind) {
    case "literal":
      if (!target.numeric || typeof e.value !== "number") return e.value as Value;
      break;
    case "field":
      if (!target.numeric) return values[e.field] ?? null;
      break;
    case "viewer":
      return world.viewer(e.of, e.field);
    case "today":
      return world.today(e.anchor);
    case "days": {
      const from = worth(e.from, { id: target.id, numeric: false }, values, world);
      return typeof from === "string" && /^\d{4}-\d\d-\d\d$/.test(from) ? addDays(from, e.days) : undefined;
    }
    case "math":
      break;
  }
  const n = numberOf(e, values, world, 0);
  if (!n) return undefined;
  const whole = Number(atScale(n, world.scaleOf(target.id)));
  return Number.isSafeInteger(whole) ? whole : undefined;
}

const isEmptyValue = (v: Value | undefined): boolean => v === undefined || v === null || v === "" || (Array.isArray(v) && v.length === 0);

/**
 * The values with all that the rules fill in, in an order in which each rule comes after those it reads. `touched` are fields that
 * somebody filled in themselves: "only while empty" leaves them alone. The rules hold no cycle: `fill-problems.ts` refuses one.
 */
export function filled(
  rules: readonly Fill[],
  given: Values,
  touched: ReadonlySet<string>,
  fieldOf: (id: string) => { readonly id: string; readonly numeric: boolean } | undefined,
  world: FillWorld,
): Values {
  const values: Record<string, Value> = { ...given };
  for (const rule of inFillOrder(rules)) {
    const target = fieldOf(rule.field);
    if (!target || (rule.while === "empty" && (touched.has(rule.field) || !isEmptyValue(given[rule.field])))) continue;
    const line = rule.lines.find((l) => world.holds(l.when, values));
    const e = line ? line.value : rule.otherwise;
    if (!e) continue;
    const v = worth(e, target, values, world);
    if (v !== undefined) values[rule.field] = v;
  }
  return values;
}

const readsOf = (e: Expression | null): string[] => {
  if (!e) return [];
  if (e.kind === "field") return [e.field];
  if (e.kind === "math") return [...readsOf(e.left), ...readsOf(e.right)];
  return e.kind === "days" ? readsOf(e.from) : [];
};
const testedIn = (c: Condition): string[] =>
  c.kind === "test" ? [c.path[0]!] : c.kind === "not" ? testedIn(c.of) : c.of.flatMap(testedIn);

/** Fields that a rule looks at. */
export const looksAt = (r: Fill): string[] => [
  ...new Set([...r.lines.flatMap((l) => [...testedIn(l.when), ...readsOf(l.value)]), ...readsOf(r.otherwise)]),
];

/** The rules in an order in which each follows those whose fields it reads. */
export function inFillOrder(rules: readonly Fill[]): Fill[] {
  const done = new Set<Fill>();
  const going = new Set<Fill>();
  const order: Fill[] = [];
  const visit = (r: Fill): void => {
    if (done.has(r) || going.has(r)) return;
    going.add(r);
    for (const f of looksAt(r)) for (const other of rules) if (other.field === f && other !== r) visit(other);
    going.delete(r);
    done.add(r);
    order.push(r);
  };
  for (const r of rules) visit(r);
  return order;
}

/** Fields that come back to themselves through rules, in the order of the way; null where there is no such way. */
export function fillCycle(rules: readonly Fill[]): string[] | null {
  const from = new Map<string, Set<string>>();
  for (const r of rules) from.set(r.field, new Set([...(from.get(r.field) ?? []), ...looksAt(r)]));
  const way: string[] = [];
  const cleared = new Set<string>();
  const visit = (field: string): string[] | null => {
    const at = way.indexOf(field);
    if (at >= 0) return way.slice(at);
    if (cleared.has(field)) return null;
    way.push(field);
    for (const next of from.get(field) ?? []) {
      const found = from.has(next) ? visit(next) : null;
      if (found) return found;
    }
    way.pop();
    cleared.add(field);
    return null;
  };
  for (const field of from.keys()) {
    const found = visit(field);
    if (found) return found;
  }
  return null;
}
