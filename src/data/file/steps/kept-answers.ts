/** Answers to writes of programs, by a hash of who sent them and of the key that came with them. */
export const KEPT_ANSWERS = `CREATE TABLE sys_kept_answers (name TEXT PRIMARY KEY, asked TEXT NOT NULL, answer TEXT NOT NULL, at INTEGER NOT NULL) STRICT, WITHOUT ROWID;`;
