/** Adding, changing and removing records for a viewer: decide, store, keep the company, write the audit row; one transaction. */
import { createHash } from "node:crypto";
import { eq } from "drizzle-orm";
import { decide, decideAdd, decideChange } from "@/core/access/decide";
import type { Policy } from "@/core/access/policy";
import { linked, type Row } from "@/core/access/row";
import type { Owner, Viewer } from "@/core/access/viewer";
import type { SeenRecord } from "@/core/records";
import { err, ok, type Result } from "@/core/result";
import { isRelation, type Value } from "@/core/schema/types";
import { audit } from "../../events/audit";
import { newId } from "../../file/ids";
import type { PortalFile } from "../../file/open";
import * as t from "../../file/portal-tables";
import { transact } from "../../file/transact";
import { readRecord } from "../query/read";
import { readRow, worldOf } from "../rows";
import { changeWhereAllowed } from "./change-at-once";
import { storeCompanyOf } from "./company";
import {
  actorOf,
  automaticCompany,
  dangling,
  defaults,
  type Given,
  missing,
  ownerCompany,
  refusal,
  type WriteError,
  withoutSystemFields,
} from "./given";
import { insertRow, updateRow } from "./store";

/** What a viewer sees of a record, as a strong validator (RFC 9110 section 8.8.3): hidden changes do not show in it. */
export const etagOf = (r: SeenRecord): string =>
  `"${createHash("sha256")
    .update(JSON.stringify([r.id, Object.entries(r.fields).sort()]))
    .digest("base64url")
    .slice(0, 22)}"`;

export function addRecord(
  file: PortalFile,
  policy: Policy,
  viewer: Viewer,
  tableId: string,
  given: Given,
): Result<{ id: string }, WriteError> {
  const table = policy.schema.table(tableId);
  const world = worldOf(file, policy.schema);
  return transact(file, (): Result<{ id: string }, WriteError> => {
    const allowedAtAll = decide(policy, viewer, "add", tableId, null, world);
    if (allowedAtAll.outcome === "refused") return err(refusal(policy, allowedAtAll));
    const chosen = withoutSystemFields(file, policy, viewer, table, given);
    const automatic = automaticCompany(policy, viewer, tableId);
    const values: Given = { ...defaults(table, viewer), ...chosen, ...(automatic ? { [automatic]: viewer.company!.id } : {}) };
    const id = newId();
    const row: Row = { id, table: tableId, companyId: ownerCompany(policy, tableId, id, values, world), values };
    const decided = decideAdd(policy, viewer, row, Object.keys(chosen), world);
    if (decided.outcome === "refused") return err(refusal(policy, decided));
    const errors = [...missing(table, values), ...dangling(policy, values, world)];
    if (errors.length > 0) return err({ code: "invalid", errors });
    insertRow(file, table, id, values, actorOf(viewer));
    storeCompanyOf(file, policy, tableId, id);
    audit(file, { actor: actorOf(viewer), act: "added", tableId, recordId: id });
    return ok({ id });
  });
}

/** The record as its editor sees it after the change: read when it is asked for. */
export interface Changed {
  readonly read: () => SeenRecord;
}

/** `seen` is the validator of the record as the editor last saw it; null overwrites whatever is there. */
export function changeRecord(
  file: PortalFile,
  policy: Policy,
  viewer: Viewer,
  tableId: string,
  id: string,
  given: Given,
  seen: string | null,
): Result<Changed, WriteError> {
  const table = policy.schema.table(tableId);
  const world = worldOf(file, policy.schema);
  return transact(file, (): Result<Changed, WriteError> => {
    if (seen !== null) {
      const now = readRecord(file, policy, viewer, tableId, id);
      if (!now) return err({ code: "not-found" });
      if (seen !== etagOf(now)) return err({ code: "stale", now });
    }
    const chosen = withoutSystemFields(file, policy, viewer, table, given);
    const changed = Object.keys(chosen);
    const done = (): Result<Changed, WriteError> => {
      audit(file, { actor: actorOf(viewer), act: "changed", tableId, recordId: id, detail: changed.join(",") });
      return ok({ read: () => readRecord(file, policy, viewer, tableId, id) ?? { id, fields: {} } });
    };
    if (changeWhereAllowed(file, policy, viewer, table, id, chosen)) return done();
    // Not allowed, not there, not valid, or a change that may itself turn the decision: before and after are looked at.
    const before = readRow(file, policy.schema, table, id);
    if (!before) return err({ code: "not-found" });
    const values = { ...before.values, ...chosen };
    const after: Row = { ...before, values, companyId: ownerCompany(policy, tableId, id, values, world) };
    const decided = decideChange(policy, viewer, before, after, changed, world);
    if (decided.outcome === "refused") return err(refusal(policy, decided));
    const errors = [...missing(table, values).filter((e) => e.field in chosen), ...dangling(policy, chosen, world)];
    if (errors.length > 0) return err({ code: "invalid", errors });
    updateRow(file, policy.schema, table, id, chosen, actorOf(viewer));
    if (changed.some((f) => isRelation(policy.schema.field(f)))) storeCompanyOf(file, policy, tableId, id);
    return done();
  });
}

interface Removed {
  row: Row;
  /** When and by whom it was made: undo must not make it younger. */
  made: { at: string | null; by: string | null };
  /** Relations of other records that pointed here and were emptied: undo fills them again where they are still empty. */
  pointed: { field: string; ids: string[] }[];
}

