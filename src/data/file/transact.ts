/** All of it or nothing. The wrapper that better-sqlite3 makes for a transaction costs more than a small one: made once a file. */
import type Database from "better-sqlite3";
import type { Meta } from "./meta";

const runners = new WeakMap<Database.Database, (act: () => unknown) => unknown>();

/** Does an act whole or not at all; within another transaction it is part of that. @throws What the act throws, with nothing of it kept. */
export function transact<T>(file: { readonly db: Database.Database; readonly meta: Meta }, act: () => T): T {
  let run = runners.get(file.db);
  if (!run) runners.set(file.db, (run = file.db.transaction((inner: () => unknown) => inner())));
  try {
    return run(act) as T;
  } catch (e) {
    file.meta.look(); // what was written of the facts is undone
    throw e;
  }
}
