/** Who accepted what, when, and in which version: written by the system, changed by nobody. */
export const ACCEPTANCES = `CREATE TABLE sys_acceptances (id TEXT PRIMARY KEY, table_id TEXT NOT NULL, record_id TEXT NOT NULL, company_id TEXT, act TEXT NOT NULL, author_kind TEXT NOT NULL, author_id TEXT, author TEXT NOT NULL, hash TEXT NOT NULL, body TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_acceptances_record ON sys_acceptances (table_id, record_id, at);`;
