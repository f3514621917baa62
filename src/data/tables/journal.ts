/**
 * Changes of rows as they are made, each with what takes it back. Undone from the last to the first; what somebody has changed since stays
 * as it is by then. Names of tables and columns are the registry's and our own.
 */

import type Database from "better-sqlite3";
import { sqlName } from "@/core/text/sql-name";

type Cell = string | number | null;
type Key = Readonly<Record<string, Cell>>;
export type Noted =
  | {
      readonly op: "set";
      readonly table: string;
      readonly column: string;
      readonly ids: readonly string[];
      readonly was: Cell;
      readonly now: Cell;
    }
  | { readonly op: "gone"; readonly table: string; readonly row: Key }
  | { readonly op: "came"; readonly table: string; readonly key: Key };

/** Tables of records say by a number that they were changed, which taking an import back goes by. */
const counted = (table: string): string => (table.startsWith("t_") ? ", version = version + 1" : "");
const matching = (key: Key): string =>
  Object.keys(key)
    .map((c) => `${sqlName(c)} IS ?`)
    .join(" AND ");

export class Journal {
  readonly noted: Noted[] = [];
  constructor(private readonly db: Database.Database) {}

  /** Of rows whose column holds what it was until now; they are found by their id. */
  set(table: string, column: string, ids: readonly string[], was: Cell, now: Cell): void {
    if (ids.length === 0 || was === now) return;
    const put = this.db.prepare(`UPDATE ${sqlName(table)} SET ${sqlName(column)} = ?${counted(table)} WHERE id = ?`);
    for (const id of ids) put.run(now, id);
    this.noted.push({ op: "set", table, column, ids, was, now });
  }

  /** Rows where the column is this, taken out. */
  remove(table: string, column: string, is: Cell): Key[] {
    const rows = this.db.prepare(`SELECT * FROM ${sqlName(table)} WHERE ${sqlName(column)} = ?`).all(is) as Key[];
    this.db.prepare(`DELETE FROM ${sqlName(table)} WHERE ${sqlName(column)} = ?`).run(is);
    for (const row of rows) this.noted.push({ op: "gone", table, row });
    return rows;
  }

  /** False where there is such a row already; its key is all of it that is not null. */
  insert(table: string, row: Key): boolean {
    const columns = Object.keys(row);
    const put = this.db.prepare(
      `INSERT OR IGNORE INTO ${sqlName(table)} (${columns.map(sqlName).join(", ")}) VALUES (${columns.map(() => "?").join(", ")})`,
    );
    if (put.run(...Object.values(row)).changes === 0) return false;
    this.noted.push({ op: "came", table, key: row });
    return true;
  }
}

/** Brings back what was noted, except in tables and columns that are gone since. */
export function takeBack(db: Database.Database, noted: readonly Noted[]): void {
  const columns = new Map<string, ReadonlySet<string>>();
  const has = (table: string, column: string): boolean => {
    let own = columns.get(table);
    if (!own) columns.set(table, (own = new Set(db.prepare("SELECT name FROM pragma_table_info(?)").pluck().all(table) as string[])));
    return own.has(column);
  };
  for (const n of [...noted].reverse()) {
    if (n.op === "set") {
      if (!has(n.table, n.column)) continue;
      const put = db.prepare(
        `UPDATE ${sqlName(n.table)} SET ${sqlName(n.column)} = ?${counted(n.table)} WHERE id = ? AND ${sqlName(n.column)} IS ?`,
      );
      for (const id of n.ids) put.run(n.was, id, n.now);
    } else if (n.op === "came") {
      if (Object.keys(n.key).every((c) => has(n.table, c)))
        db.prepare(`DELETE FROM ${sqlName(n.table)} WHERE ${matching(n.key)}`).run(...Object.values(n.key));
    } else {
      const known = Object.entries(n.row).filter(([c]) => has(n.table, c));
      if (known.length > 0)
        db.prepare(
          `INSERT OR IGNORE INTO ${sqlName(n.table)} (${known.map(([c]) => sqlName(c)).join(", ")}) VALUES (${known.map(() => "?").join(", ")})`,
        ).run(...known.map(([, v]) => v));
    }
  }
}
