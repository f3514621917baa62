/** Who asks to join by themselves, and terms that were agreed to: by version, with when and the hash of what they said. */
export const JOINS = `CREATE TABLE sys_joins (id TEXT PRIMARY KEY, email TEXT NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL, company TEXT, "values" TEXT NOT NULL, wrote TEXT NOT NULL, terms INTEGER, state TEXT NOT NULL, person_id TEXT, made_at INTEGER NOT NULL, expires_at INTEGER NOT NULL, confirmed_at INTEGER, decided_at INTEGER, decided_by TEXT) STRICT;
   CREATE INDEX sys_joins_state ON sys_joins (state, made_at);
   CREATE INDEX sys_joins_person ON sys_joins (person_id);
   CREATE TABLE sys_terms (version INTEGER PRIMARY KEY, body TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_agreements (person_id TEXT NOT NULL, version INTEGER NOT NULL, hash TEXT NOT NULL, at INTEGER NOT NULL, PRIMARY KEY (person_id, version)) STRICT;`;
