/** The audit log: written in the transaction of the act itself. */
import type { PortalFile } from "../open";
import * as t from "./portal-tables";

export interface AuditEntry {
  actor: string;
  act: string;
  tableId?: string | null;
  recordId?: string | null;
  detail?: string | null;
}

export function audit(file: PortalFile, e: AuditEntry): void {
  file.orm
    .insert(t.audit)
    .values({ at: new Date().toISOString(), tableId: null, recordId: null, detail: null, ...e })
    .run();
}
