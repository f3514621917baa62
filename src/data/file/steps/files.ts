/** Files of records: what each is, and whose. Their contents are kept elsewhere, by hash. */
export const FILES = `CREATE TABLE sys_files (id TEXT PRIMARY KEY, field_id TEXT NOT NULL, record_id TEXT, name TEXT NOT NULL, bytes INTEGER NOT NULL, hash TEXT, type TEXT, width INTEGER, height INTEGER, sizes TEXT, made_at TEXT NOT NULL, made_by TEXT NOT NULL) STRICT;
   CREATE INDEX sys_files_record ON sys_files (record_id);
   CREATE INDEX sys_files_hash ON sys_files (hash);`;
