/** Whose records are, and would be: for saying what a change of owner does before it is done. */

import type { Policy } from "@/core/access/policy";
import type { Owner } from "@/core/access/who/viewer";
import { isRelation } from "@/core/schema/fields/natures";
import type { Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { companyNameSql } from "../tables/company-names";
import { hasColumn, linkTableName } from "../tables/physical";

/** The company that a record of the table is, or belongs to. */
export function companyOfRecord(file: PortalFile, _owner: Owner, table: Table, id: string): { id: string; name: string } | null {
  const join = table.kind === "companies" ? "t.id" : "t.company_id";
  const found = file.db
    .prepare(`SELECT c.id, ${companyNameSql("c")} AS name FROM ${sqlName(table.id)} t JOIN t_companies c ON c.id = ${join} WHERE t.id = ?`)
    .get(id);
  return (found as { id: string; name: string } | undefined) ?? null;
}

/** Records among these that do not belong to that company yet, by the company that they belong to. */
export const heldElsewhere = (
  file: PortalFile,
  _owner: Owner,
  table: Table,
  ids: readonly string[],
  company: string | null,
): { name: string | null; records: number }[] =>
  file.db
    .prepare(
      `SELECT ${companyNameSql("c")} AS name, count(*) AS records FROM ${sqlName(table.id)} t LEFT JOIN t_companies c ON c.id = t.company_id
       WHERE t.id IN (SELECT value FROM json_each(?)) AND t.company_id IS NOT ? GROUP BY t.company_id`,
    )
    .all(JSON.stringify(ids), company) as { name: string | null; records: number }[];

/** Every company with how many records of the table belong to it. */
export const companiesWith = (file: PortalFile, _owner: Owner, table: Table): { id: string; name: string; records: number }[] =>
  file.db
    .prepare(
      `SELECT c.id, ${companyNameSql("c")} AS name, (SELECT count(*) FROM ${sqlName(table.id)} t WHERE t.company_id = c.id) AS records FROM t_companies c ORDER BY c.f_company_name_k, c.id`,
    )
    .all() as { id: string; name: string; records: number }[];

/** What moved records point to that is neither shared nor of the company that they are of now. */
export function strangersIn(
  file: PortalFile,
  _owner: Owner,
  policy: Policy,
  table: Table,
  ids: readonly string[],
  to: string,
): { field: string; records: number }[] {
  const moved = JSON.stringify(ids);
  return table.fields.flatMap((f) => {
    if (!isRelation(f) || f.options.kept) return [];
    const target = policy.schema.table(f.options.target);
    if (target.kind === "ordinary" && policy.wall(target.id).kind !== "owned") return [];
    if (target.kind === "companies") return [];
    const strange =
      target.kind === "people"
        ? `EXISTS (SELECT 1 FROM sys_memberships m WHERE m.person_id = x.target) AND NOT EXISTS (SELECT 1 FROM sys_memberships m WHERE m.person_id = x.target AND (m.company_id IS NULL OR m.company_id = @to))`
        : `EXISTS (SELECT 1 FROM ${sqlName(target.id)} p WHERE p.id = x.target AND p.company_id IS NOT NULL AND p.company_id <> @to)`;
    const pointing = hasColumn(f)
      ? `SELECT id AS record, ${sqlName(f.id)} AS target FROM ${sqlName(table.id)} WHERE ${sqlName(f.id)} IS NOT NULL`
      : `SELECT record_id AS record, target_id AS target FROM ${sqlName(linkTableName(f))}`;
    const records = file.db
      .prepare(
        `SELECT count(DISTINCT x.record) FROM (${pointing}) x WHERE x.record IN (SELECT value FROM json_each(@moved)) AND ${strange}`,
      )
      .pluck()
      .get({ moved, ...(strange.includes("@to") ? { to } : {}) }) as number;
    return records > 0 ? [{ field: f.name, records }] : [];
  });
}
