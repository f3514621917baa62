/** Tables and fields that are put away, what an import did, numbers in order, old addresses of records; staff are told apart in rows. */
import type Database from "better-sqlite3";

export function shaping(db: Database.Database): void {
  db.exec(`ALTER TABLE sys_tables ADD COLUMN about TEXT NOT NULL DEFAULT '';
   ALTER TABLE sys_tables ADD COLUMN away INTEGER;
   ALTER TABLE sys_fields ADD COLUMN away INTEGER;
   CREATE TABLE sys_import_rows (import_id TEXT NOT NULL, record_id TEXT NOT NULL, added INTEGER NOT NULL, version INTEGER NOT NULL, "before" TEXT, PRIMARY KEY (import_id, record_id)) STRICT, WITHOUT ROWID;
   ALTER TABLE sys_imports ADD COLUMN made TEXT;
   ALTER TABLE sys_imports ADD COLUMN done_at TEXT;
   UPDATE sys_imports SET state = 'given up' WHERE state NOT IN ('done', 'given up');
   CREATE TABLE sys_counters (field_id TEXT NOT NULL, company_id TEXT NOT NULL, n INTEGER NOT NULL, PRIMARY KEY (field_id, company_id)) STRICT, WITHOUT ROWID;
   CREATE TABLE sys_old_slugs (field_id TEXT NOT NULL, company_id TEXT NOT NULL, slug TEXT NOT NULL, record_id TEXT NOT NULL, PRIMARY KEY (field_id, company_id, slug)) STRICT, WITHOUT ROWID;
   ALTER TABLE sys_removed ADD COLUMN label TEXT NOT NULL DEFAULT '';
   ALTER TABLE sys_removed ADD COLUMN removed_by TEXT NOT NULL DEFAULT '';
   ALTER TABLE sys_removed ADD COLUMN act_id INTEGER;
   UPDATE sys_fields SET type = 'email' WHERE id = 'f_person_email';
   CREATE INDEX sys_removed_at ON sys_removed (at);`);
  // An id alone is a person's of this portal from now on.
  for (const table of db.prepare("SELECT id FROM sys_tables").pluck().all() as string[])
    for (const column of db
      .prepare("SELECT name FROM pragma_table_info(?) WHERE name IN ('created_by', 'changed_by')")
      .pluck()
      .all(table) as string[])
      db.exec(
        `UPDATE "${table}" SET ${column} = 'staff:' || ${column} WHERE length(${column}) = 36 AND ${column} NOT IN (SELECT id FROM t_people)`,
      );
}
