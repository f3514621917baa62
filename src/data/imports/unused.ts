import { type Schema, targetOf } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { rowOf } from "../file/text";
import { hasColumn, linkTableName } from "../tables/physical";

const count = (file: PortalFile, text: string, id: string): number => Number(rowOf(file, text, id)?.[0] ?? 0);

export function removeUnused(file: PortalFile, schema: Schema, tableId: string, id: string): void {
  const table = schema.findTable(tableId);
  if (!table || count(file, `SELECT count(*) FROM ${sqlName(tableId)} WHERE id = ? AND version = 1`, id) === 0) return;
  const pointed = schema.tables
    .flatMap((t) => t.fields)
    .some((f) => {
      if (targetOf(f) !== tableId || f.options.kept) return false;
      if (f.id === "f_person_companies") return count(file, "SELECT count(*) FROM sys_memberships WHERE company_id = ?", id) > 0;
      return hasColumn(f)
        ? count(file, `SELECT count(*) FROM ${sqlName(f.tableId)} WHERE ${sqlName(f.id)} = ?`, id) > 0
        : count(file, `SELECT count(*) FROM ${sqlName(linkTableName(f))} WHERE target_id = ?`, id) > 0;
    });
  const paying = tableId === "t_companies" && count(file, "SELECT count(*) FROM sys_subscriptions WHERE company_id = ?", id) > 0;
  if (!pointed && !paying) file.db.prepare(`DELETE FROM ${sqlName(tableId)} WHERE id = ?`).run(id);
}
