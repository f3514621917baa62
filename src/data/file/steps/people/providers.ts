/** Providers of identity that the agency has registered, and whose account there is whose here. */
export const PROVIDERS = `CREATE TABLE sys_providers (id TEXT PRIMARY KEY, kind TEXT NOT NULL, name TEXT NOT NULL, domains TEXT NOT NULL, settings TEXT NOT NULL, secret TEXT, made_at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_outside (provider_id TEXT NOT NULL, subject TEXT NOT NULL, person_id TEXT NOT NULL, made_at INTEGER NOT NULL, PRIMARY KEY (provider_id, subject)) STRICT;
   CREATE INDEX sys_outside_person ON sys_outside (person_id);`;