export function removeRecord(file: PortalFile, policy: Policy, viewer: Viewer, tableId: string, id: string): Result<null, WriteError> {
  const table = policy.schema.table(tableId);
  const world = worldOf(file, policy.schema);
  return transact(file, (): Result<null, WriteError> => {
    const row = readRow(file, policy.schema, table, id);
    if (!row || !readRecord(file, policy, viewer, tableId, id)) return err({ code: "not-found" });
    const decided = decide(policy, viewer, "remove", tableId, row, world);
    if (decided.outcome === "refused") return err(refusal(policy, decided));
    if (table.kind !== "ordinary") {
      return err({
        code: "invalid",
        errors: [{ field: table.labelFieldId, message: `${table.name} are ended under People and companies, not removed from the grid.` }],
      });
    }
    const made = file.db.prepare(`SELECT created_at AS at, created_by AS "by" FROM "${tableId}" WHERE id = ?`).get(id) as Removed["made"];
    const body: Removed = { row, made, pointed: detach(file, policy, tableId, id) };
    for (const f of table.fields) if (f.type === "relations") file.db.prepare(`DELETE FROM "l_${f.id}" WHERE record_id = ?`).run(id);
    file.db.prepare(`DELETE FROM "${tableId}" WHERE id = ?`).run(id);
    file.orm
      .insert(t.removed)
      .values({ recordId: id, tableId, body: JSON.stringify(body), at: new Date().toISOString() })
      .run();
    audit(file, { actor: actorOf(viewer), act: "removed", tableId, recordId: id });
    return ok(null);
  });
}

function detach(file: PortalFile, policy: Policy, tableId: string, id: string): Removed["pointed"] {
  const pointed: Removed["pointed"] = [];
  for (const f of policy.schema.tables.flatMap((x) => x.fields).filter((x) => x.options.target === tableId)) {
    const many = f.type === "relations";
    const read = many ? `SELECT record_id FROM "l_${f.id}" WHERE target_id = ?` : `SELECT id FROM "${f.tableId}" WHERE "${f.id}" = ?`;
    const ids = file.db.prepare(read).pluck().all(id) as string[];
    if (ids.length === 0) continue;
    pointed.push({ field: f.id, ids });
    if (many) file.db.prepare(`DELETE FROM "l_${f.id}" WHERE target_id = ?`).run(id);
    else file.db.prepare(`UPDATE "${f.tableId}" SET "${f.id}" = NULL WHERE "${f.id}" = ?`).run(id);
    if (!many) for (const x of ids) storeCompanyOf(file, policy, f.tableId, x);
  }
  return pointed;
}

/** Undo of a removal: the record comes back under its own id, and what pointed to it points to it again. */
export function restoreRecord(file: PortalFile, policy: Policy, owner: Owner, id: string): Result<null, WriteError> {
  return transact(file, (): Result<null, WriteError> => {
    const binned = file.orm.select().from(t.removed).where(eq(t.removed.recordId, id)).get();
    if (!binned) return err({ code: "not-found" });
    const { row, made, pointed } = JSON.parse(binned.body) as Removed;
    const world = worldOf(file, policy.schema);
    const alive = Object.fromEntries(
      Object.entries(row.values).map(([f, v]): [string, Value] => {
        const target = policy.schema.findField(f)?.options.target;
        if (!target) return [f, v];
        const there = linked(v).filter((x) => world.row(target, x));
        return [f, Array.isArray(v) ? there : (there[0] ?? null)];
      }),
    );
    insertRow(file, policy.schema.table(row.table), row.id, alive, actorOf(owner));
    file.db.prepare(`UPDATE "${row.table}" SET created_at = ?, created_by = ? WHERE id = ?`).run(made.at, made.by, row.id);
    for (const p of pointed) {
      const f = policy.schema.field(p.field);
      for (const x of p.ids) {
        if (f.type === "relations") file.db.prepare(`INSERT OR IGNORE INTO "l_${f.id}" (record_id, target_id) VALUES (?, ?)`).run(x, id);
        else file.db.prepare(`UPDATE "${f.tableId}" SET "${f.id}" = ? WHERE id = ? AND "${f.id}" IS NULL`).run(id, x);
      }
    }
    storeCompanyOf(file, policy, row.table, id);
    for (const p of pointed) for (const x of p.ids) storeCompanyOf(file, policy, policy.schema.field(p.field).tableId, x);
    file.orm.delete(t.removed).where(eq(t.removed.recordId, id)).run();
    audit(file, { actor: actorOf(owner), act: "restored", tableId: row.table, recordId: id });
    return ok(null);
  });
}

/** Field ids of this record that the viewer may change; none where the record itself may not be changed. For showing a control, never for protecting. */
export function changeableFields(file: PortalFile, policy: Policy, viewer: Viewer, tableId: string, id: string): string[] {
  const table = policy.schema.table(tableId);
  const row = readRow(file, policy.schema, table, id);
  if (!row) return [];
  const decided = decide(policy, viewer, "change", tableId, row, worldOf(file, policy.schema));
  if (decided.outcome === "refused") return [];
  const grants = policy.rules.grants.filter((g) => decided.grants.includes(g.id));
  const automatic = automaticCompany(policy, viewer, tableId);
  return table.fields
    .filter((f) => !f.system && f.id !== automatic && (viewer.kind === "owner" || grants.some((g) => g.changes.includes(f.id))))
    .map((f) => f.id);
}
