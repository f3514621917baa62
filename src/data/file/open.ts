/** Opens the files and holds them open: one for the installation, one for each portal. The only place where a database handle is made. */
import { existsSync, mkdirSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { type BetterSQLite3Database, drizzle } from "drizzle-orm/better-sqlite3";
import { Meta } from "./meta";
import { CONTROL, migrate, PORTAL } from "./migrations";
import { Statements } from "./statements";

/** A portal's open file. `readOnly` handles refuse every write in SQLite itself: "see as" looks through one. */
export interface PortalFile {
  readonly slug: string;
  readonly path: string;
  readonly db: Database.Database;
  readonly orm: BetterSQLite3Database;
  readonly statements: Statements;
  readonly meta: Meta;
  readonly readOnly: boolean;
}

export interface ControlFile {
  readonly db: Database.Database;
  readonly orm: BetterSQLite3Database;
}

/** SLUG also keeps a slug from being a path. */
const SLUG = /^[a-z0-9](?:[a-z0-9-]{0,40}[a-z0-9])?$/;

export const dataFolder = (): string => resolve(/* turbopackIgnore: true */ process.env.ELKHORN_DATA ?? ".demo-data");

/** Memo on globalThis: Next bundles a module once for each kind of entry, and each file should be opened once a process. */
const openFiles = ((globalThis as { __elkhornFiles?: Map<string, PortalFile | ControlFile> }).__elkhornFiles ??= new Map());

export function openDatabase(path: string, readOnly = false): Database.Database {
  const db = new Database(path, { readonly: readOnly, timeout: 5000 });
  if (!readOnly) {
    db.pragma("journal_mode = WAL");
    db.pragma("synchronous = NORMAL");
  }
  db.pragma("foreign_keys = ON");
  db.pragma("cache_size = -65536");
  return db;
}

export function control(folder = dataFolder()): ControlFile {
  const path = join(folder, "elkhorn.db");
  const known = openFiles.get(path);
  if (known) return known as ControlFile;
  mkdirSync(join(folder, "portals"), { recursive: true });
  const db = openDatabase(path);
  migrate(db, CONTROL);
  const file: ControlFile = { db, orm: drizzle(db) };
  openFiles.set(path, file);
  return file;
}

export const portalPath = (slug: string, folder = dataFolder()): string => {
  if (!SLUG.test(slug)) throw new Error(`${JSON.stringify(slug)} is not a portal's slug; check it with isSlug first.`);
  return join(folder, "portals", `${slug}.db`);
};

export const isSlug = (s: string): boolean => SLUG.test(s);

/** Undefined where there is no such portal. */
export function portalFile(slug: string, readOnly = false, folder = dataFolder()): PortalFile | undefined {
  if (!isSlug(slug)) return undefined;
  const path = portalPath(slug, folder);
  const key = `${readOnly ? "ro" : "rw"} ${path}`;
  const known = openFiles.get(key);
  if (known) return known as PortalFile;
  if (!existsSync(path)) return undefined;
  if (readOnly) portalFile(slug, false, folder); // migrated by the writing handle first
  return keep(key, slug, path, readOnly);
}

export function createPortalFile(slug: string, folder = dataFolder()): PortalFile {
  const path = portalPath(slug, folder);
  if (existsSync(path)) throw new Error(`The portal ${slug} has a file already; open it with portalFile.`);
  mkdirSync(join(folder, "portals"), { recursive: true });
  return keep(`rw ${path}`, slug, path, false);
}

function keep(key: string, slug: string, path: string, readOnly: boolean): PortalFile {
  const db = openDatabase(path, readOnly);
  if (!readOnly) migrate(db, PORTAL);
  const file: PortalFile = { slug, path, db, orm: drizzle(db), statements: new Statements(db), meta: new Meta(db), readOnly };
  openFiles.set(key, file);
  return file;
}
