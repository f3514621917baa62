/** How members of staff look at tables: which columns, how wide, in which order. */
export const VIEWS = `CREATE TABLE sys_views (id TEXT PRIMARY KEY, table_id TEXT NOT NULL, staff_id TEXT NOT NULL, name TEXT NOT NULL, body TEXT NOT NULL, at TEXT NOT NULL) STRICT;
   CREATE INDEX sys_views_table ON sys_views (table_id, staff_id);`;
