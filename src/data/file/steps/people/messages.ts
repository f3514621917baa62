/** The outbox: every message as it is rendered, to whom, why, and how it went. Templates where the owner has changed them; how a session began. */
export const MESSAGES = `CREATE TABLE sys_messages (id TEXT PRIMARY KEY, occasion TEXT NOT NULL, batch TEXT, person_id TEXT, email TEXT NOT NULL, subject TEXT NOT NULL, body TEXT NOT NULL, link_id TEXT, link_version INTEGER, state TEXT NOT NULL, tries INTEGER NOT NULL DEFAULT 0, error TEXT, made_at INTEGER NOT NULL, made_by TEXT NOT NULL, sent_at INTEGER) STRICT;
   CREATE INDEX sys_messages_at ON sys_messages (made_at, id);
   CREATE INDEX sys_messages_person ON sys_messages (person_id, made_at);
   CREATE TABLE sys_templates (occasion TEXT PRIMARY KEY, subject TEXT NOT NULL, body TEXT NOT NULL, changed_at INTEGER NOT NULL) STRICT;
   ALTER TABLE sys_sessions ADD COLUMN via TEXT NOT NULL DEFAULT 'password';`;
