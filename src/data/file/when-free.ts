/** Nobody waits for a lock on the thread that answers requests: whoever is about to write waits here, beside the other requests. */
import type Database from "better-sqlite3";

/** Milliseconds: the longest writer there is, an import of 50 MB into a table, is done by then. */
const PATIENCE = 20_000;
const LONGEST_PAUSE = 100;

export class Busy extends Error {
  constructor() {
    super("The portal is being written to by something that takes long. Nothing was changed; try again in a moment.");
  }
}

/** Whether an error says that somebody else has the file. */
export const isBusy = (e: unknown): boolean => String((e as { code?: unknown } | null)?.code ?? "").startsWith("SQLITE_BUSY");

/** Waits until the file can be written to. @throws Busy where that takes too long. */
export async function whenFree(file: { readonly db: Database.Database; readonly readOnly?: boolean }): Promise<void> {
  if (file.readOnly || file.db.inTransaction) return;
  for (let pause = 2, waited = 0; ; pause = Math.min(LONGEST_PAUSE, pause * 2), waited += pause) {
    try {
      file.db.exec("BEGIN IMMEDIATE; ROLLBACK");
      return;
    } catch (e) {
      if (!isBusy(e)) throw e;
      if (waited >= PATIENCE) throw new Busy();
    }
    await new Promise((next) => setTimeout(next, pause));
  }
}
