/** The order of a list: by fields as far as the viewer may read them, then by id, and going on from where a page ended. */
import { type SQL, sql } from "drizzle-orm";
import { readable } from "@/core/access/guarded";
import type { Policy } from "@/core/access/policy";
import { all } from "@/core/access/predicate";
import { relationTarget, scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import type { Scalar } from "@/core/schema/types";
import { physical } from "../../tables/physical";
import { compile, type Parameters, shape } from "./compile";

export interface Sort {
  readonly field: string;
  readonly descending: boolean;
}
/** Where a page ended: the values it was sorted by, then the id. */
export type Position = readonly (string | number | null)[];

export interface SortKey {
  readonly descending: boolean;
  readonly shape: string;
  build(params: Parameters): SQL;
}

export function sortKey(policy: Policy, viewer: Viewer, table: string, s: Sort, values: Scalar[]): SortKey {
  const { schema } = policy;
  const where = readable(policy, viewer, s.field);
  const target = relationTarget(policy, s.field);
  const t = physical(schema, table);
  if (!target) {
    const key = `${s.field}${s.descending ? "-" : "+"}${shape(where, schema, values)}`;
    const plain = where.kind === "always";
    return {
      descending: s.descending,
      shape: key,
      build: (p) => (plain ? sql`${t.key(s.field)}` : sql`CASE WHEN ${compile(where, table, schema, p)} THEN ${t.key(s.field)} END`),
    };
  }
  // By the name of the related record, where both the relation and the name may be read.
  const label = schema.table(target).labelFieldId;
  const there = all([scope(policy, viewer, target).predicate, readable(policy, viewer, label)]);
  const key = `${s.field}>${s.descending ? "-" : "+"}${shape(where, schema, values)}>${shape(there, schema, values)}`;
  return {
    descending: s.descending,
    shape: key,
    build: (p) => {
      const other = physical(schema, target);
      const guard = compile(where, table, schema, p);
      const alias = sql.identifier("named");
      return sql`CASE WHEN ${guard} THEN (SELECT ${alias}.k FROM (SELECT ${other.id} AS i, ${other.key(label)} AS k FROM ${other.table} WHERE ${compile(there, target, schema, p)}) ${alias} WHERE ${alias}.i = ${t.column(s.field)}) END`;
    },
  };
}

export const defaultSort = (policy: Policy, table: string): Sort[] => [
  { field: policy.schema.table(table).labelFieldId, descending: false },
];

export const afterShape = (after: Position): string => `a${after.map((v) => (v === null ? "n" : "v")).join("")}`;

/** Rows after a position, empties first when rising and last when falling, as SQLite orders NULL. */
export function afterSql(
  after: Position,
  keys: readonly SortKey[],
  columns: readonly SQL[],
  id: SQL | Parameters | unknown,
  params: Parameters,
): SQL {
  const at = keys.map(() => params.next());
  const atId = params.next();
  const idColumn = id as SQL;
  let rest = keys[keys.length - 1]?.descending ? sql`${idColumn} < ${atId}` : sql`${idColumn} > ${atId}`;
  for (let i = keys.length - 1; i >= 0; i--) {
    const [c, v, isNull] = [columns[i]!, at[i]!, after[i] === null];
    const same = sql`(${c} IS ${v} AND ${rest})`;
    if (keys[i]!.descending) rest = isNull ? same : sql`(${c} < ${v} OR ${c} IS NULL OR ${same})`;
    else rest = isNull ? sql`(${c} IS NOT NULL OR ${same})` : sql`(${c} > ${v} OR ${same})`;
  }
  return rest;
}
