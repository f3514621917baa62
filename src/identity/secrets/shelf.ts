import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";

/** Where somebody's factors and half-finished acts are kept: a portal's file, or the installation's. */
export interface Shelf {
  readonly orm: BetterSQLite3Database;
  readonly id: string;
}
