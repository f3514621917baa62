/** Fields of another type since an import noted what they held. What a file was as it came, before a picture was turned upright, and its name as it is looked for; the files beside an import. */
import type Database from "better-sqlite3";
import { fold } from "@/core/text/fold";

export function fileSources(db: Database.Database): void {
  db.exec(`ALTER TABLE sys_files ADD COLUMN source TEXT;
   ALTER TABLE sys_files ADD COLUMN name_key TEXT NOT NULL DEFAULT '';
   UPDATE sys_files SET source = hash WHERE width IS NULL;
   ALTER TABLE sys_imports ADD COLUMN retyped TEXT NOT NULL DEFAULT '[]';
   CREATE TABLE sys_import_files (import_id TEXT NOT NULL, path TEXT NOT NULL, file_id TEXT, problem TEXT, PRIMARY KEY (import_id, path)) STRICT, WITHOUT ROWID;`);
  const put = db.prepare("UPDATE sys_files SET name_key = ? WHERE id = ?");
  for (const [id, name] of db.prepare("SELECT id, name FROM sys_files").raw().all() as [string, string][]) put.run(fold(name), id);
}
