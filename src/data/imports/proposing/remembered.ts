/** What is remembered of earlier imports, as far as the file at hand does not say otherwise. */

import { EVERYONE } from "@/core/access/rules";
import { type ImportPlan, importPlanSchema, type PlanColumn, problemColumns, shifted } from "@/core/exchange/import-plan";
import { leastFirst } from "@/core/review/least";
import { isDated } from "@/core/schema/fields/natures";
import type { Schema, Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { published } from "../../definition/published";
import { schemaOf } from "../../tables/read";
import { bare, meetsSome, type Of, withKey } from "./known-by";

/** The words of a column's name that say it is of roles (common practice, no source). */
const ROLE = /^(role|job|position)$/i;

/** The mapping of the last import that brought something in and whose file had the same columns, if it still fits. */
export function lastPlan(of: Of): ImportPlan | null {
  const { file, analysis } = of;
  const rows = file.db
    .prepare(
      "SELECT json_extract(plan, '$.analysis.header') AS header, json_extract(plan, '$.kept') AS kept FROM sys_imports WHERE state = 'done' AND good > 0 ORDER BY done_at DESC, rowid DESC LIMIT 100",
    )
    .all() as { header: string | null; kept: string | null }[];
  const told = problemColumns(analysis.header);
  const wanted = JSON.stringify(analysis.header.slice(told).map(bare));
  const schema = schemaOf(file);
  for (const { header, kept } of rows) {
    if (!header || !kept || JSON.stringify((JSON.parse(header) as string[]).map(bare)) !== wanted) continue;
    const plan = importPlanSchema.safeParse(JSON.parse(kept));
    if (!plan.success || !("id" in plan.data.table)) continue;
    const table = schema.findTable(plan.data.table.id);
    if (!table || plan.data.columns.some((c) => c.to === "field" && schema.findField(c.field)?.tableId !== table.id)) continue;
    return withKey(asValuesSay(of, shifted(plan.data, told), schema, table), of, schema, table);
  }
  return null;
}

/** What stands in the file beats what was remembered of another: how dates and decimals are written, roles, and the key. */
function asValuesSay(of: Of, plan: ImportPlan, schema: Schema, table: Table): ImportPlan {
  const columns = plan.columns.map((c, at): PlanColumn => {
    const guess = of.analysis.columns[at]!;
    if (c.to === "role") return namesRoles(of, table, at) || guess.filled === 0 ? c : { to: "skip" };
    if (c.to !== "field" || guess.filled === 0) return c;
    const { type } = schema.field(c.field);
    const dated = isDated({ type }) && guess.type === type && !guess.orders.includes(c.order);
    const figure = guess.mark !== null && c.mark && c.mark !== guess.mark;
    return { ...c, ...(dated ? { order: guess.dateOrder } : {}), ...(figure ? { mark: guess.mark } : {}) };
  });
  const field = plan.key === null ? undefined : columns[plan.key];
  // The mended rows of an earlier import are of no record yet, and go where the others went.
  const mended = problemColumns(of.analysis.header) > 0;
  const known = mended || (field?.to === "field" && meetsSome(of, plan, schema.field(field.field), plan.key!));
  return { ...plan, columns, key: known || table.kind !== "ordinary" ? plan.key : null };
}

/** Client roles that people may be given in any company, the one that allows least first. */
export function rolesOf({ file, leads }: Of) {
  const { definition } = published(file);
  const among = definition.roles.filter((r) => r.side === "client" && r.id !== EVERYONE && !r.companyId);
  return leastFirst(definition, among, leads);
}

/** A column called "Job" tells roles where most of what stands in it are roles. */
export function namesRoles(of: Of, table: Table, at: number): boolean {
  if (table.kind !== "people" || !ROLE.test(of.analysis.header[at]!)) return false;
  const { values } = of.analysis.columns[at]!;
  const known = new Set(rolesOf(of).flatMap((r) => [fold(r.name), fold(r.id)]));
  const named = values.filter((v) => known.has(fold(v.normalize("NFC").trim())));
  return values.length > 0 && named.length * 2 >= values.length;
}
