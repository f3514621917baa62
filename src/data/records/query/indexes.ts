/** Indexes that follow from the policy: company first, then the default sort, then the columns that grants test. */
import { SELF, testsOf } from "@/core/access/condition";
import type { Policy } from "@/core/access/policy";
import type { PortalFile } from "../../file/open";
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
  makeViewerIndexes(file, policy, tableId, tested);
  file.db.exec(`DROP INDEX IF EXISTS "ix_${tableId}_home"`);
  file.db.exec(`CREATE INDEX "ix_${tableId}_home" ON "${tableId}" (company_id, ${columns.map((c) => `"${c}"`).join(", ")})`);
}

/** More would cost each write more than they spare reads. */
const MOST_VIEWER_INDEXES = 3;

/**
 * For each column that grants compare with the viewer's own values: that column, the company, then what else grants test. A
 * page of "my sites" and the counts of everybody's are then read from the index alone.
 */
function makeViewerIndexes(file: PortalFile, policy: Policy, tableId: string, tested: readonly string[]): void {
  const prefix = `ix_${tableId}_by_`;
  const old = file.db
    .prepare("SELECT name FROM sqlite_master WHERE type = 'index' AND substr(name, 1, ?) = ?")
    .pluck()
    .all(prefix.length, prefix);
  for (const name of old) file.db.exec(`DROP INDEX "${name}"`);
  const asked = policy
    .grantsOn(tableId)
    .flatMap((g) => testsOf(g.filter))
    .filter((t) => t.path.length === 1 && t.operands.some((o) => o.kind === "viewer") && tested.includes(t.path[0]!))
    .map((t) => t.path[0]!);
  const column = (id: string): string => `"${isFolded(policy.schema.field(id)) ? keyName(id) : id}"`;
  for (const id of [...new Set(asked)].slice(0, MOST_VIEWER_INDEXES)) {
    const others = [...new Set(tested)].filter((x) => x !== id).slice(0, 4);
    file.db.exec(`CREATE INDEX "${prefix}${id}" ON "${tableId}" (${[column(id), "company_id", ...others.map(column)].join(", ")})`);
  }
}
