/** Where other programs want to be told of events, and each telling. Sends of one record go out in their order, which is their number. */
export const WEBHOOKS = `CREATE TABLE sys_webhooks (id TEXT PRIMARY KEY, name TEXT NOT NULL, url TEXT NOT NULL, secret TEXT NOT NULL, former TEXT, former_until INTEGER, kinds TEXT NOT NULL, table_id TEXT, filter TEXT, role_id TEXT NOT NULL, company_id TEXT, made_at INTEGER NOT NULL, paused_at INTEGER, paused_why TEXT, failing_since INTEGER) STRICT;
   CREATE TABLE sys_webhook_sends (n INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, webhook_id TEXT NOT NULL REFERENCES sys_webhooks(id) ON DELETE CASCADE, event_id INTEGER, kind TEXT NOT NULL, record_id TEXT, body TEXT, state TEXT NOT NULL, tries INTEGER NOT NULL DEFAULT 0, next_at INTEGER, made_at INTEGER NOT NULL, ended_at INTEGER, status INTEGER, answer TEXT) STRICT;
   CREATE INDEX sys_webhook_sends_due ON sys_webhook_sends (next_at) WHERE state = 'waiting';
   CREATE INDEX sys_webhook_sends_record ON sys_webhook_sends (webhook_id, record_id, n) WHERE state = 'waiting';
   CREATE INDEX sys_webhook_sends_list ON sys_webhook_sends (webhook_id, n);`;
