/**
 * Counts, sums and averages, whole and by groups, over records that the viewer sees. A value hidden on a record is no value: it is in no
 * sum, and its record stands in the group of those that have none, as for sorting. Nothing comes out that reading each would not give.
 */
import { type SQL, sql } from "drizzle-orm";
import { readable } from "@/core/access/guarded";
import { relationTarget, scope } from "@/core/access/scope";
import type { Scalar } from "@/core/schema/types";
import type { Measure } from "@/core/sections/measure";
import type { Access } from "../../access";
import { physical } from "../../tables/physical";
import { compile, Parameters, shape } from "../query/compile";
import { seesAll } from "../query/search-index";
import { type ListQuery, wherePredicate } from "../query/where";
import { countRecords, knownCount, noteCount } from "./count";

export interface Measured {
  readonly measure: Measure;
  /** A number field; null of a count. */
  readonly of: string | null;
}

type Query = Omit<ListQuery, "limit">;

const OVER: Record<Exclude<Measure, "count">, (value: SQL) => SQL> = {
  sum: (v) => sql`sum(${v})`,
  average: (v) => sql`avg(${v})`,
  least: (v) => sql`min(${v})`,
  most: (v) => sql`max(${v})`,
};

/** A piece of a statement: its values are pushed in the order in which its parameters are asked for. */
interface Piece {
  readonly shape: string;
  build(p: Parameters): SQL;
}

/** The field's value where the viewer may read it on the record. Lists of relations are kept apart and make no group. */
function readValue(d: Access, table: string, field: string, values: Scalar[]): Piece {
  const { policy, viewer } = d;
  const where = readable(policy, viewer, field);
  const target = relationTarget(policy, field);
  const t = physical(policy.schema, table);
  const key = `${field}?${shape(where, policy.schema, values)}`;
  if (!target) return { shape: key, build: (p) => sql`CASE WHEN ${compile(where, table, policy.schema, p)} THEN ${t.column(field)} END` };
  const there = scope(policy, viewer, target).predicate;
  return {
    shape: `${key}>${shape(there, policy.schema, values)}`,
    build: (p) => {
      const guard = compile(where, table, policy.schema, p);
      const other = physical(policy.schema, target);
      const named = sql.identifier("seen");
      return sql`CASE WHEN ${guard} THEN (SELECT ${named}.i FROM (SELECT ${other.id} AS i FROM ${other.table} WHERE ${compile(there, target, policy.schema, p)}) ${named} WHERE ${named}.i = ${t.column(field)}) END`;
    },
  };
}

const measureOf = (d: Access, table: string, m: Measured, values: Scalar[]): Piece => {
  if (m.measure === "count" || m.of === null) return { shape: "n", build: () => sql`count(*)` };
  const over = OVER[m.measure as Exclude<Measure, "count">];
  const value = readValue(d, table, m.of, values);
  return { shape: `${m.measure} ${value.shape}`, build: (p) => over(value.build(p)) };
};

/** Of all that the query finds; null where there is nothing to work with. In the field's own whole number (an average is not whole). */
export const measured = (d: Access, table: string, q: Query, m: Measured): number | null => measuredOf(d, [{ table, q, m }])[0]!;

export interface ToMeasure {
  readonly table: string;
  readonly q: Query;
  readonly m: Measured;
}
const counts = ({ m }: ToMeasure): boolean => m.measure === "count" || m.of === null;

/** Several figures as `measured` has each, by one statement. */
export function measuredOf(d: Access, asked: readonly ToMeasure[]): (number | null)[] {
  const { file, policy, viewer } = d;
  const values: Scalar[] = [];
  const found = asked.map((a): number | null | { piece: Piece; a: ToMeasure } => {
    // A count alone has ways of its own, which are quicker where much is counted.
    if (counts(a) && (asked.length === 1 || a.q.search || seesAll(viewer))) return countRecords(d, a.table, a.q);
    const known = counts(a) ? knownCount(d, a.table, a.q) : undefined;
    if (known !== undefined) return known;
    const where = wherePredicate(policy, viewer, a.table, a.q);
    if (where.kind === "never") return counts(a) || a.m.measure === "sum" ? 0 : null;
    const value = measureOf(d, a.table, a.m, values);
    const build = (p: Parameters): SQL =>
      sql`(SELECT ${value.build(p)} FROM ${physical(policy.schema, a.table).table} WHERE ${compile(where, a.table, policy.schema, p)})`;
    return { piece: { shape: `${a.table} ${value.shape} ${shape(where, policy.schema, values)}`, build }, a };
  });
  const pieces = found.flatMap((f) => (typeof f === "object" && f !== null ? [f.piece] : []));
  if (pieces.length === 0) return found as (number | null)[];
  const build = (): SQL => {
    const params = new Parameters();
    return sql`SELECT ${sql.join(
      pieces.map((x) => x.build(params)),
      sql`, `,
    )}`;
  };
  const row = [...file.statements.row(`measure ${pieces.map((x) => x.shape).join(" | ")}`, build, values)!] as (number | null)[];
  return found.map((f) => {
    if (typeof f !== "object" || f === null) return f;
    const value = row.shift() ?? (f.a.m.measure === "sum" ? 0 : null);
    if (counts(f.a)) noteCount(d, f.a.table, f.a.q, value!);
    return value;
  });
}

export interface Group {
  /** As stored: a choice's id, a related record's id, 0 or 1, a day, a moment's hour; null where there is none that the viewer reads. */
  readonly key: string | number | null;
  readonly n: number;
  readonly value: number | null;
}

/** How a field is grouped: days by months (YYYY-MM) or each for itself, moments by their hour (UTC), the rest as it is. */
export type Step = "plain" | "month" | "hour";
const STEPS: Record<Step, (value: SQL) => SQL> = {
  plain: (v) => v,
  month: (v) => sql`substr(${v}, 1, 7)`,
  hour: (v) => sql`substr(${v}, 1, 13)`,
};

/** The most groups that are returned; more would be no chart. */
export const MOST_GROUPS = 2_000;

/** Figures by the values of a field, or by the step of a date, over what the viewer sees; in the order of the groups. */
export function grouped(d: Access, table: string, q: Query, by: { readonly field: string; readonly step: Step }, m: Measured): Group[] {
  const { file, policy, viewer } = d;
  const where = wherePredicate(policy, viewer, table, q);
  if (where.kind === "never") return [];
  const values: Scalar[] = [];
  const group = readValue(d, table, by.field, values);
  const piece = measureOf(d, table, m, values);
  const key = `groups ${table} ${by.step} ${group.shape} ${piece.shape} ${shape(where, policy.schema, values)}`;
  const build = (): SQL => {
    const params = new Parameters();
    const grouping = STEPS[by.step](group.build(params));
    const value = piece.build(params);
    const found = compile(where, table, policy.schema, params);
    return sql`SELECT ${grouping} AS g, count(*), ${value} FROM ${physical(policy.schema, table).table} WHERE ${found} GROUP BY g ORDER BY g LIMIT ${sql.raw(String(MOST_GROUPS))}`;
  };
  return file.statements
    .rows(key, build, values)
    .map(([k, n, value]) => ({ key: k as Group["key"], n: n as number, value: value as number | null }));
}
