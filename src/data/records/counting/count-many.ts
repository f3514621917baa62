/** Counts for many viewers at once, by the plans of `core/access/counting`: a handful of grouped queries, for the owner's eyes. */

import { type SQL, sql } from "drizzle-orm";
import type { CountPlan, Grouped } from "@/core/access/counting";
import type { Predicate } from "@/core/access/predicate";
import type { Owner } from "@/core/access/who/viewer";
import { Memo } from "@/core/memo";
import type { Scalar, Schema } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import type { PortalFile } from "../../file/open";
import { isFolded, physical } from "../../tables/physical";
import { compile, Parameters, shape } from "../query/compile";

/** Rows of one company (or of all, under ""): those that count anyway, and by the column's value those that count for it. */
interface Counts {
  base: number;
  readonly by: Map<string, { base: number; on: number }>;
}

/** Keeps what it has counted; make a new one when records or rules may have changed. */
export class ManyCounter {
  readonly #groups = new Map<string, Map<string, Counts>>();
  readonly #alone = new Memo<Predicate, string, number>();
  /** Queries run so far, for progress and for the bench. */
  queries = 0;

  constructor(
    private readonly file: PortalFile,
    private readonly schema: Schema,
    _owner: Owner,
  ) {}

  /** False where the plan counts by groups that have not been queried yet. */
  counted = (plan: CountPlan): boolean => plan.kind !== "grouped" || this.#groups.has(plan.key);

  count(table: string, plan: CountPlan): number {
    if (plan.kind === "none") return 0;
    if (plan.kind === "alone") return this.#one(table, plan.predicate);
    let groups = this.#groups.get(plan.key);
    if (!groups) this.#groups.set(plan.key, (groups = this.#grouped(table, plan)));
    const counts = groups.get(plan.company ?? "");
    if (!counts) return 0;
    let n = counts.base;
    if (!plan.keyed) return n;
    const folded = isFolded(this.schema.field(plan.keyed.field));
    const seen = new Set<string>();
    for (const v of plan.keyed.values) {
      const key = folded ? fold(String(v)) : String(v);
      if (seen.has(key)) continue;
      seen.add(key);
      const at = counts.by.get(key);
      if (at) n += at.on - at.base;
    }
    return n;
  }

  /** Viewers of one company and the same roles share the predicate itself, so it is counted once for them. */
  #one(table: string, where: Predicate): number {
    return this.#alone.of(where, table, () => {
      this.queries++;
      return countWhere(this.file, this.schema, table, where);
    });
  }

  #grouped(table: string, plan: Grouped): Map<string, Counts> {
    this.queries++;
    const t = physical(this.schema, table);
    const company = plan.company === null ? sql`''` : sql`${t.company}`;
    const inCompany = plan.company === null ? sql`1` : sql`${t.company} IS NOT NULL`;
    const found = new Map<string, Counts>();
    const of = (c: string): Counts => found.get(c) ?? found.set(c, { base: 0, by: new Map() }).get(c)!;
    const values: Scalar[] = [];
    if (!plan.keyed) {
      const key = `many ${table} ${plan.company === null ? "all" : "each"} ${shape(plan.base, this.schema, values)}`;
      const build = (): SQL =>
        sql`SELECT ${company}, count(*) FROM ${t.table} WHERE ${inCompany} AND ${compile(plan.base, table, this.schema, new Parameters())} GROUP BY 1`;
      for (const [c, n] of this.file.statements.rows(key, build, values)) of(String(c)).base = n as number;
      return found;
    }
    const { field, on } = plan.keyed;
    const shapes = [plan.base, on, plan.base, on].map((p) => shape(p, this.schema, values));
    const build = (): SQL => {
      const params = new Parameters();
      const [a, b, c, d] = [plan.base, on, plan.base, on].map((p) => compile(p, table, this.schema, params));
      return sql`SELECT ${company}, ${t.key(field)}, sum((${a}) IS TRUE), sum((${b}) IS TRUE) FROM ${t.table} WHERE ${inCompany} AND (${c} OR ${d}) GROUP BY 2, 1`;
    };
    for (const [c, k, base, n] of this.file.statements.rows(
      `many ${table} by ${field} ${plan.company === null} ${shapes.join(" ")}`,
      build,
      values,
    )) {
      const counts = of(String(c));
      counts.base += base as number;
      if (k !== null) counts.by.set(String(k), { base: base as number, on: n as number });
    }
    return found;
  }
}

/** How many rows meet a predicate. */
export function countWhere(file: PortalFile, schema: Schema, table: string, where: Predicate): number {
  if (where.kind === "never") return 0;
  return file.statements.numberOf(where, table, () => {
    const values: Scalar[] = [];
    const key = `count ${table} ${shape(where, schema, values)}`;
    const build = (): SQL =>
      sql`SELECT count(*) FROM ${physical(schema, table).table} WHERE ${compile(where, table, schema, new Parameters())}`;
    return { key, build, values };
  });
}

/** Whether it holds of any row: stops at the first. */
export function anyWhere(file: PortalFile, schema: Schema, table: string, where: Predicate): boolean {
  if (where.kind === "never") return false;
  const values: Scalar[] = [];
  const key = `any ${table} ${shape(where, schema, values)}`;
  const build = (): SQL =>
    sql`SELECT 1 FROM ${physical(schema, table).table} WHERE ${compile(where, table, schema, new Parameters())} LIMIT 1`;
  return file.statements.row(key, build, values) !== undefined;
}
