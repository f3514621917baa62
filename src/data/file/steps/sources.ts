/** Other systems whose data comes in, what of each is read, every reading, and which records came by it. */
export const SOURCES = `CREATE TABLE sys_sources (id TEXT PRIMARY KEY, name TEXT NOT NULL, kind TEXT NOT NULL, settings TEXT NOT NULL, secret TEXT NOT NULL, made_at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_source_feeds (id TEXT PRIMARY KEY, source_id TEXT NOT NULL REFERENCES sys_sources(id) ON DELETE CASCADE, object TEXT NOT NULL, name TEXT NOT NULL, import_id TEXT, table_id TEXT, header TEXT, plan TEXT, every INTEGER, gone TEXT NOT NULL DEFAULT 'leave', next_at INTEGER, paused_at INTEGER, paused_why TEXT, failing_since INTEGER, run INTEGER NOT NULL DEFAULT 0) STRICT;
   CREATE TABLE sys_source_runs (n INTEGER PRIMARY KEY, feed_id TEXT NOT NULL REFERENCES sys_source_feeds(id) ON DELETE CASCADE, at INTEGER NOT NULL, ended_at INTEGER, state TEXT NOT NULL, added INTEGER NOT NULL DEFAULT 0, changed INTEGER NOT NULL DEFAULT 0, same INTEGER NOT NULL DEFAULT 0, bad INTEGER NOT NULL DEFAULT 0, removed INTEGER NOT NULL DEFAULT 0, message TEXT, import_id TEXT) STRICT;
   CREATE INDEX sys_source_runs_feed ON sys_source_runs (feed_id, n);
   CREATE TABLE sys_source_records (feed_id TEXT NOT NULL REFERENCES sys_source_feeds(id) ON DELETE CASCADE, record_id TEXT NOT NULL, run INTEGER NOT NULL, PRIMARY KEY (feed_id, record_id)) STRICT, WITHOUT ROWID;`;

/** What goes back to other systems: which fields, by which rule where both sides changed, each change that is on its way, and what was last read there. */
export const SOURCES_BACK = `ALTER TABLE sys_source_feeds ADD COLUMN own_key TEXT;
   ALTER TABLE sys_source_feeds ADD COLUMN mark TEXT;
   ALTER TABLE sys_source_feeds ADD COLUMN ways TEXT NOT NULL DEFAULT '{}';
   ALTER TABLE sys_source_feeds ADD COLUMN makes INTEGER NOT NULL DEFAULT 0;
   ALTER TABLE sys_source_feeds ADD COLUMN rule TEXT NOT NULL DEFAULT 'ask';
   ALTER TABLE sys_source_feeds ADD COLUMN only TEXT;
   ALTER TABLE sys_source_records ADD COLUMN own_key TEXT;
   ALTER TABLE sys_source_records ADD COLUMN seen TEXT;
   CREATE INDEX sys_source_records_key ON sys_source_records (feed_id, own_key) WHERE own_key IS NOT NULL;
   CREATE TABLE sys_source_sends (n INTEGER PRIMARY KEY, feed_id TEXT NOT NULL REFERENCES sys_source_feeds(id) ON DELETE CASCADE, record_id TEXT NOT NULL, event_id INTEGER NOT NULL, was TEXT NOT NULL, now TEXT NOT NULL, state TEXT NOT NULL DEFAULT 'waiting', tries INTEGER NOT NULL DEFAULT 0, next_at INTEGER NOT NULL, made_at INTEGER NOT NULL, ended_at INTEGER, message TEXT, ours TEXT, theirs TEXT, outcome TEXT) STRICT;
   CREATE INDEX sys_source_sends_open ON sys_source_sends (feed_id, record_id, n) WHERE state IN ('waiting', 'asked');
   CREATE INDEX sys_source_sends_record ON sys_source_sends (record_id, n);`;
