/** What the Ledger Room keeps, in a file of its own: four kinds of records in the order of their last change, keys, and what is to go wrong. */
import { createHash, randomBytes } from "node:crypto";
import { chmodSync, closeSync, existsSync, openSync } from "node:fs";
import Database from "better-sqlite3";

/** Each kind with its columns besides `id`, `version` and `changed_at`. */
export const KINDS = {
  companies: ["name", "trade", "city", "phone", "standing"],
  contacts: ["name", "email", "phone", "company"],
  deals: ["title", "company", "worth", "stage", "closes"],
  tickets: ["subject", "company", "state", "opened"],
} as const satisfies Record<string, readonly string[]>;
export type Kind = keyof typeof KINDS;
export const isKind = (text: string): text is Kind => Object.hasOwn(KINDS, text);

/** How its answers are to go wrong, as its page is told. */
export interface Faults {
  /** Every answer is this status: 429 with a Retry-After, 503 without. */
  readonly status?: number;
  /** Every other request comes too soon: 429 with a Retry-After of a second. */
  readonly rations?: boolean;
  /** Requests are taken, and never answered. */
  readonly hangs?: boolean;
  /** An answer comes a character at a time. */
  readonly drips?: boolean;
  /** A page comes twice, or is left out. */
  readonly repeats?: boolean;
  readonly skips?: boolean;
  /** It says that it is shorter than it is. */
  readonly liesAboutSize?: boolean;
  /** A column has another name than before. */
  readonly renames?: boolean;
}

export interface Item {
  readonly id: string;
  /** Rises with each change of anything. */
  readonly seq: number;
  readonly version: number;
  readonly changedAt: number;
  readonly removed: boolean;
  readonly values: Readonly<Record<string, string>>;
}

const SHAPE = `
  CREATE TABLE IF NOT EXISTS items (kind TEXT NOT NULL, id TEXT NOT NULL, seq INTEGER NOT NULL UNIQUE, version INTEGER NOT NULL, changed_at INTEGER NOT NULL, removed INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL, PRIMARY KEY (kind, id)) STRICT;
  CREATE INDEX IF NOT EXISTS items_seq ON items (kind, seq);
  CREATE TABLE IF NOT EXISTS keys (hash TEXT PRIMARY KEY, name TEXT NOT NULL) STRICT;
  CREATE TABLE IF NOT EXISTS answers (once TEXT PRIMARY KEY, kind TEXT NOT NULL, id TEXT NOT NULL) STRICT;
  CREATE TABLE IF NOT EXISTS state (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;`;

export type Ledger = Database.Database;

/** Opens the Ledger Room's file, made where there is none. */
export function openLedger(path: string): Ledger {
  // Its owner's alone before there is anything in it.
  if (path !== ":memory:" && !existsSync(path)) closeSync(openSync(path, "a", 0o600));
  if (path !== ":memory:") chmodSync(path, 0o600);
  const db = new Database(path);
  db.pragma("journal_mode = WAL");
  db.exec(SHAPE);
  return db;
}

const hashOf = (text: string): string => createHash("sha256").update(text).digest("hex");

/** Told once: only its hash is kept. */
export function addKey(db: Ledger, name: string, key = `ledger_${randomBytes(24).toString("base64url")}`): string {
  db.prepare("INSERT OR REPLACE INTO keys (hash, name) VALUES (?, ?)").run(hashOf(key), name);
  return key;
}
export const isKey = (db: Ledger, key: string): boolean => db.prepare("SELECT 1 FROM keys WHERE hash = ?").get(hashOf(key)) !== undefined;

export const faultsOf = (db: Ledger): Faults =>
  JSON.parse((db.prepare("SELECT value FROM state WHERE name = 'faults'").pluck().get() as string | undefined) ?? "{}") as Faults;
export const setFaults = (db: Ledger, faults: Faults): void =>
  void db.prepare("INSERT OR REPLACE INTO state (name, value) VALUES ('faults', ?)").run(JSON.stringify(faults));

