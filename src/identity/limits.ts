/** Limits on guessing, kept in the database: after a few failures each further one costs a longer wait. */
import { eq } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import type { attempts as controlAttempts } from "@/data/file/control-tables";
import { attempts as portalAttempts } from "@/data/file/portal-tables";

type Table = typeof portalAttempts | typeof controlAttempts;

const FREE_FAILURES = 5;
const LONGEST_WAIT = 15 * 60_000;
const FORGET_AFTER = 24 * 3600_000;

/** Milliseconds still to wait before the next try under this key; 0 is none. */
export function waitFor(orm: BetterSQLite3Database, key: string, now: number, table: Table = portalAttempts): number {
  const row = orm.select().from(table).where(eq(table.key, key)).get();
  if (!row || row.failures < FREE_FAILURES || now - row.lastAt > FORGET_AFTER) return 0;
  return Math.max(0, row.lastAt + Math.min(LONGEST_WAIT, 2 ** (row.failures - FREE_FAILURES) * 1000) - now);
}

/** Counted before the password is checked, so that tries made at the same moment all count. */
export function countTry(orm: BetterSQLite3Database, key: string, now: number, table: Table = portalAttempts): void {
  orm.transaction((tx) => {
    const row = tx.select().from(table).where(eq(table.key, key)).get();
    const failures = row && now - row.lastAt <= FORGET_AFTER ? row.failures + 1 : 1;
    tx.insert(table)
      .values({ key, failures, lastAt: now })
      .onConflictDoUpdate({ target: table.key, set: { failures, lastAt: now } })
      .run();
  });
}

export function forgetTries(orm: BetterSQLite3Database, key: string, table: Table = portalAttempts): void {
  orm.delete(table).where(eq(table.key, key)).run();
}
