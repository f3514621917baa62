/**
 * The company of an owned record, stored in the row. It follows the wall's path of relations and is worked out again whenever
 * a relation on some path changes, so that the wall is one equality.
 */

import type { Policy } from "@/core/access/policy";
import { pointsToSeveral } from "@/core/schema/fields/natures";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";

/** SQL for the company that the path leads to from a row of the table; names are ids made by the registry. */
function leadsTo(policy: Policy, tableId: string, path: readonly string[]): string {
  const [hop, ...rest] = path;
  if (!hop) return `${sqlName(tableId)}.id`;
  const target = policy.schema.relation(hop).options.target;
  if (rest.length === 0) return `${sqlName(tableId)}.${sqlName(hop)}`;
  return `(SELECT ${leadsTo(policy, target, rest)} FROM ${sqlName(target)} WHERE ${sqlName(target)}.id = ${sqlName(tableId)}.${sqlName(hop)})`;
}

function storedPath(policy: Policy, tableId: string): readonly string[] | null {
  const wall = policy.wall(tableId);
  if (wall.kind !== "owned") return null;
  return wall.path.some((f) => pointsToSeveral(policy.schema.field(f))) ? null : wall.path;
}

/** Works out the company of every row of a table, writing only those that differ. */
export function storeCompanies(file: PortalFile, policy: Policy, tableId: string): void {
  const path = storedPath(policy, tableId);
  const value = path ? leadsTo(policy, tableId, path) : "NULL";
  file.db.prepare(`UPDATE ${sqlName(tableId)} SET company_id = ${value} WHERE company_id IS NOT ${value}`).run();
}

/** Whether records of the table lead to their company by another way than before, or to none. */
export const wallMoved = (before: Policy, now: Policy, tableId: string): boolean =>
  !before.schema.findTable(tableId) || JSON.stringify(storedPath(before, tableId)) !== JSON.stringify(storedPath(now, tableId));

/** After one record's relations changed: its own company, and that of every record whose path passes through it. */
export function storeCompanyOf(file: PortalFile, policy: Policy, tableId: string, id: string): void {
  // Prepared once for a policy: preparing costs more than running.
  const updates = file.statements.of(policy, `companies by ${tableId}`, () =>
    updatesFor(policy, tableId).map((sql) => file.db.prepare(sql)),
  );
  for (const update of updates) update.run(id);
}

/**
 * What a record that is being added stores of the company that its relations lead to: no other record's path passes through it yet, so
 * nothing else has to be worked out.
 */
export const companyStored = (file: PortalFile, policy: Policy, tableId: string, company: string | null): string | null =>
  file.statements.of(policy, `stores its company ${tableId}`, () => storedPath(policy, tableId) !== null) ? company : null;

/** Each with one place, for the record's id. */
function updatesFor(policy: Policy, tableId: string): string[] {
  const found: string[] = [];
  const own = storedPath(policy, tableId);
  if (own) found.push(`UPDATE ${sqlName(tableId)} SET company_id = ${leadsTo(policy, tableId, own)} WHERE id = ?`);
  for (const table of policy.schema.tables) {
    const path = storedPath(policy, table.id);
    if (!path || path.length < 2) continue;
    for (let i = 0; i < path.length - 1; i++) {
      if (policy.schema.field(path[i]!).options.target !== tableId) continue;
      const reaches = path.slice(0, i).reduceRight(
        (inner, hop) => {
          const target = policy.schema.relation(hop).options.target;
          return `${sqlName(hop)} IN (SELECT id FROM ${sqlName(target)} WHERE ${inner})`;
        },
        `${sqlName(path[i]!)} = ?`,
      );
      found.push(`UPDATE ${sqlName(table.id)} SET company_id = ${leadsTo(policy, table.id, path)} WHERE ${reaches}`);
    }
  }
  return found;
}
