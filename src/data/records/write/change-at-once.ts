/** Most changes do not touch what decides about them: check and change are then one UPDATE, through the same scopes as reading. */

import { sql } from "drizzle-orm";
import { changeWhere } from "@/core/access/change-where";
import type { Policy } from "@/core/access/policy";
import { type Scope, scope } from "@/core/access/scope";
import { holdsFiles, isMadeFromAnother } from "@/core/schema/fields/natures";

import { isEmpty, type Scalar, type Table } from "@/core/schema/types";
import type { Access } from "../../access";
import type { PortalFile } from "../../file/open";
import { physical } from "../../tables/physical";
import { updateColumns, updateValues } from "../../tables/store";
import { compile, Parameters, shape } from "../query/compile";
import { type Given, made } from "./incoming";

type Write = (values: readonly unknown[]) => number;

/** True when the record was changed; false when it was not, for whatever reason, and nothing was written. */
export function changeWhereAllowed(d: Access, table: Table, id: string, given: Given): boolean {
  const { file, policy, viewer } = d;
  const see = scope(policy, viewer, table.id, "see");
  const change = scope(policy, viewer, table.id, "change");
  let name = table.id;
  for (const field in given) {
    const { options, type } = policy.schema.field(field);
    if (options.unique || holdsFiles({ type }) || (isEmpty(given[field]) && options.required) || madeFrom(table).has(field)) return false;
    name += ` ${field}`;
  }
  const bySeen = file.statements.of(see, "changed at once", () => new WeakMap<Scope, Map<string, Write | null>>());
  let byFields = bySeen.get(change);
  if (!byFields) bySeen.set(change, (byFields = new Map()));
  let write = byFields.get(name);
  if (write === undefined) byFields.set(name, (write = prepare(file, policy, see, change, table, Object.keys(given))));
  return write !== null && write([id, ...updateValues(policy.schema, given, made(d))]) === 1;
}

const sources = new WeakMap<Table, ReadonlySet<string>>();
/** Fields that a readable address of the table is made from, and such addresses themselves. */
function madeFrom(table: Table): ReadonlySet<string> {
  let known = sources.get(table);
  if (!known) {
    const made = table.fields.filter((f) => isMadeFromAnother(f));
    sources.set(table, (known = new Set(made.flatMap((f) => [f.id, f.options.madeFrom ?? ""]))));
  }
  return known;
}

function prepare(file: PortalFile, policy: Policy, see: Scope, change: Scope, table: Table, changed: readonly string[]): Write | null {
  const where = changeWhere(policy, see, change, changed);
  if (!where || where.kind === "never") return null;
  const values: Scalar[] = [];
  const key = `change at once ${table.id} ${changed.join()} ${shape(where, policy.schema, values)}`;
  const build = () => {
    const params = new Parameters();
    const t = physical(policy.schema, table.id);
    const allowed = compile(where, table.id, policy.schema, params);
    const here = sql`${t.id} = ${params.next()}`;
    const sets = updateColumns(policy.schema, changed).map((c) => sql`${sql.identifier(c)} = ${params.next()}`);
    return sql`UPDATE ${t.table} SET version = version + 1, ${sql.join(sets, sql`, `)} WHERE ${here} AND ${allowed}`;
  };
  return file.statements.writer(key, build, values);
}
