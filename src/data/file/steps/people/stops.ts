/** Addresses that mail cannot be brought to, or whose holders want none that they did not ask for. */
export const STOPS =
  "CREATE TABLE sys_stops (email_key TEXT PRIMARY KEY, kind TEXT NOT NULL, reason TEXT NOT NULL, at INTEGER NOT NULL) STRICT";
