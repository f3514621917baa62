/** The index by name ends with the id, as every order does; a place for what is known of search indexes. */
import type Database from "better-sqlite3";

export function labelIndexes(db: Database.Database): void {
  db.exec("CREATE TABLE sys_search (table_id TEXT PRIMARY KEY, columns TEXT NOT NULL) STRICT");
  for (const id of db.prepare("SELECT id FROM sys_tables").pluck().all() as string[]) {
    const index = `ix_${id}_label`;
    const columns = db.prepare("SELECT name FROM pragma_index_info(?)").pluck().all(index) as string[];
    if (columns.length !== 1) continue;
    db.exec(`DROP INDEX "${index}"; CREATE INDEX "${index}" ON "${id}" ("${columns[0]}", id)`);
  }
}
