/** Opens the files and holds them open: one for the installation, one for each portal. The only place where a database handle is made. */
import { chmodSync, closeSync, existsSync, mkdirSync, openSync } from "node:fs";
import { join } from "node:path";
import type Sqlite from "better-sqlite3";
import { type BetterSQLite3Database, drizzle } from "drizzle-orm/better-sqlite3";
import { config } from "@/config";
import type { PortalId } from "@/core/ids";
import { Handle, pool } from "./handles";
import { CONTROL, migrate, PORTAL } from "./migrations";
import { once } from "./per-process";
import { statements } from "./points";
import type { PortalFile } from "./portal-file";
import Database from "./sqlite";

export type { PortalFile };

export interface ControlFile {
  readonly db: Sqlite.Database;
  readonly orm: BetterSQLite3Database;
}

const ID = /^[a-z0-9](?:[a-z0-9-]{0,60}[a-z0-9])?$/;
const SLUG = /^[a-z0-9](?:[a-z0-9-]{0,40}[a-z0-9])?$/;
/** Whether a text may be the address of a portal. */
export const isSlug = (s: string): boolean => SLUG.test(s);

/** The folder that holds all data of this installation. */
export const dataFolder = (): string => config().data;

interface Open {
  readonly files: Map<string, PortalFile>;
  readonly controls: Map<string, ControlFile>;
  /** By folder and slug. An address may change or go: it is looked up again when it is not found, or when it was changed here. */
  readonly ids: Map<string, string>;
}
const open = once("open files", (): Open => ({ files: new Map(), controls: new Map(), ids: new Map() }));

/** Nobody waits for a lock on the thread that answers requests: a busy file is an error at once, and tried again by `whenFree`. */
let patience = 0;
/** Milliseconds: for a thread that answers nobody, which may well stand still. */
export const waitForLocks = (ms: number): void => void (patience = ms);

let late = false;
/**
 * Whoever waits for what is written does not wait for its way from the log into the file, too: that is gone when the files are closed
 * (`closeFiles`). For a thread that closes them after each answer.
 */
export const bringInLate = (): void => void (late = true);

function bringIn(db: Sqlite.Database): void {
  try {
    db.pragma("wal_checkpoint(PASSIVE)");
  } catch {
    // No room, or somebody else does it: what stays in the log is read from there, and the next one to write tries again.
  }
}

/** @throws Where there is no such file and it may not be made. */
export function openDatabase(path: string, readOnly = false): Sqlite.Database {
  const inMemory = path === ":memory:";
  const isNew = inMemory || !existsSync(path);
  // SQLite gives its logs the mode of the file: it is the owner's alone before there is anything in it.
  if (!readOnly && !inMemory && isNew) closeSync(openSync(path, "a", 0o600));
  const verbose = statements.to ? (sql: unknown) => statements.to?.(String(sql)) : undefined;
  const db = new Database(path, { readonly: readOnly, timeout: patience, ...(verbose ? { verbose } : {}) });
  if (!readOnly) {
    // Only for a new file. An existing file keeps its mode until `shrink` rewrites it, and asking would need the write lock.
    if (isNew) db.pragma("auto_vacuum = INCREMENTAL");
    db.pragma("journal_mode = WAL");
    db.pragma("synchronous = NORMAL");
    if (late) db.pragma("wal_autocheckpoint = 0");
  }
  db.pragma("foreign_keys = ON");
  db.pragma("cache_size = -65536");
  return db;
}

/** The installation's own file, made and migrated where it has to be. */
export function control(folder = dataFolder()): ControlFile {
  const path = join(folder, "elkhorn.db");
  const known = open.controls.get(path);
  if (known) return known;
  mkdirSync(join(folder, "portals"), { recursive: true, mode: 0o700 });
  // Also where somebody made the folder before, for everybody to read.
  for (const own of [folder, join(folder, "portals")]) chmodSync(own, 0o700);
  const db = openDatabase(path);
  migrate(db, CONTROL);
  chmodSync(path, 0o600);
  const file: ControlFile = { db, orm: drizzle(db) };
  open.controls.set(path, file);
  return file;
}

const portalPath = (id: PortalId, folder: string): string => {
  if (!ID.test(id)) throw new Error(`${JSON.stringify(id)} is not a portal's id; ids are made by createPortal.`);
  return join(folder, "portals", `${id}.db`);
};

/** The portal that stands at this address. */
export function portalIdAt(slug: string, folder = dataFolder()): PortalId | undefined {
  if (!isSlug(slug)) return undefined;
  const key = `${folder} ${slug}`;
  const known = open.ids.get(key);
  if (known) return known as PortalId;
  const found = control(folder).db.prepare("SELECT id FROM portals WHERE slug = ?").pluck().get(slug) as PortalId | undefined;
  if (found) open.ids.set(key, found);
  return found;
}
/** After an address was given, changed or taken away. */
export const forgetAddresses = (): void => open.ids.clear();

/** Undefined where there is no such portal. */
export function portalFile(slug: string, readOnly = false, folder = dataFolder()): PortalFile | undefined {
  const id = portalIdAt(slug, folder);
  if (!id) return undefined;
  const path = portalPath(id, folder);
  const key = `${readOnly ? "ro" : "rw"} ${slug} ${path}`;
  const known = open.files.get(key);
  if (known) return known;
  if (!existsSync(path)) return undefined;
  if (readOnly) void portalFile(slug, false, folder)?.db; // migrated by the writing handle first
  return hold(key, id, slug, path, readOnly);
}

/** The file of a new portal; its address leads to it once it is listed. */
export function createPortalFile(id: PortalId, slug: string, folder = dataFolder()): PortalFile {
  const path = portalPath(id, folder);
  if (existsSync(path)) throw new Error(`The portal ${id} has a file already; open it with portalFile.`);
  mkdirSync(join(folder, "portals"), { recursive: true, mode: 0o700 });
  return hold(`rw ${slug} ${path}`, id, slug, path, false);
}

/** A copy that stands there already; its address leads to it once it is listed. */
export const copiedPortalFile = (id: PortalId, slug: string, folder = dataFolder()): PortalFile => {
  const path = portalPath(id, folder);
  return hold(`rw ${slug} ${path}`, id, slug, path, false);
};

/** All handles of a file that is about to be removed are closed. */
export function forgetFile(path: string): void {
  for (const [key, file] of open.files)
    if (file.path === path) {
      file.rest?.();
      open.files.delete(key);
    }
}

function hold(key: string, id: PortalId, slug: string, path: string, readOnly: boolean): PortalFile {
  const make = (): Sqlite.Database => {
    const db = openDatabase(path, readOnly);
    if (readOnly) return db;
    migrate(db, PORTAL);
    chmodSync(path, 0o600);
    return db;
  };
  const file = new Handle(id, slug, path, readOnly, make, pool, () => {
    if (open.files.get(key) === file) open.files.delete(key);
  });
  open.files.set(key, file);
  return file;
}

/** At the end of the process: what stands in write-ahead logs is brought into the files. */
export function closeFiles(): void {
  const first = late ? bringIn : undefined;
  pool.closeAll(first);
  for (const f of open.controls.values()) {
    first?.(f.db);
    f.db.close();
  }
  open.files.clear();
  open.controls.clear();
  open.ids.clear();
}
