/** All of it or nothing. The wrapper that better-sqlite3 makes for a transaction costs more than a small one: made once a file. */
import type Database from "better-sqlite3";

const runners = new WeakMap<Database.Database, (act: () => unknown) => unknown>();

export function transact<T>(file: { readonly db: Database.Database }, act: () => T): T {
  let run = runners.get(file.db);
  if (!run) runners.set(file.db, (run = file.db.transaction((inner: () => unknown) => inner())));
  return run(act) as T;
}
