/** Of some records, those with which the viewer may do something: for showing controls where they work, never for protecting. */
import { type SQL, sql } from "drizzle-orm";
import { all, among } from "@/core/access/predicate";
import type { Doing } from "@/core/access/rules";
import { fieldWhere, scope } from "@/core/access/scope";
import type { Scalar } from "@/core/schema/types";
import type { Access } from "../../access";
import { physical } from "../../tables/physical";
import { compile, Parameters, shape } from "./compile";

/**
 * `field`: only where that may be changed. One statement, whatever the number of records. They come in the order in which they were asked
 * for: in that of the rows, a value that the viewer does not see could be told from it.
 */
export function whereMay(
  { file, policy, viewer }: Access,
  table: string,
  doing: Doing,
  ids: readonly string[],
  field?: string,
): Set<string> {
  const s = scope(policy, viewer, table, doing);
  const may = field === undefined || s.everything ? s.predicate : all([s.predicate, fieldWhere(s, field, "changes")]);
  const where = all([scope(policy, viewer, table).predicate, may, among(ids)]);
  if (where.kind === "never") return new Set();
  const values: Scalar[] = [];
  const key = `may ${table} ${shape(where, policy.schema, values)}`;
  const build = (): SQL => {
    const t = physical(policy.schema, table);
    return sql`SELECT ${t.id} FROM ${t.table} WHERE ${compile(where, table, policy.schema, new Parameters())}`;
  };
  const open = new Set(file.statements.rows(key, build, values).map(([id]) => id as string));
  return new Set(ids.filter((id) => open.has(id)));
}
