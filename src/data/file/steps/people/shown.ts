/** People of the agency can be marked as shown to clients: a field of the system. New portals are made with it. */
import type Database from "better-sqlite3";

export function shown(db: Database.Database): void {
  const has = (sql: string): boolean => db.prepare(sql).get() !== undefined;
  if (!has("SELECT 1 FROM sys_tables WHERE id = 't_people'") || has("SELECT 1 FROM sys_fields WHERE id = 'f_person_shown'")) return;
  const slug = has("SELECT 1 FROM sys_fields WHERE table_id = 't_people' AND slug = 'shown-to-clients'")
    ? "shown-to-clients-1"
    : "shown-to-clients";
  db.exec('ALTER TABLE t_people ADD COLUMN "f_person_shown" INTEGER');
  db.prepare(
    `INSERT INTO sys_fields (id, table_id, slug, name, type, options, system, position)
     SELECT 'f_person_shown', 't_people', ?, 'Shown to clients', 'yes-no', '{}', 1, max(position) + 1 FROM sys_fields WHERE table_id = 't_people'`,
  ).run(slug);
}
