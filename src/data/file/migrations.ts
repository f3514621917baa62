/** Numbered steps; a file's `user_version` says how many it has had. A step is never edited once it has shipped: add another. */
import type Database from "better-sqlite3";

export const CONTROL: readonly string[] = [
  `CREATE TABLE staff (id TEXT PRIMARY KEY, email TEXT NOT NULL UNIQUE, name TEXT NOT NULL, hash TEXT NOT NULL, created_at TEXT NOT NULL) STRICT;
   CREATE TABLE staff_sessions (hash TEXT PRIMARY KEY, staff_id TEXT NOT NULL REFERENCES staff(id), created_at INTEGER NOT NULL, expires_at INTEGER NOT NULL) STRICT;
   CREATE TABLE portals (slug TEXT PRIMARY KEY, name TEXT NOT NULL, created_at TEXT NOT NULL) STRICT;
   CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
   CREATE TABLE attempts (key TEXT PRIMARY KEY, failures INTEGER NOT NULL, last_at INTEGER NOT NULL) STRICT;`,
];

export const PORTAL: readonly string[] = [
  `CREATE TABLE sys_meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
   CREATE TABLE sys_tables (id TEXT PRIMARY KEY, slug TEXT NOT NULL UNIQUE, name TEXT NOT NULL, singular TEXT NOT NULL, kind TEXT NOT NULL, label_field TEXT NOT NULL, position INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_fields (id TEXT PRIMARY KEY, table_id TEXT NOT NULL REFERENCES sys_tables(id), slug TEXT NOT NULL, name TEXT NOT NULL, type TEXT NOT NULL, options TEXT NOT NULL, system INTEGER NOT NULL, position INTEGER NOT NULL, UNIQUE (table_id, slug)) STRICT;
   CREATE TABLE sys_definitions (version INTEGER PRIMARY KEY, body TEXT NOT NULL, published_at TEXT NOT NULL, published_by TEXT NOT NULL) STRICT;
   CREATE TABLE sys_draft (id INTEGER PRIMARY KEY CHECK (id = 1), body TEXT NOT NULL, revision INTEGER NOT NULL, changed_at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_memberships (id TEXT PRIMARY KEY, person_id TEXT NOT NULL, company_id TEXT, roles TEXT NOT NULL, created_at TEXT NOT NULL, UNIQUE (person_id, company_id)) STRICT;
   CREATE INDEX sys_memberships_company ON sys_memberships (company_id, person_id);
   CREATE TABLE sys_credentials (person_id TEXT PRIMARY KEY, hash TEXT NOT NULL, temporary INTEGER NOT NULL, changed_at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_sessions (hash TEXT PRIMARY KEY, person_id TEXT NOT NULL, membership_id TEXT, created_at INTEGER NOT NULL, seen_at INTEGER NOT NULL, expires_at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_sessions_person ON sys_sessions (person_id);
   CREATE TABLE sys_links (id TEXT PRIMARY KEY, person_id TEXT NOT NULL, purpose TEXT NOT NULL, version INTEGER NOT NULL, expires_at INTEGER NOT NULL, used_at INTEGER, UNIQUE (person_id, purpose)) STRICT;
   CREATE TABLE sys_attempts (key TEXT PRIMARY KEY, failures INTEGER NOT NULL, last_at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_subscriptions (company_id TEXT PRIMARY KEY, plan TEXT NOT NULL, state TEXT NOT NULL, until TEXT) STRICT;
   CREATE TABLE sys_audit (id INTEGER PRIMARY KEY, at TEXT NOT NULL, actor TEXT NOT NULL, act TEXT NOT NULL, table_id TEXT, record_id TEXT, detail TEXT) STRICT;
   CREATE TABLE sys_removed (record_id TEXT PRIMARY KEY, table_id TEXT NOT NULL, body TEXT NOT NULL, at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_imports (id TEXT PRIMARY KEY, file_name TEXT NOT NULL, state TEXT NOT NULL, plan TEXT, total INTEGER NOT NULL, good INTEGER NOT NULL, bad INTEGER NOT NULL, message TEXT, table_id TEXT, created_at TEXT NOT NULL) STRICT;`,
  `ALTER TABLE sys_definitions ADD COLUMN note TEXT NOT NULL DEFAULT '';
   CREATE TABLE sys_draft_steps (n INTEGER PRIMARY KEY, body TEXT NOT NULL, what TEXT NOT NULL, at TEXT NOT NULL) STRICT;
   ALTER TABLE sys_draft ADD COLUMN step INTEGER NOT NULL DEFAULT 0;`,
];

export function migrate(db: Database.Database, steps: readonly string[]): void {
  const have = db.pragma("user_version", { simple: true }) as number;
  if (have > steps.length)
    throw new Error(`This file was made by a newer Elkhorn (step ${have} of ${steps.length} known). Update Elkhorn to open it.`);
  for (let i = have; i < steps.length; i++) {
    db.transaction(() => {
      db.exec(steps[i]!);
      db.pragma(`user_version = ${i + 1}`);
    })();
  }
}
