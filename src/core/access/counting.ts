/**
 * How many records each of many viewers may see, without a query for each. Viewers whose grants read alike are counted
 * together: their rows are grouped by company and, where a grant compares one column with the viewer's own values ("one of
 * her sites"), by that column too. What cannot be grouped is counted alone.
 */
import type { Schema, Value } from "../schema/types";
import { isEmpty } from "../schema/types";
import type { Condition, Test } from "./condition";
import type { Action, Grant, Policy } from "./policy";
import { all, any, never, not, type Predicate } from "./predicate";
import { operandValue, resolve, SELF } from "./resolve";
import { type CountingGrant, type Scope, scope } from "./scope";
import type { Viewer } from "./viewer";

/** Rows whose kept company is this one, or all rows where `company` is null. */
export interface Grouped {
  readonly kind: "grouped";
  /** Viewers with the same key share one grouped query. */
  readonly key: string;
  readonly company: string | null;
  /** What counts whatever the column holds. */
  readonly base: Predicate;
  readonly keyed: {
    readonly field: string /** What counts where the column holds one of `values`. */;
    readonly on: Predicate;
    readonly values: readonly Value[];
  } | null;
}
export type CountPlan = { readonly kind: "none" } | Grouped | { readonly kind: "alone"; readonly predicate: Predicate };

const NONE: CountPlan = { kind: "none" };

interface Key {
  readonly field: string;
  readonly operand: string;
  readonly values: readonly Value[];
}

/** A grant that compares a column with the viewer's own values, and otherwise tests nothing of the viewer. */
interface KeyedGrant {
  readonly key: Key;
  readonly rest: Predicate;
}

const readsViewer = (t: Test): boolean => t.operands.some((o) => o.kind === "viewer");
const testsIn = (c: Condition): readonly Condition[] => (c.kind === "all" ? c.of : [c]);
const anyViewer = (c: Condition | null): boolean =>
  c !== null && (c.kind === "test" ? readsViewer(c) : c.kind === "not" ? anyViewer(c.of) : c.of.some(anyViewer));

/** Columns whose stored form is the value itself or its folded text. */
const GROUPABLE = new Set(["relation", "choice", "text", "date"]);

function keyedGrant(grant: Grant, viewer: Viewer, schema: Schema): KeyedGrant | null {
  const parts = testsIn(grant.filter!);
  const asking = parts.filter(anyViewer);
  const [test] = asking;
  if (asking.length !== 1 || test?.kind !== "test" || test.path.length !== 1 || test.path[0] === SELF) return null;
  const [field] = test.path as [string];
  if (!GROUPABLE.has(schema.field(field).type) || (test.operator !== "is" && test.operator !== "any-of")) return null;
  const v = operandValue(test.operands[0]!, viewer);
  const values = isEmpty(v) ? [] : Array.isArray(v) ? [...new Set(v as readonly string[])] : [v];
  const rest = resolve({ kind: "all", of: parts.filter((p) => p !== test) }, viewer);
  return { key: { field, operand: JSON.stringify(test.operands[0]), values }, rest };
}

/** One scope as a function of whether the column holds one of the viewer's values. */
interface Side {
  readonly name: string;
  readonly key: Key | null;
  readonly at: (on: boolean) => Predicate;
}

/** Null where the grants compare with the viewer in ways that do not group. */
function sideOfScope(s: Scope, viewer: Viewer, schema: Schema): Side | null {
  const plain: CountingGrant[] = [];
  const keyed: KeyedGrant[] = [];
  for (const g of s.grants) {
    if (!anyViewer(g.grant.filter)) plain.push(g);
    else {
      const k = keyedGrant(g.grant, viewer, schema);
      if (!k) return null;
      keyed.push(k);
    }
  }
  const [first] = keyed;
  if (keyed.some((k) => k.key.field !== first!.key.field || k.key.operand !== first!.key.operand)) return null;
  const fixed = plain.map((g) => g.predicate);
  return {
    name: s.grants.map((g) => g.grant.id).join(),
    key: first?.key ?? null,
    at: (on) => any(on ? [...fixed, ...keyed.map((k) => k.rest)] : fixed),
  };
}

