/** What the Till keeps, in a file of its own: accounts, customers, ways to pay, checkouts, payments, answers by key, events to be delivered. */

import { createHash, randomBytes } from "node:crypto";
import { chmodSync, closeSync, existsSync, openSync } from "node:fs";
import Database from "better-sqlite3";

const SHAPE = `
  CREATE TABLE IF NOT EXISTS accounts (id TEXT PRIMARY KEY, name TEXT NOT NULL, mode TEXT NOT NULL, secret_hash TEXT NOT NULL UNIQUE, hook TEXT NOT NULL, hook_url TEXT NOT NULL, faults TEXT NOT NULL DEFAULT '{}', clock INTEGER NOT NULL DEFAULT 0, parent TEXT) STRICT;
  CREATE TABLE IF NOT EXISTS customers (id TEXT PRIMARY KEY, account TEXT NOT NULL, name TEXT NOT NULL, email TEXT NOT NULL, reference TEXT NOT NULL) STRICT;
  CREATE TABLE IF NOT EXISTS methods (id TEXT PRIMARY KEY, account TEXT NOT NULL, customer TEXT, does TEXT NOT NULL, last TEXT NOT NULL, uses INTEGER NOT NULL DEFAULT 0) STRICT;
  CREATE TABLE IF NOT EXISTS checkouts (id TEXT PRIMARY KEY, account TEXT NOT NULL, body TEXT NOT NULL, state TEXT NOT NULL, payment TEXT, method TEXT, why TEXT, ready_at INTEGER, made_at INTEGER NOT NULL) STRICT;
  CREATE TABLE IF NOT EXISTS payments (id TEXT PRIMARY KEY, account TEXT NOT NULL, amount INTEGER NOT NULL, currency TEXT NOT NULL, refunded INTEGER NOT NULL DEFAULT 0, reference TEXT NOT NULL, what TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
  CREATE TABLE IF NOT EXISTS keys (account TEXT NOT NULL, key TEXT NOT NULL, asked TEXT NOT NULL, status INTEGER NOT NULL, answer TEXT NOT NULL, PRIMARY KEY (account, key)) STRICT;
  CREATE TABLE IF NOT EXISTS events (id TEXT PRIMARY KEY, account TEXT NOT NULL, body TEXT NOT NULL, tries INTEGER NOT NULL DEFAULT 0, next_at INTEGER, done_at INTEGER, said TEXT, made_at INTEGER NOT NULL) STRICT;
  CREATE INDEX IF NOT EXISTS events_due ON events (next_at);`;

export type Till = Database.Database;

/** Opens the file of the stand-in for payments, made where there is none. */
export function openTill(path: string): Till {
  // Keys of accounts stand in it: it is its owner's alone before there is anything in it.
  if (path !== ":memory:" && !existsSync(path)) closeSync(openSync(path, "a", 0o600));
  if (path !== ":memory:") chmodSync(path, 0o600);
  const db = new Database(path);
  db.pragma("journal_mode = WAL");
  db.pragma("busy_timeout = 5000");
  db.exec(SHAPE);
  return db;
}

export const idOf = (kind: string): string => `${kind}_${randomBytes(12).toString("hex")}`;
export const hashOf = (text: string): string => createHash("sha256").update(text).digest("hex");

/** How deliveries are to go wrong, as its page is told. */
export interface Faults {
  /** Seconds. */
  readonly late?: number;
  readonly twice?: boolean;
  /** Each event waits for the one after it. */
  readonly disordered?: boolean;
  readonly unsigned?: boolean;
  readonly dies?: boolean;
}

export interface AccountRow {
  readonly id: string;
  readonly name: string;
  readonly mode: "test" | "live";
  readonly hook: string;
  readonly hook_url: string;
  readonly faults: string;
  readonly clock: number;
  /** For a rehearsal's account: the account whose customers it knows, too. */
  readonly parent: string | null;
}

/** Its secrets are told here, once: only a hash of the key is kept. */
export function addAccount(
  db: Till,
  a: { readonly name: string; readonly mode: "test" | "live"; readonly hookUrl: string; readonly parent?: string },
): { id: string; secret: string; hook: string } {
  const id = idOf("acc");
  const secret = `till-${a.mode}-${randomBytes(24).toString("base64url")}`;
  const hook = `whsec_${randomBytes(32).toString("base64")}`;
  db.prepare("INSERT INTO accounts (id, name, mode, secret_hash, hook, hook_url, parent) VALUES (?, ?, ?, ?, ?, ?, ?)").run(
    id,
    a.name,
    a.mode,
    hashOf(secret),
    hook,
    a.hookUrl,
    a.parent ?? null,
  );
  return { id, secret, hook };
}

export const accountBySecret = (db: Till, secret: string): AccountRow | undefined =>
  db.prepare("SELECT * FROM accounts WHERE secret_hash = ?").get(hashOf(secret)) as AccountRow | undefined;
export const accounts = (db: Till): AccountRow[] => db.prepare("SELECT * FROM accounts ORDER BY name").all() as AccountRow[];
export const accountById = (db: Till, id: string): AccountRow | undefined =>
  db.prepare("SELECT * FROM accounts WHERE id = ?").get(id) as AccountRow | undefined;

/** Somebody who has paid here before, with a card that is kept: for a demo that begins in the middle of things. */
export function addKept(
  db: Till,
  account: string,
  c: { readonly name: string; readonly email: string; readonly reference: string; readonly does: string; readonly last: string },
): { customer: string; method: string } {
  const [customer, method] = [idOf("cus"), idOf("way")];
  db.prepare("INSERT INTO customers (id, account, name, email, reference) VALUES (?, ?, ?, ?, ?)").run(
    customer,
    account,
    c.name,
    c.email,
    c.reference,
  );
  db.prepare("INSERT INTO methods (id, account, customer, does, last, uses) VALUES (?, ?, ?, ?, ?, 1)").run(
    method,
    account,
    customer,
    c.does,
    c.last,
  );
  return { customer, method };
}

/** Elkhorn answers at another port than when the accounts were made. */
export function moveHooks(db: Till, port: number): void {
  for (const a of accounts(db)) {
    const url = new URL(a.hook_url);
    if (!url.hostname.endsWith("localhost")) continue;
    url.port = String(port);
    db.prepare("UPDATE accounts SET hook_url = ? WHERE id = ?").run(url.href, a.id);
  }
}

/** A payment of before, so that it can be paid back. */
export function addPaid(db: Till, account: string, p: { amount: number; currency: string; what: string; at: number }): string {
  const id = idOf("mny");
  db.prepare("INSERT INTO payments (id, account, amount, currency, reference, what, at) VALUES (?, ?, ?, ?, ?, ?, ?)").run(
    id,
    account,
    p.amount,
    p.currency,
    "",
    p.what,
    p.at,
  );
  return id;
}
