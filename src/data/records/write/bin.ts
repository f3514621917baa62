/** The bin: what was removed, for thirty days, and the way back. A record comes back under its own id, with all that went with it. */

import { eq, lt } from "drizzle-orm";
import { linked } from "@/core/access/row";
import type { Result } from "@/core/result";
import { type Schema, targetOf, type Value } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { OwnerAccess } from "../../access";
import { record } from "../../events/record";
import { attempt, refuse } from "../../file/attempt";
import type { PortalFile } from "../../file/open";
import * as t from "../../file/portal-tables";
import { transact } from "../../file/transact";
import { storeCompanyOf } from "../../tables/company";
import { hasColumn, linkTableName } from "../../tables/physical";
import { worldOf } from "../../tables/rows";
import { insertRow } from "../../tables/store";
import { by, made, type WriteError } from "./incoming";
import type { Removed } from "./remove";
import { isParted, restoreParted } from "./restore-parted";
import { taken } from "./unique";

export const BIN_DAYS = 30;

export interface BinnedRecord {
  readonly id: string;
  readonly table: string;
  readonly label: string;
  /** ISO 8601. */
  readonly at: string;
  readonly by: string;
  /** How many other records were removed with it, and would be restored with it. */
  readonly withIt: number;
}

/** The latest first. Of what went together only the record that was meant is listed. */
export function binned(
  { file, policy }: OwnerAccess,
  q: { table?: string; limit: number; offset: number },
): { records: BinnedRecord[]; total: number } {
  const known = policy.schema.tables.map((x) => x.id).filter((id) => !q.table || id === q.table);
  const meant = `FROM sys_removed r LEFT JOIN sys_events e ON e.id = r.act_id WHERE r.table_id IN (SELECT value FROM json_each(?)) AND (r.act_id IS NULL OR e.record_id = r.record_id)`;
  const wanted = JSON.stringify(known);
  const rows = file.db
    .prepare(
      `SELECT r.record_id AS id, r.table_id AS "table", r.label, r.at, r.removed_by AS "by", (SELECT count(*) - 1 FROM sys_removed x WHERE x.act_id = r.act_id) AS n ${meant} ORDER BY r.at DESC, r.rowid DESC LIMIT ? OFFSET ?`,
    )
    .all(wanted, q.limit, q.offset) as (Omit<BinnedRecord, "withIt"> & { n: number })[];
  const total = file.db.prepare(`SELECT count(*) ${meant}`).pluck().get(wanted) as number;
  return { total, records: rows.map(({ n, ...r }) => ({ ...r, withIt: Math.max(0, n) })) };
}

/** Records that were removed together are restored together, or none is. */
export function restoreRecord(d: OwnerAccess, id: string): Result<null, WriteError> {
  const { file } = d;
  return attempt<null, WriteError>(file, () => {
    const own = file.orm.select().from(t.removed).where(eq(t.removed.recordId, id)).get();
    if (!own) return refuse<WriteError>({ code: "not-found" });
    const parted = JSON.parse(own.body) as object;
    if (isParted(parted)) {
      const back = restoreParted(file, d.viewer, own.tableId, id, parted);
      if (!back.ok) refuse<WriteError>({ code: "invalid", errors: [{ field: "", message: back.error }] });
      file.orm.delete(t.removed).where(eq(t.removed.recordId, id)).run();
      return null;
    }
    // What was pointed to was removed last, and comes back first.
    const together =
      own.actId === null
        ? [own]
        : file.db
            .prepare("SELECT record_id AS recordId, table_id AS tableId, body FROM sys_removed WHERE act_id = ? ORDER BY rowid DESC")
            .all(own.actId);
    const bodies = (together as { recordId: string; tableId: string; body: string }[]).map((r) => JSON.parse(r.body) as Removed);
    for (const body of bodies) putBack(d, body);
    for (const body of bodies) pointAgain(d, body);
    return null;
  });
}

function putBack(d: OwnerAccess, { row, made: first }: Removed): void {
  const { file, policy } = d;
  const table = policy.schema.findTable(row.table);
  if (!table) refuse<WriteError>({ code: "not-found" });
  const alive = { ...row, values: aliveValues(file, policy.schema, row.values) };
  const errors = taken({ file, policy, viewer: d.viewer, table, id: row.id, company: row.companyId }, alive.values);
  if (errors.length > 0) refuse<WriteError>({ code: "invalid", errors });
  insertRow(file, table, row.id, alive.values, made(d));
  file.db.prepare(`UPDATE ${sqlName(row.table)} SET created_at = ?, created_by = ? WHERE id = ?`).run(first.at, first.by, row.id);
  storeCompanyOf(file, policy, row.table, row.id);
  file.orm.delete(t.removed).where(eq(t.removed.recordId, row.id)).run();
  record(file, { ...by(d), kind: "record-restored", table: row.table, record: row.id, company: row.companyId, after: alive.values });
}

/** Without fields that are gone, and without links to records that are. */
function aliveValues(file: PortalFile, schema: Schema, values: Removed["row"]["values"]): Record<string, Value> {
  const world = worldOf(file, schema);
  return Object.fromEntries(
    Object.entries(values)
      .filter(([f]) => schema.findField(f))
      .map(([f, v]): [string, Value] => {
        const target = targetOf(schema.findField(f));
        if (!target) return [f, v];
        const there = linked(v).filter((x) => world.row(target, x));
        return [f, Array.isArray(v) ? there : (there[0] ?? null)];
      }),
  );
}

function pointAgain({ file, policy }: OwnerAccess, { row, pointed }: Removed): void {
  for (const p of pointed) {
    const f = policy.schema.findField(p.field);
    if (!f) continue;
    for (const x of p.ids) {
      if (!hasColumn(f)) {
        const there = file.db.prepare(`SELECT 1 FROM ${sqlName(f.tableId)} WHERE id = ?`).get(x);
        if (there)
          file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(linkTableName(f))} (record_id, target_id) VALUES (?, ?)`).run(x, row.id);
      } else
        file.db.prepare(`UPDATE ${sqlName(f.tableId)} SET ${sqlName(f.id)} = ? WHERE id = ? AND ${sqlName(f.id)} IS NULL`).run(row.id, x);
      storeCompanyOf(file, policy, f.tableId, x);
    }
  }
}

/** Records that have been in the bin too long are gone for good; `before` is an ISO 8601 time. */
export function emptyBin(file: PortalFile, before: string): number {
  return transact(file, () => {
    // With them goes what was said about them, what was accepted of them, and who has read them.
    const ids = "SELECT record_id FROM sys_removed WHERE at < ?";
    for (const table of ["sys_talk", "sys_acceptances", "sys_reads"])
      file.db.prepare(`DELETE FROM ${table} WHERE record_id IN (${ids})`).run(before);
    return file.orm.delete(t.removed).where(lt(t.removed.at, before)).run().changes;
  });
}