/** Records on which the viewer may do all of these (seeing is part of changing, removing and downloading). */
export function countPlan(policy: Policy, viewer: Viewer, table: string, actions: readonly Action[]): CountPlan {
  if (actions.length > 1) return planFor(policy, viewer, table, actions);
  // Viewers of one company, the same roles and the same answers share a scope, and so a plan.
  const s = scope(policy, viewer, table, actions[0]);
  let byTable = plans.get(s);
  if (!byTable) plans.set(s, (byTable = new Map()));
  let plan = byTable.get(table);
  if (!plan) byTable.set(table, (plan = planFor(policy, viewer, table, actions)));
  return plan;
}

const plans = new WeakMap<Scope, Map<string, CountPlan>>();

function planFor(policy: Policy, viewer: Viewer, table: string, actions: readonly Action[]): CountPlan {
  const scopes = actions.map((a) => scope(policy, viewer, table, a));
  if (scopes.some((s) => s.predicate.kind === "never")) return NONE;
  const alone: CountPlan = { kind: "alone", predicate: all(scopes.map((s) => s.predicate)) };
  return together(scopes, viewer, policy.schema, table, (at) => all(at), alone, "");
}

/** Records that the viewer sees under `one` and not under `other`: what a draft gives, or, the other way round, takes. */
export function differencePlan(one: Policy, other: Policy, viewer: Viewer, table: string): CountPlan {
  const [a, b] = [scope(one, viewer, table), other.schema.findTable(table) ? scope(other, viewer, table) : null];
  if (a.predicate.kind === "never") return NONE;
  if (!b || b.predicate.kind === "never") return countPlan(one, viewer, table, ["see"]);
  const alone: CountPlan = { kind: "alone", predicate: all([a.predicate, not(b.predicate)]) };
  if (JSON.stringify(a.wall) !== JSON.stringify(b.wall)) return alone;
  return together([a, b], viewer, one.schema, table, ([x, y]) => all([x!, not(y!)]), alone, "not ");
}

function together(
  scopes: readonly Scope[],
  viewer: Viewer,
  schema: Schema,
  table: string,
  join: (at: Predicate[]) => Predicate,
  alone: CountPlan,
  name: string,
): CountPlan {
  const { wall } = scopes[0]!;
  if (scopes.some((s) => s.everything) || (wall.kind !== "always" && wall.kind !== "owned")) return alone;
  const sides: Side[] = [];
  for (const s of scopes) {
    const side = sideOfScope(s, viewer, schema);
    if (!side) return alone;
    sides.push(side);
  }
  const keys = sides.flatMap((s) => (s.key ? [s.key] : []));
  const [key] = keys;
  if (keys.some((k) => k.field !== key!.field || k.operand !== key!.operand)) return alone;
  const at = (on: boolean): Predicate => join(sides.map((s) => s.at(on)));
  return {
    kind: "grouped",
    key: `${table} ${wall.kind} ${name}${sides.map((s) => s.name).join("|")}`,
    company: wall.kind === "owned" ? wall.company : null,
    base: at(false),
    keyed: key ? { field: key.field, on: at(true), values: key.values } : null,
  };
}

/** Fields of a table that a viewer never reads there, and those read on some of the records only. */
export function hiddenFields(policy: Policy, viewer: Viewer, table: string): { never: string[]; partly: string[] } {
  const s = scope(policy, viewer, table);
  if (s.everything || s.predicate === never) return { never: [], partly: [] };
  const lists = s.grants.map((g) => new Set(g.grant.fields));
  const result = { never: [] as string[], partly: [] as string[] };
  for (const f of policy.schema.table(table).fields) {
    const n = lists.filter((l) => l.has(f.id)).length;
    if (n === 0) result.never.push(f.id);
    else if (n < lists.length) result.partly.push(f.id);
  }
  return result;
}
