/**
 * How many records each of many viewers may see, without a query for each. Viewers whose grants read alike are counted
 * together: their rows are grouped by company and, where a grant compares one column with the viewer's own values ("one of
 * her sites"), by that column too. What cannot be grouped is counted alone.
 */
import { Memo } from "../memo";
import type { Condition, Test } from "../schema/condition";
import { SELF } from "../schema/condition";
import { isEmpty, kindOf, type Schema, type Value } from "../schema/types";
import type { Policy } from "./policy";
import { all, any, never, not, type Predicate } from "./predicate";
import { operandValue, resolve } from "./resolve";
import type { Action, Grant } from "./rules";
import { type CountingGrant, type Scope, scope } from "./scope";
import type { Viewer } from "./who/viewer";

/** Rows whose stored company is this one, or all rows where `company` is null. */
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

/** What of a grant follows from itself alone: whether it asks the viewer anything, and if so whether by one column. */
type Asked = "nothing" | "otherwise" | { readonly test: Test; readonly field: string; readonly operand: string; readonly rest: Condition };

const askedBy = new WeakMap<Grant, Asked>();

function asked(grant: Grant, schema: Schema): Asked {
  let known = askedBy.get(grant);
  if (!known) askedBy.set(grant, (known = read(grant, schema)));
  return known;
}

function read(grant: Grant, schema: Schema): Asked {
  if (!grant.filter || !anyViewer(grant.filter)) return "nothing";
  const parts = testsIn(grant.filter);
  const asking = parts.filter(anyViewer);
  const [test] = asking;
  if (asking.length !== 1 || test?.kind !== "test" || test.path.length !== 1 || test.path[0] === SELF) return "otherwise";
  const [field] = test.path as [string];
  if (!kindOf(schema.field(field)).groupable || (test.operator !== "is" && test.operator !== "any-of")) return "otherwise";
  return { test, field, operand: JSON.stringify(test.operands[0]), rest: { kind: "all", of: parts.filter((p) => p !== test) } };
}

function keyedGrant({ test, field, operand, rest }: Exclude<Asked, string>, viewer: Viewer): KeyedGrant {
  const v = operandValue(test.operands[0]!, viewer);
  const values = isEmpty(v) ? [] : Array.isArray(v) ? [...new Set(v as readonly string[])] : [v];
  return { key: { field, operand, values }, rest: resolve(rest, viewer) };
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
    const a = asked(g.grant, schema);
    if (a === "otherwise") return null;
    if (a === "nothing") plain.push(g);
    else keyed.push(keyedGrant(a, viewer));
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
  // Most people change and remove nothing: that is known without looking at the rest.
  for (let i = actions.length - 1; i > 0; i--) if (scope(policy, viewer, table, actions[i]).predicate.kind === "never") return NONE;
  if (actions.length > 1) return planFor(policy, viewer, table, actions);
  // Viewers of one company, the same roles and the same answers share a scope, and so a plan.
  const s = scope(policy, viewer, table, actions[0]);
  return plans.of(s, table, () => planFor(policy, viewer, table, actions));
}

const plans = new Memo<Scope, string, CountPlan>();

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
export function hiddenFields(policy: Policy, viewer: Viewer, table: string): Hidden {
  const s = scope(policy, viewer, table);
  if (s.everything || s.predicate === never) return { never: [], partly: [] };
  // The same grants hide the same fields, whoever holds them.
  let key = table;
  for (const g of s.grants) key += ` ${g.grant.id}`;
  return hiddenBy.of(policy, key, () => hiddenIn(policy, table, s));
}

interface Hidden {
  readonly never: readonly string[];
  readonly partly: readonly string[];
}
const hiddenBy = new Memo<Policy, string, Hidden>();

function hiddenIn(policy: Policy, table: string, s: Scope): Hidden {
  const lists = s.grants.map((g) => new Set(g.grant.fields));
  const seenBy = (f: string): number => lists.filter((l) => l.has(f)).length;
  const fields = policy.schema.table(table).fields.map((f) => f.id);
  return { never: fields.filter((f) => seenBy(f) === 0), partly: fields.filter((f) => seenBy(f) > 0 && seenBy(f) < lists.length) };
}
