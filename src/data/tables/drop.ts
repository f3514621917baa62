/** Tables and fields taken out for good, with all that holds them up in the file. What speaks of them in the rules is the caller's to settle. */

import { eq } from "drizzle-orm";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { nextNumber } from "./meta";
import { hasColumn, isFolded, keyName, linkTableName } from "./physical";
import { fieldOf } from "./read";

/** Indexes that name a column keep it from being dropped. */
function dropIndexesOf(file: PortalFile, table: string, columns: readonly string[]): void {
  const indexes = file.db
    .prepare("SELECT name FROM sqlite_master WHERE type = 'index' AND tbl_name = ? AND sql IS NOT NULL")
    .pluck()
    .all(table) as string[];
  for (const index of indexes) {
    const of = file.db.prepare("SELECT name FROM pragma_index_info(?)").pluck().all(index) as (string | null)[];
    if (of.some((c) => c !== null && columns.includes(c))) file.db.exec(`DROP INDEX ${sqlName(index)}`);
  }
}

/** Removes a table's word index; it is built again when somebody searches (`records/query/search-index.ts`). */
export function dropWords(file: PortalFile, table: string): void {
  for (const kind of ["insert", "update", "delete"]) file.db.exec(`DROP TRIGGER IF EXISTS ${sqlName(`words_${table}_${kind}`)}`);
  const triggers = file.db.prepare("SELECT name FROM sqlite_master WHERE type = 'trigger' AND tbl_name = ?").pluck().all(table) as string[];
  for (const name of triggers) file.db.exec(`DROP TRIGGER ${sqlName(name)}`);
  file.db.exec(`DROP TABLE IF EXISTS ${sqlName(`words_${table}`)}; DROP TABLE IF EXISTS ${sqlName(`unindexed_${table}`)}`);
  file.db.prepare("DELETE FROM sys_search WHERE table_id = ?").run(table);
}

/** For good, with what it holds. Rules that name it must be gone before. */
export function dropField(file: PortalFile, id: string): void {
  const row = file.orm.select().from(t.fields).where(eq(t.fields.id, id)).get();
  if (!row) return;
  const field = fieldOf(row);
  if (!hasColumn(field)) file.db.exec(`DROP TABLE IF EXISTS ${sqlName(linkTableName(field))}`);
  else {
    const columns = isFolded(field) ? [id, keyName(id)] : [id];
    dropWords(file, field.tableId);
    dropIndexesOf(file, field.tableId, columns);
    for (const c of columns) file.db.exec(`ALTER TABLE ${sqlName(field.tableId)} DROP COLUMN ${sqlName(c)}`);
  }
  file.orm.delete(t.fields).where(eq(t.fields.id, id)).run();
  file.db.prepare("DELETE FROM sys_counters WHERE field_id = ?").run(id);
  file.db.prepare("DELETE FROM sys_old_slugs WHERE field_id = ?").run(id);
  nextNumber(file, "schema_version");
}

/** For good, with its records and all that hangs on them. Rules that name it must be gone before. */
export function dropTable(file: PortalFile, id: string): void {
  dropWords(file, id);
  for (const row of file.orm.select().from(t.fields).where(eq(t.fields.tableId, id)).all()) {
    const field = fieldOf(row);
    if (!hasColumn(field)) file.db.exec(`DROP TABLE IF EXISTS ${sqlName(linkTableName(field))}`);
    file.db.prepare("DELETE FROM sys_counters WHERE field_id = ?").run(field.id);
    file.db.prepare("DELETE FROM sys_old_slugs WHERE field_id = ?").run(field.id);
  }
  file.orm.delete(t.fields).where(eq(t.fields.tableId, id)).run();
  file.orm.delete(t.oldAddresses).where(eq(t.oldAddresses.tableId, id)).run();
  file.orm.delete(t.removed).where(eq(t.removed.tableId, id)).run();
  file.orm.delete(t.views).where(eq(t.views.tableId, id)).run();
  file.orm.delete(t.tables).where(eq(t.tables.id, id)).run();
  file.db.exec(`DROP TABLE ${sqlName(id)}`);
  nextNumber(file, "schema_version");
}