type Row = { id: string; seq: number; version: number; changed_at: number; removed: number; body: string };
const itemOf = (r: Row): Item => ({
  id: r.id,
  seq: r.seq,
  version: r.version,
  changedAt: r.changed_at,
  removed: r.removed === 1,
  values: JSON.parse(r.body) as Record<string, string>,
});

export const itemBy = (db: Ledger, kind: Kind, id: string): Item | undefined => {
  const row = db.prepare("SELECT * FROM items WHERE kind = ? AND id = ?").get(kind, id) as Row | undefined;
  return row && itemOf(row);
};
/** Whose column holds one of these. */
export interface Where {
  readonly column: string;
  readonly values: readonly string[];
}
const conditionOf = (removed: boolean, where: Where | null): string =>
  `kind = @kind AND seq > @seq${removed ? "" : " AND removed = 0"}${where ? " AND json_extract(body, '$.' || @column) IN (SELECT value FROM json_each(@values))" : ""}`;
const given = (kind: Kind, seq: number, where: Where | null): Record<string, unknown> => ({
  kind,
  seq,
  ...(where ? { column: where.column, values: JSON.stringify(where.values) } : {}),
});

/** In the order of their last change, after that one; removed ones only where they are asked for. */
export const itemsAfter = (db: Ledger, kind: Kind, seq: number, removed: boolean, most: number, where: Where | null = null): Item[] =>
  (
    db
      .prepare(`SELECT * FROM items WHERE ${conditionOf(removed, where)} ORDER BY seq LIMIT @most`)
      .all({ ...given(kind, seq, where), most }) as Row[]
  ).map(itemOf);
export const countAfter = (db: Ledger, kind: Kind, seq: number, removed: boolean, where: Where | null): number =>
  db
    .prepare(`SELECT count(*) FROM items WHERE ${conditionOf(removed, where)}`)
    .pluck()
    .get(given(kind, seq, where)) as number;
/** Number of the last change of anything. */
export const lastSeq = (db: Ledger): number => (db.prepare("SELECT max(seq) FROM items").pluck().get() as number | null) ?? 0;

const PREFIX: Record<Kind, string> = { companies: "CO", contacts: "PE", deals: "DE", tickets: "TI" };

/** Numbers begin at 1 and are never given again. */
const nextOf = (db: Ledger, kind: Kind): number =>
  Number(
    db
      .prepare("INSERT INTO state (name, value) VALUES (?, '1') ON CONFLICT DO UPDATE SET value = value + 1 RETURNING value")
      .pluck()
      .get(`last of ${kind}`),
  );

/** Makes it where `id` is null. Columns that are not named stay as they are. */
export function putItem(db: Ledger, kind: Kind, id: string | null, values: Readonly<Record<string, string>>, now: number): Item {
  return db.transaction(() => {
    const was = id === null ? undefined : itemBy(db, kind, id);
    const own = id ?? `${PREFIX[kind]}-${String(nextOf(db, kind)).padStart(4, "0")}`;
    const body = Object.fromEntries(KINDS[kind].map((c) => [c, values[c] ?? was?.values[c] ?? ""]));
    db.prepare("INSERT OR REPLACE INTO items (kind, id, seq, version, changed_at, removed, body) VALUES (?, ?, ?, ?, ?, 0, ?)").run(
      kind,
      own,
      lastSeq(db) + 1,
      (was?.version ?? 0) + 1,
      now,
      JSON.stringify(body),
    );
    return itemBy(db, kind, own)!;
  })();
}

export function removeItem(db: Ledger, kind: Kind, id: string, now: number): void {
  db.transaction(() =>
    db
      .prepare("UPDATE items SET removed = 1, seq = ?, version = version + 1, changed_at = ? WHERE kind = ? AND id = ?")
      .run(lastSeq(db) + 1, now, kind, id),
  )();
}

export const madeBefore = (db: Ledger, once: string): { kind: Kind; id: string } | undefined =>
  db.prepare("SELECT kind, id FROM answers WHERE once = ?").get(once) as { kind: Kind; id: string } | undefined;
export const noteMade = (db: Ledger, once: string, kind: Kind, id: string): void =>
  void db.prepare("INSERT INTO answers (once, kind, id) VALUES (?, ?, ?)").run(once, kind, id);
