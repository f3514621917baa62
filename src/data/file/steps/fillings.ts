/** Forms that were sent, by the id that each filling-in has: pressed twice, or sent again, it adds once. */
export const FILLINGS = "CREATE TABLE sys_fillings (key TEXT PRIMARY KEY, record_id TEXT NOT NULL, at INTEGER NOT NULL) STRICT";
