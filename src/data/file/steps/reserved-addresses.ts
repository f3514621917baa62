/** Tables whose address is one that Elkhorn needs for itself get another; the old one leads there where it is free. */
import type Database from "better-sqlite3";
import { isReserved } from "@/core/address/reserved";

export function reservedAddresses(db: Database.Database): void {
  db.exec("CREATE TABLE sys_old_addresses (slug TEXT PRIMARY KEY, table_id TEXT NOT NULL) STRICT");
  const tables = db.prepare("SELECT id, slug FROM sys_tables").all() as { id: string; slug: string }[];
  const taken = new Set(tables.map((t) => t.slug));
  for (const t of tables.filter((x) => isReserved("table", x.slug))) {
    let slug = `${t.slug}-list`;
    for (let n = 2; taken.has(slug); n++) slug = `${t.slug}-list-${n}`;
    taken.add(slug);
    db.prepare("UPDATE sys_tables SET slug = ? WHERE id = ?").run(slug, t.id);
    db.prepare("INSERT INTO sys_old_addresses VALUES (?, ?)").run(t.slug, t.id);
    db.prepare("INSERT INTO sys_meta VALUES ('schema_version', '1') ON CONFLICT (key) DO UPDATE SET value = value + 1").run();
  }
}
