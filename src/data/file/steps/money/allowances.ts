/** What of its allowances a company has used: a ledger, so that removing a record gives nothing back. Begun from what its people added. */
import type Database from "better-sqlite3";

export function allowances(db: Database.Database): void {
  db.exec(`CREATE TABLE sys_allowance_uses (id INTEGER PRIMARY KEY, company_id TEXT NOT NULL, table_id TEXT NOT NULL, record_id TEXT NOT NULL, month TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_allowance_uses_month ON sys_allowance_uses (company_id, table_id, month);`);
  const body = db.prepare("SELECT body FROM sys_definitions ORDER BY version DESC LIMIT 1").pluck().get() as string | undefined;
  const plans = body ? ((JSON.parse(body) as { plans?: { allowances?: { table: string }[] }[] }).plans ?? []) : [];
  const tables = new Set(plans.flatMap((p) => (p.allowances ?? []).map((a) => a.table)));
  const there = db.prepare("SELECT 1 FROM sys_tables WHERE id = ?");
  for (const table of tables)
    if (there.get(table))
      db.exec(`INSERT INTO sys_allowance_uses (company_id, table_id, record_id, month, at)
        SELECT company_id, '${table}', id, substr(created_at, 1, 7), CAST(round(unixepoch(created_at, 'subsec') * 1000) AS INTEGER)
        FROM "${table}" WHERE company_id IS NOT NULL AND created_at IS NOT NULL
          AND created_by IN (SELECT person_id FROM sys_memberships WHERE company_id IS NOT NULL)`);
}
