/** Removing a record for a viewer, and its undo: what pointed to it points to it again. */
import { eq } from "drizzle-orm";
import { decide } from "@/core/access/decide";
import type { Policy } from "@/core/access/policy";
import { linked, type Row } from "@/core/access/row";
import { err, ok, type Result } from "@/core/result";
import { targetOf, type Value } from "@/core/schema/types";
import { record } from "../../events/record";
import type { PortalFile } from "../../file/open";
import * as t from "../../file/portal-tables";
import { transact } from "../../file/transact";
import type { Access, OwnerAccess } from "../access";
import { hasColumn, linkTableName } from "../query/physical";
import { readRecord } from "../query/read";
import { readRow, worldOf } from "../rows";
import { storeCompanyOf } from "./company";
import { by, made, refusal, type WriteError } from "./given";
import { insertRow } from "./store";
import { unlikeSeen } from "./write";

interface Removed {
  row: Row;
  /** When and by whom it was made: undo must not make it younger. */
  made: { at: string | null; by: string | null };
  /** Relations of other records that pointed here and were emptied: undo fills them again where they are still empty. */
  pointed: { field: string; ids: string[] }[];
}

/** Relations of other records that pointed to it, and now point to nothing. For whoever may see all of them. */
export interface Removal {
  readonly pointed: readonly { readonly field: string; readonly records: number }[];
}

/** `seen` as in changing: a record that somebody changed meanwhile is not removed. */
export function removeRecord(d: Access, tableId: string, id: string, seen: string | null = null): Result<Removal, WriteError> {
  const { file, policy, viewer } = d;
  const table = policy.schema.table(tableId);
  const world = worldOf(file, policy.schema);
  return transact(file, (): Result<Removal, WriteError> => {
    const row = readRow(file, policy.schema, table, id);
    if (!row || !readRecord(d, tableId, id)) return err({ code: "not-found" });
    const unlike = seen === null ? null : unlikeSeen(d, tableId, id, seen);
    if (unlike) return err(unlike);
    const decided = decide(policy, viewer, "remove", tableId, row, world);
    if (decided.outcome === "refused") return err(refusal(policy, decided));
    if (table.kind !== "ordinary") {
      const message = `${table.name} are ended under People and companies, not removed from the grid.`;
      return err({ code: "invalid", errors: [{ field: table.labelFieldId, message }] });
    }
    const madeBy = file.db.prepare(`SELECT created_at AS at, created_by AS "by" FROM "${tableId}" WHERE id = ?`).get(id) as Removed["made"];
    const body: Removed = { row, made: madeBy, pointed: detach(file, policy, tableId, id) };
    for (const f of table.fields) if (!hasColumn(f)) file.db.prepare(`DELETE FROM "${linkTableName(f)}" WHERE record_id = ?`).run(id);
    file.db.prepare(`DELETE FROM "${tableId}" WHERE id = ?`).run(id);
    file.orm
      .insert(t.removed)
      .values({ recordId: id, tableId, body: JSON.stringify(body), at: made(d).at })
      .run();
    record(file, { ...by(d), act: "removed", table: tableId, record: id, company: row.companyId, before: row.values });
    return ok({ pointed: body.pointed.map((p) => ({ field: p.field, records: p.ids.length })) });
  });
}

function detach(file: PortalFile, policy: Policy, tableId: string, id: string): Removed["pointed"] {
  const pointed: Removed["pointed"] = [];
  for (const f of policy.schema.tables.flatMap((x) => x.fields).filter((x) => targetOf(x) === tableId)) {
    const [table, column, own] = hasColumn(f) ? [f.tableId, f.id, "id"] : [linkTableName(f), "target_id", "record_id"];
    const ids = file.db.prepare(`SELECT "${own}" FROM "${table}" WHERE "${column}" = ?`).pluck().all(id) as string[];
    if (ids.length === 0) continue;
    pointed.push({ field: f.id, ids });
    if (!hasColumn(f)) file.db.prepare(`DELETE FROM "${table}" WHERE target_id = ?`).run(id);
    else {
      file.db.prepare(`UPDATE "${table}" SET "${column}" = NULL WHERE "${column}" = ?`).run(id);
      for (const x of ids) storeCompanyOf(file, policy, f.tableId, x);
    }
  }
  return pointed;
}

/** The record comes back under its own id. */
export function restoreRecord(d: OwnerAccess, id: string): Result<null, WriteError> {
  const { file, policy } = d;
  return transact(file, (): Result<null, WriteError> => {
    const binned = file.orm.select().from(t.removed).where(eq(t.removed.recordId, id)).get();
    if (!binned) return err({ code: "not-found" });
    const { row, made: first, pointed } = JSON.parse(binned.body) as Removed;
    const world = worldOf(file, policy.schema);
    const alive = Object.fromEntries(
      Object.entries(row.values).map(([f, v]): [string, Value] => {
        const target = targetOf(policy.schema.findField(f));
        if (!target) return [f, v];
        const there = linked(v).filter((x) => world.row(target, x));
        return [f, Array.isArray(v) ? there : (there[0] ?? null)];
      }),
    );
    insertRow(file, policy.schema.table(row.table), row.id, alive, made(d));
    file.db.prepare(`UPDATE "${row.table}" SET created_at = ?, created_by = ? WHERE id = ?`).run(first.at, first.by, row.id);
    for (const p of pointed) {
      const f = policy.schema.field(p.field);
      for (const x of p.ids) {
        if (!hasColumn(f)) file.db.prepare(`INSERT OR IGNORE INTO "${linkTableName(f)}" (record_id, target_id) VALUES (?, ?)`).run(x, id);
        else file.db.prepare(`UPDATE "${f.tableId}" SET "${f.id}" = ? WHERE id = ? AND "${f.id}" IS NULL`).run(id, x);
      }
    }
    storeCompanyOf(file, policy, row.table, id);
    for (const p of pointed) for (const x of p.ids) storeCompanyOf(file, policy, policy.schema.field(p.field).tableId, x);
    file.orm.delete(t.removed).where(eq(t.removed.recordId, id)).run();
    record(file, { ...by(d), act: "restored", table: row.table, record: id, company: row.companyId, after: alive });
    return ok(null);
  });
}
