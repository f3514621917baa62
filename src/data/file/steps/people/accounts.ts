/**
 * What hangs on a person's way in beside their password: the day it ends, a name to sign in by, and when the page of a
 * link was first looked at, and by which browser it was asked for. A picture of people is a field like others.
 */
import type Database from "better-sqlite3";

const ACCOUNTS = `CREATE TABLE sys_accounts (person_id TEXT PRIMARY KEY, until TEXT, name TEXT, name_key TEXT UNIQUE) STRICT;
  ALTER TABLE sys_links ADD COLUMN opened_at INTEGER;
  ALTER TABLE sys_links ADD COLUMN asked TEXT;`;

export function accounts(db: Database.Database): void {
  db.exec(ACCOUNTS);
  const has = (sql: string, ...values: string[]): boolean => db.prepare(sql).get(...values) !== undefined;
  if (!has("SELECT 1 FROM sys_tables WHERE id = 't_people'") || has("SELECT 1 FROM sys_fields WHERE id = 'f_person_picture'")) return;
  const taken = (column: "slug" | "name", text: string): boolean =>
    has(`SELECT 1 FROM sys_fields WHERE table_id = 't_people' AND lower(${column}) = ?`, text.toLowerCase());
  const slug = taken("slug", "picture") ? "picture-1" : "picture";
  const name = taken("name", "Picture") ? "Picture of them" : "Picture";
  db.exec('ALTER TABLE t_people ADD COLUMN "f_person_picture" TEXT');
  db.prepare(
    `INSERT INTO sys_fields (id, table_id, slug, name, type, options, system, position)
     SELECT 'f_person_picture', 't_people', ?, ?, 'pictures', '{}', 0, max(position) + 1 FROM sys_fields WHERE table_id = 't_people'`,
  ).run(slug, name);
}
