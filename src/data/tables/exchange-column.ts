/**
 * A field's column, or its table of links, made anew for another type or another target. It is empty then. SQLite writes every row of a table
 * anew where a column is dropped; one that only has another name costs nothing, and goes at night.
 */

import { isRelation, pointsToOne } from "@/core/schema/fields/natures";
import type { Field } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { dropWords } from "./drop";
import { nextNumber } from "./meta";
import { columnType, hasColumn, isFolded, keyName, linkTableName } from "./physical";

/** In a table of up to so many records a column is dropped at once. */
export const FEW = 5_000;
const GONE = "gone_";

/** Drops columns that were only renamed, unless the table has more than `most` records; 0 drops them always. */
export function letColumnsGo(file: PortalFile, table: string, most: number): number {
  const { db } = file;
  const gone = (db.prepare("SELECT name FROM pragma_table_info(?)").pluck().all(table) as string[]).filter((c) => c.startsWith(GONE));
  if (gone.length === 0) return 0;
  if (
    most > 0 &&
    (db
      .prepare(`SELECT count(*) FROM (SELECT 1 FROM ${sqlName(table)} LIMIT ${most + 1})`)
      .pluck()
      .get() as number) > most
  )
    return 0;
  for (const c of gone) db.exec(`ALTER TABLE ${sqlName(table)} DROP COLUMN ${sqlName(c)}`);
  return gone.length;
}

/** At night, when nobody waits for it. Returns how many went. */
export const dropGoneColumns = (file: PortalFile): number =>
  (file.db.prepare("SELECT id FROM sys_tables").pluck().all() as string[]).reduce(
    (n, table) => n + transact(file, () => letColumnsGo(file, table, 0)),
    0,
  );

/**
 * A column that an earlier type left, and that holds nothing, takes the name: who tries types to and fro does not widen every row, and SQLite
 * looks through the whole table for each column that is added. False where there is none.
 */
function takeEmpty({ db }: PortalFile, table: string, type: string, name: string, but: Old | null): boolean {
  const taken = [...db.prepare('SELECT "from" FROM pragma_foreign_key_list(?)').pluck().all(table), but?.column, but?.key];
  const left = db
    .prepare(`SELECT name FROM pragma_table_info(?) WHERE type = ? AND name LIKE '${GONE}%'`)
    .pluck()
    .all(table, type) as string[];
  const empty = left.find(
    (c) => !taken.includes(c) && !db.prepare(`SELECT 1 FROM ${sqlName(table)} WHERE ${sqlName(c)} IS NOT NULL LIMIT 1`).get(),
  );
  if (empty) db.exec(`ALTER TABLE ${sqlName(table)} RENAME COLUMN ${sqlName(empty)} TO ${sqlName(name)}`);
  return empty !== undefined;
}

/** Where values stand that are to be turned, and their keys where they had any. */
export interface Old {
  readonly column: string;
  readonly key: string | null;
}

/**
 * STRICT columns keep their type for good: the new one takes the place and the name of the old. With `keep` what the old one holds stands
 * under the names that are returned, until `letColumnsGo`; null where that was a table of links.
 */
export function exchangeColumn(file: PortalFile, before: Field, after: Field, keep = false): Old | null {
  const { db } = file;
  const table = sqlName(before.tableId);
  const indexes = db
    .prepare("SELECT name FROM sqlite_master WHERE type = 'index' AND tbl_name = ? AND sql IS NOT NULL")
    .pluck()
    .all(before.tableId) as string[];
  const own = (name: string): boolean =>
    (db.prepare("SELECT name FROM pragma_index_info(?)").pluck().all(name) as (string | null)[]).some(
      (c) => c === before.id || c === keyName(before.id),
    );
  const rebuilt = indexes
    .filter(own)
    .map((name) => ({ name, sql: db.prepare("SELECT sql FROM sqlite_master WHERE name = ?").pluck().get(name) as string }));
  dropWords(file, before.tableId);
  for (const i of rebuilt) db.exec(`DROP INDEX ${sqlName(i.name)}`);
  let old: Old | null = null;
  if (hasColumn(before) && keep) {
    const away = (column: string): string => {
      const name = `${GONE}${nextNumber(file, "gone")}`;
      db.exec(`ALTER TABLE ${table} RENAME COLUMN ${sqlName(column)} TO ${sqlName(name)}`);
      return name;
    };
    old = { column: away(before.id), key: isFolded(before) ? away(keyName(before.id)) : null };
  } else if (hasColumn(before)) {
    db.exec(`ALTER TABLE ${table} DROP COLUMN ${sqlName(before.id)}`);
    if (isFolded(before)) db.exec(`ALTER TABLE ${table} DROP COLUMN ${sqlName(keyName(before.id))}`);
  } else db.exec(`DROP TABLE ${sqlName(linkTableName(before))}`);
  if (!hasColumn(after)) {
    const link = linkTableName(after);
    db.exec(`CREATE TABLE ${sqlName(link)} (record_id TEXT NOT NULL, target_id TEXT NOT NULL, PRIMARY KEY (record_id, target_id)) STRICT, WITHOUT ROWID;
      CREATE INDEX ${sqlName(`ix_${link}`)} ON ${sqlName(link)} (target_id, record_id)`);
    return old;
  }
  const points = pointsToOne(after) ? ` REFERENCES ${sqlName(after.options.target)} (id)` : "";
  if (points || !takeEmpty(file, before.tableId, columnType(after), after.id, old))
    db.exec(`ALTER TABLE ${table} ADD COLUMN ${sqlName(after.id)} ${columnType(after)}${points}`);
  if (isFolded(after) && !takeEmpty(file, before.tableId, "TEXT", keyName(after.id), old))
    db.exec(`ALTER TABLE ${table} ADD COLUMN ${sqlName(keyName(after.id))} TEXT`);
  if (isRelation(after)) db.exec(`CREATE INDEX ${sqlName(`ix_${after.id}`)} ON ${table} (${sqlName(after.id)}, company_id)`);
  // The indexes of the name stay; those of sorting and policies are made anew by use and by publishing.
  for (const i of rebuilt) if (isFolded(after) === isFolded(before) && /^ix_t_\d+_(home|label)$/.test(i.name)) db.exec(i.sql);
  return old;
}
