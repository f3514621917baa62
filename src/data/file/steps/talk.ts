/** Messages of conversations about records. Whose the record was when one was written stands beside it. */
export const TALK = `CREATE TABLE sys_talk (id TEXT PRIMARY KEY, table_id TEXT NOT NULL, record_id TEXT NOT NULL, company_id TEXT, inside INTEGER NOT NULL, author_kind TEXT NOT NULL, author_id TEXT, body TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_talk_record ON sys_talk (table_id, record_id, id);`;
