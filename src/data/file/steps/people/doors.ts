/** What people come in by beside a password: codes, second factors and passkeys, recovery codes; which doors are open. How far a session is in. */
export const FACTORS = `CREATE TABLE sys_factors (id TEXT PRIMARY KEY, person_id TEXT NOT NULL, kind TEXT NOT NULL, name TEXT NOT NULL, secret TEXT NOT NULL, counter INTEGER NOT NULL, host TEXT, confirmed_at INTEGER, made_at INTEGER NOT NULL, used_at INTEGER) STRICT;
   CREATE INDEX sys_factors_person ON sys_factors (person_id, kind);
   CREATE TABLE sys_recovery (person_id TEXT NOT NULL, hash TEXT NOT NULL, PRIMARY KEY (person_id, hash)) STRICT;
   CREATE TABLE sys_flows (hash TEXT PRIMARY KEY, kind TEXT NOT NULL, body TEXT NOT NULL, expires_at INTEGER NOT NULL) STRICT;`;

export const DOORS = `${FACTORS}
   CREATE TABLE sys_settings (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
   CREATE TABLE sys_codes (person_id TEXT NOT NULL, purpose TEXT NOT NULL, version INTEGER NOT NULL, expires_at INTEGER NOT NULL, tries INTEGER NOT NULL, used_at INTEGER, PRIMARY KEY (person_id, purpose)) STRICT;
   ALTER TABLE sys_sessions ADD COLUMN step TEXT NOT NULL DEFAULT 'in';
   ALTER TABLE sys_messages ADD COLUMN channel TEXT NOT NULL DEFAULT 'mail';`;

export const STAFF_DOORS = `${FACTORS}
   ALTER TABLE staff_sessions ADD COLUMN step TEXT NOT NULL DEFAULT 'in';
   ALTER TABLE staff ADD COLUMN role TEXT NOT NULL DEFAULT 'owner';
   ALTER TABLE staff ADD COLUMN status TEXT NOT NULL DEFAULT 'active';
   CREATE TABLE staff_invitations (hash TEXT PRIMARY KEY, staff_id TEXT NOT NULL UNIQUE, expires_at INTEGER NOT NULL) STRICT;`;
