/** Wrong codes of the second factor in a row, of each person: kept until a right one comes, however long that takes. */
export const SECOND_TRIES =
  "CREATE TABLE sys_second_tries (person_id TEXT PRIMARY KEY, failures INTEGER NOT NULL, at INTEGER NOT NULL) STRICT;";
