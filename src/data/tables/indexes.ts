/** Indexes that follow from the policy: company first, then the default sort, then the columns that grants test. */

import type { Policy } from "@/core/access/policy";
import { SELF, testsOf } from "@/core/schema/condition";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { hasColumn, isFolded, keyName } from "./physical";

/** More would cost each write more than they spare reads. */
const MOST_VIEWER_INDEXES = 3;
/** Rows beyond which an index is made beside the requests: below, it takes a few dozen milliseconds. */
const SMALL = 20_000;

/** The job that makes them for large tables; its thread is `policyIndexesTask`. */
export const POLICY_INDEXES = "policy indexes";

/** What the policy asks for a table, by name. */
function wanted(policy: Policy, tableId: string): Map<string, string> {
  const table = policy.schema.table(tableId);
  const label = table.labelFieldId;
  const tests = policy.grantsOn(tableId).flatMap((g) => testsOf(g.filter));
  const tested = tests.map((t) => t.path[0]!).filter((id) => id !== SELF && id !== label && hasColumn(policy.schema.field(id)));
  const column = (id: string): string => `${sqlName(isFolded(policy.schema.field(id)) ? keyName(id) : id)}`;
  const home = [...new Set([label, ...tested])].slice(0, 6).map(column);
  const all = new Map([[`ix_${tableId}_home`, `${sqlName(tableId)} (company_id, ${home.join(", ")})`]]);
  // For each column that grants compare with the viewer's own values: that column, the company, then what else grants test. A page of "my
  // sites" and the counts of everybody's are then read from the index alone.
  const asked = tests
    .filter((t) => t.path.length === 1 && t.operands.some((o) => o.kind === "viewer") && tested.includes(t.path[0]!))
    .map((t) => t.path[0]!);
  for (const id of [...new Set(asked)].slice(0, MOST_VIEWER_INDEXES)) {
    const others = [...new Set(tested)].filter((x) => x !== id).slice(0, 4);
    all.set(`ix_${tableId}_by_${id}`, `${sqlName(tableId)} (${[column(id), "company_id", ...others.map(column)].join(", ")})`);
  }
  return all;
}

type Index = readonly [name: string, sql: string];

/** The indexes of every table, read once for all of them. */
export function indexesNow(file: PortalFile): ReadonlyMap<string, readonly Index[]> {
  const all = new Map<string, Index[]>();
  const rows = file.db.prepare("SELECT tbl_name, name, sql FROM sqlite_master WHERE type = 'index' AND sql IS NOT NULL").raw().all();
  for (const [table, name, sql] of rows as [string, string, string][]) {
    const of = all.get(table);
    if (of) of.push([name, sql]);
    else all.set(table, [[name, sql]]);
  }
  return all;
}

/** Statements that lead from the indexes that are there to those that the policy asks of a table; none where nothing is other. */
export function indexChanges(policy: Policy, tableId: string, there: ReadonlyMap<string, readonly Index[]>): string[] {
  const all = wanted(policy, tableId);
  const ours = (there.get(tableId) ?? []).filter(([name]) => name === `ix_${tableId}_home` || name.startsWith(`ix_${tableId}_by_`));
  const same = ([name, sql]: Index): boolean => all.has(name) && sql.endsWith(` ON ${all.get(name)}`);
  const kept = new Set(ours.filter(same).map(([name]) => name));
  return [
    ...ours.filter(([name]) => !kept.has(name)).map(([name]) => `DROP INDEX ${sqlName(name)}`),
    ...[...all].filter(([name]) => !kept.has(name)).map(([name, on]) => `CREATE INDEX ${sqlName(name)} ON ${on}`),
  ];
}

/** Only what is other than it was is made or dropped. */
export function makePolicyIndexes(file: PortalFile, policy: Policy, tableId: string, there = indexesNow(file)): void {
  for (const sql of indexChanges(policy, tableId, there)) file.db.exec(sql);
}

/** Whether indexes of a table take so long that they are left to a thread: until they are made its pages take longer. */
export const isLarge = (file: PortalFile, tableId: string): boolean =>
  (file.db
    .prepare(`SELECT count(*) FROM (SELECT 1 FROM ${sqlName(tableId)} LIMIT ?)`)
    .pluck()
    .get(SMALL + 1) as number) > SMALL;
