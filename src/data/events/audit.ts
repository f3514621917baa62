/** The audit log: written in the transaction of the act itself. */
import { sql } from "drizzle-orm";
import { isoNow } from "../file/now";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";

export interface AuditEntry {
  actor: string;
  act: string;
  tableId?: string | null;
  recordId?: string | null;
  detail?: string | null;
}

export function audit(file: PortalFile, e: AuditEntry): void {
  const values = [isoNow(), e.actor, e.act, e.tableId ?? null, e.recordId ?? null, e.detail ?? null];
  const { at, actor, act, tableId, recordId, detail } = t.audit;
  file.statements.run(
    "audit",
    () => {
      const columns = sql.join(
        [at, actor, act, tableId, recordId, detail].map((c) => sql.identifier(c.name)),
        sql`, `,
      );
      const places = sql.join(
        values.map((_, i) => sql`${sql.placeholder(`p${i}`)}`),
        sql`, `,
      );
      return sql`INSERT INTO ${t.audit} (${columns}) VALUES (${places})`;
    },
    values,
  );
}
