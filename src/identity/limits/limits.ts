/**
 * Limits on guessing, kept in the database: after a few failures each further one costs a longer wait. Counted for an account as it is
 * tried from one address, for the address over all accounts, and for the account over all addresses. Only the first two grow long: nobody
 * keeps somebody else out for longer than a moment. A device that its person was in from before has a count of its own.
 */
import { createHash } from "node:crypto";
import { and, desc, eq, lt, lte, or, sql } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import type { attempts as controlAttempts } from "@/data/file/control-tables";
import { once } from "@/data/file/per-process";
import { attempts as portalAttempts } from "@/data/file/portal-tables";

export type TriesTable = typeof portalAttempts | typeof controlAttempts;

/** Where an attempt comes from. `device` is set where this account signed in from that device before. */
export interface From {
  readonly address: string;
  readonly device: string | null;
}

interface Limit {
  /** What is counted; stored as a hash, so that the table is no list of who was tried from where. */
  readonly key: string;
  readonly free: number;
  /** Milliseconds. */
  readonly longest: number;
}

const MINUTE = 60_000;
const FORGET_AFTER = 24 * 60 * MINUTE;
/**
 * Rows that the table may have: beyond, those with the fewest failures go, of these the oldest. What strangers make up must not fill a disk, and
 * names that they make up, each tried once, must not push out what was counted of a name that is tried again and again.
 */
const MOST_ROWS = 20_000;

/** Of one account tried from one place; with a known device nothing else is asked. */
export function limitsOf(account: string, from: From): Limit[] {
  // Behind a proxy that was not named all look alike: then nobody waits for long for what another did.
  const longest = from.address === "unclear" || from.address === "unknown" ? MINUTE / 2 : 15 * MINUTE;
  if (from.device) return [{ key: `${account} device ${from.device}`, free: 5, longest }];
  return [
    { key: `${account} from ${from.address}`, free: 5, longest },
    { key: `from ${from.address}`, free: 40, longest },
    ...widerNetworks(from.address).map(({ net, free }) => ({ key: `from ${net}`, free, longest })),
    // NIST SP 800-63B-4 section 3.2.2 asks for no more than 100 failures in a row; a wait of half a minute leaves guessing hopeless, and
    // its person is not kept out by strangers.
    { key: account, free: 100, longest: MINUTE / 2 },
  ];
}

/**
 * Of IPv6 the networks that providers hand out whole (RFC 6177: between /48 and /64): whoever has one has 256 or 65,536 places to try from. More
 * people may stand behind them, so more is free.
 */
function widerNetworks(address: string): { net: string; free: number }[] {
  const of = /^([0-9a-f]{1,4}):([0-9a-f]{1,4}):([0-9a-f]{1,4}):([0-9a-f]{1,4})::\/64$/i.exec(address);
  if (!of) return [];
  const [, a, b, c, d] = of as unknown as [string, string, string, string, string];
  const upper = (Number.parseInt(d, 16) & 0xff00).toString(16);
  return [
    { net: `${a}:${b}:${c}:${upper}::/56`, free: 80 },
    { net: `${a}:${b}:${c}::/48`, free: 160 },
  ];
}

/** Limits for what signing in begins and keeps for a while, such as challenges: nobody fills that up from one address. */
export const beginLimits = (from: From): Limit[] => [{ key: `begin from ${from.address}`, free: 100, longest: MINUTE }];

/** The limit on one thing that anybody may try, such as the code of the set-up. */
export const limitOn = (key: string): Limit[] => [{ key, free: 5, longest: 15 * MINUTE }];

const stored = (key: string): string => createHash("sha256").update(key).digest("base64url").slice(0, 22);

/** Milliseconds still to wait before the next try; 0 is none. */
export function waitFor(orm: BetterSQLite3Database, limits: readonly Limit[], now: number, table: TriesTable = portalAttempts): number {
  const waits = limits.map(({ key, free, longest }) => {
    const row = orm
      .select()
      .from(table)
      .where(eq(table.key, stored(key)))
      .get();
    if (!row || row.failures < free || now - row.lastAt > FORGET_AFTER) return 0;
    return Math.max(0, row.lastAt + Math.min(longest, 2 ** Math.min(30, row.failures - free) * 1000) - now);
  });
  return Math.max(0, ...waits);
}

/** Counted before the password is checked, so that tries made at the same moment all count. */
export function countTry(orm: BetterSQLite3Database, limits: readonly Limit[], now: number, table: TriesTable = portalAttempts): void {
  orm.transaction((tx) => {
    for (const limit of limits) {
      const key = stored(limit.key);
      const row = tx.select().from(table).where(eq(table.key, key)).get();
      const failures = row && now - row.lastAt <= FORGET_AFTER ? row.failures + 1 : 1;
      tx.insert(table)
        .values({ key, failures, lastAt: now })
        .onConflictDoUpdate({ target: table.key, set: { failures, lastAt: now } })
        .run();
    }
    if (counted.n++ % 100 === 0) sweepTries(tx, now, table);
  });
}
const counted = once("tries counted", () => ({ n: 0 }));

/** It was right: what was counted of this account is forgotten, and the address has one failure less. */
export function forgetTries(orm: BetterSQLite3Database, limits: readonly Limit[], table: TriesTable = portalAttempts): void {
  for (const { key } of limits)
    if (key.startsWith("from "))
      orm
        .update(table)
        .set({ failures: sql`max(0, ${table.failures} - 1)` })
        .where(eq(table.key, stored(key)))
        .run();
    else
      orm
        .delete(table)
        .where(eq(table.key, stored(key)))
        .run();
}

/** Removes counts that are over, and the oldest beyond what the table may hold. */
export function sweepTries(orm: Pick<BetterSQLite3Database, "delete" | "select">, now: number, table: TriesTable = portalAttempts): void {
  orm
    .delete(table)
    .where(lt(table.lastAt, now - FORGET_AFTER))
    .run();
  const edge = orm
    .select({ failures: table.failures, at: table.lastAt })
    .from(table)
    .orderBy(desc(table.failures), desc(table.lastAt))
    .limit(1)
    .offset(MOST_ROWS)
    .get();
  if (edge)
    orm
      .delete(table)
      .where(or(lt(table.failures, edge.failures), and(eq(table.failures, edge.failures), lte(table.lastAt, edge.at))))
      .run();
}
