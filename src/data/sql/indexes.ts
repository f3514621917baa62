/** Indexes that follow from the policy: company first, then the default sort, then the columns that grants test. */
import { testsOf } from "@/core/access/condition";
import type { Policy } from "@/core/access/policy";
import { SELF } from "@/core/access/resolve";
import type { PortalFile } from "../open";
import { hasColumn, isFolded, keyName } from "./physical";

export function makePolicyIndexes(file: PortalFile, policy: Policy, tableId: string): void {
  const table = policy.schema.table(tableId);
  const label = table.labelFieldId;
  const tested = policy
    .grantsOn(tableId)
    .flatMap((g) => testsOf(g.filter))
    .map((t) => t.path[0]!)
    .filter((id) => id !== SELF && id !== label && hasColumn(policy.schema.field(id)));
  const columns = [...new Set([label, ...tested])].slice(0, 6).map((id) => (isFolded(policy.schema.field(id)) ? keyName(id) : id));
  file.db.exec(`DROP INDEX IF EXISTS "ix_${tableId}_home"`);
  file.db.exec(`CREATE INDEX "ix_${tableId}_home" ON "${tableId}" (company_id, ${columns.map((c) => `"${c}"`).join(", ")})`);
}
