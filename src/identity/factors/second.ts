/** The second factor: codes of an authenticator (TOTP, RFC 6238), and recovery codes for when that is lost. For people of portals and staff alike. */
import { createHash } from "node:crypto";
import { and, count, eq, isNotNull, isNull, lt } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import { Secret, TOTP } from "otpauth";
import { newId } from "@/data/file/ids";
import { factors, recovery } from "@/data/file/portal-tables";
import { newToken, seal, unseal } from "../secrets/secrets";
import type { Shelf } from "../secrets/shelf";

const PERIOD = 30;
const totp = (secret: string, label = "", issuer = ""): TOTP =>
  new TOTP({ secret: Secret.fromBase32(secret), algorithm: "SHA1", digits: 6, period: PERIOD, label, issuer });

const ofKind = (personId: string, kind: "totp" | "passkey") => and(eq(factors.personId, personId), eq(factors.kind, kind));

export interface Beginning {
  readonly id: string;
  /** Base32 (RFC 4648), to be typed where nothing can be scanned. */
  readonly secret: string;
  /** `otpauth://`, as authenticators read it. */
  readonly uri: string;
}

/** Counts for nothing until a code of it is given. One that was begun before and not finished is gone. */
export function beginTotp(shelf: Shelf, personId: string, said: { account: string; issuer: string }, now: number): Beginning {
  const secret = new Secret({ size: 20 }).base32;
  const id = newId();
  shelf.orm.transaction((tx) => {
    tx.delete(factors)
      .where(and(ofKind(personId, "totp"), isNull(factors.confirmedAt)))
      .run();
    const sealed = seal(shelf.id, "totp", secret);
    tx.insert(factors)
      .values({ id, personId, kind: "totp", name: "Authenticator", secret: sealed, counter: 0, host: null, confirmedAt: null, madeAt: now })
      .run();
  });
  return { id, secret, uri: totp(secret, said.account, said.issuer).toString() };
}

/** A step of time is used once (RFC 6238 section 5.2); clocks may be a step apart. */
function stepOf(shelf: Shelf, sealed: string, code: string, now: number): number | null {
  const delta = totp(unseal(shelf.id, "totp", sealed)).validate({ token: code.replace(/\s/g, ""), timestamp: now, window: 1 });
  return delta === null ? null : Math.floor(now / 1000 / PERIOD) + delta;
}

/** The recovery codes, shown this once; null where the code is not of that secret. It takes the place of the one before. */
export function confirmTotp(shelf: Shelf, personId: string, id: string, code: string, now: number): string[] | null {
  const own = and(eq(factors.id, id), ofKind(personId, "totp"), isNull(factors.confirmedAt));
  const row = shelf.orm.select().from(factors).where(own).get();
  const step = row && stepOf(shelf, row.secret, code, now);
  if (step === null || step === undefined) return null;
  return shelf.orm.transaction((tx) => {
    tx.delete(factors)
      .where(and(ofKind(personId, "totp"), isNotNull(factors.confirmedAt)))
      .run();
    tx.update(factors).set({ confirmedAt: now, counter: step, usedAt: now }).where(own).run();
    return freshRecovery(tx, personId);
  });
}

const CODES = 10;
const hashed = (code: string): string => createHash("sha256").update(code).digest("base64url");
const plain = (code: string): string => code.toLowerCase().replace(/[^a-z2-7]/g, "");

/** Ten of 80 bits; the ones before are gone. */
function freshRecovery(tx: Pick<BetterSQLite3Database, "delete" | "insert">, personId: string): string[] {
  const made = Array.from({ length: CODES }, () =>
    new Secret({ buffer: new Uint8Array(Buffer.from(newToken(), "base64url").subarray(0, 10)).buffer }).base32.toLowerCase(),
  );
  tx.delete(recovery).where(eq(recovery.personId, personId)).run();
  tx.insert(recovery)
    .values(made.map((c) => ({ personId, hash: hashed(c) })))
    .run();
  return made.map((c) => c.match(/.{4}/g)!.join("-"));
}

export interface SecondState {
  readonly since: number | null;
  readonly codesLeft: number;
}
/** Since when somebody has a second factor, null without, and how many recovery codes are left. */
export function secondState(shelf: Shelf, personId: string): SecondState {
  const row = shelf.orm
    .select()
    .from(factors)
    .where(and(ofKind(personId, "totp"), isNotNull(factors.confirmedAt)))
    .get();
  const left = shelf.orm.select({ n: count() }).from(recovery).where(eq(recovery.personId, personId)).get()?.n ?? 0;
  return { since: row?.confirmedAt ?? null, codesLeft: left };
}

/** Whether this code, or recovery code, is theirs; it is used up by that. Limits are the caller's. */
export function proveSecond(shelf: Shelf, personId: string, given: string, now: number): boolean {
  const row = shelf.orm
    .select()
    .from(factors)
    .where(and(ofKind(personId, "totp"), isNotNull(factors.confirmedAt)))
    .get();
  const step = row && /^\s*\d[\d\s]*$/.test(given) ? stepOf(shelf, row.secret, given, now) : null;
  if (row && step !== null) {
    const still = and(eq(factors.id, row.id), lt(factors.counter, step));
    return shelf.orm.update(factors).set({ counter: step, usedAt: now }).where(still).run().changes === 1;
  }
  const code = plain(given);
  return (
    code.length === 16 &&
    shelf.orm
      .delete(recovery)
      .where(and(eq(recovery.personId, personId), eq(recovery.hash, hashed(code))))
      .run().changes === 1
  );
}

/** Taken away: by its person who has just proved it, or by the agency for somebody who has lost it. */
export function removeSecond(shelf: Shelf, personId: string): void {
  shelf.orm.transaction((tx) => {
    tx.delete(factors).where(ofKind(personId, "totp")).run();
    tx.delete(recovery).where(eq(recovery.personId, personId)).run();
  });
}
