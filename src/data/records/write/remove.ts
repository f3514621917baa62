/**
 * Removing a record for a viewer. What it was, and what pointed to it, goes into the bin, from where it comes back whole: see `bin.ts`. What
 * becomes of records that point to it, each relation says: they let go of it, keep it from being removed, or go with it.
 */

import { decide } from "@/core/access/decide";
import type { Policy } from "@/core/access/policy";
import type { Row } from "@/core/access/row";
import { knownFields } from "@/core/access/scope";
import { err, ok, type Result } from "@/core/result";
import { type Field, type Table, targetOf } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { Access } from "../../access";
import { record } from "../../events/record";
import type { PortalFile } from "../../file/open";
import { reached } from "../../file/points";
import * as t from "../../file/portal-tables";
import { transact } from "../../file/transact";
import { letGoOfAway } from "../../tables/away";
import { storeCompanyOf } from "../../tables/company";
import { hasColumn, linkTableName } from "../../tables/physical";
import { readRow, worldOf } from "../../tables/rows";
import { readRecord } from "../query/read";
import { by, made, refusal, type WriteError } from "./incoming";
import { unlikeSeen } from "./write";

/** What the bin keeps of a record. */
export interface Removed {
  row: Row;
  /** When and by whom it was made: undo must not make it younger. */
  made: { at: string | null; by: string | null };
  /** Relations of other records that pointed here and were emptied: undo fills them again where they are still empty. */
  pointed: { field: string; ids: string[] }[];
}

export interface Pointing {
  readonly field: string;
  readonly records: number;
}
export interface Removal {
  /** Relations of other records that pointed to it, and now point to nothing. For whoever may see all of them. */
  readonly pointed: readonly Pointing[];
  /** Records that went with it, by table. */
  readonly withIt: readonly { readonly table: string; readonly records: number }[];
}

const MOST_DEEP = 8;

/** Relations of the schema that may point to records of the table. */
const towards = (policy: Policy, tableId: string): Field[] =>
  policy.schema.tables.flatMap((x) => x.fields).filter((f) => targetOf(f) === tableId && !f.options.kept);

function pointingIds(file: PortalFile, f: Field, id: string): string[] {
  const [table, column, own] = hasColumn(f) ? [f.tableId, f.id, "id"] : [linkTableName(f), "target_id", "record_id"];
  return file.db
    .prepare(`SELECT ${sqlName(own)} FROM ${sqlName(table)} WHERE ${sqlName(column)} = ?`)
    .pluck()
    .all(id) as string[];
}

/** How many records point to one, by the field that does. For the owner: a client is not told of records out of sight. */
export const pointingTo = (file: PortalFile, policy: Policy, tableId: string, id: string): Pointing[] =>
  towards(policy, tableId)
    .filter((f) => f.id !== "f_person_companies")
    .map((f) => ({ field: f.id, records: pointingIds(file, f, id).length }))
    .filter((p) => p.records > 0);

/** `seen` is the version that the viewer had before them: a record that somebody changed since is not removed. */
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
    const going = gather(d, row);
    if (!going.ok) return err({ code: "invalid", errors: [{ field: table.labelFieldId, message: going.error }] });
    const act = record(file, { ...by(d), kind: "record-removed", table: tableId, record: id, company: row.companyId, before: row.values });
    const pointed: Pointing[] = [];
    // Those that point first, so that nothing ever points to a record that is gone.
    for (const r of going.value) {
      const own = policy.schema.table(r.table);
      const emptied = putIntoBin(d, own, r.id, act);
      reached("removal: one is in the bin");
      if (r.id === id) pointed.push(...emptied);
      else record(file, { ...by(d), kind: "record-removed", table: r.table, record: r.id, cause: act });
    }
    const withIt = new Map<string, number>();
    for (const r of going.value) if (r.id !== id) withIt.set(r.table, (withIt.get(r.table) ?? 0) + 1);
    return ok({ pointed, withIt: [...withIt].map(([of, records]) => ({ table: of, records })) });
  });
}

/**
 * The record and all that goes with it, the farthest first. A relation that takes records with it does not reach into another company for
 * somebody who is not the owner, nor ends people and companies for anybody; who does not know a table is not told of it.
 */
function gather({ file, policy, viewer }: Access, root: Row): Result<{ table: string; id: string }[], string> {
  const found = new Map<string, { table: string; id: string }>();
  const within = (table: Table, x: string): boolean =>
    viewer.kind === "owner" || readRow(file, policy.schema, table, x)?.companyId === root.companyId;
  const walk = (table: string, at: string, deep: number): string | null => {
    if (found.has(at)) return null;
    if (deep > MOST_DEEP) return "Too many records would go with it, one after the other.";
    found.set(at, { table, id: at });
    for (const f of towards(policy, table)) {
      if (f.options.onRemoval !== "remove" && f.options.onRemoval !== "refuse") continue;
      for (const x of pointingIds(file, f, at)) {
        if (found.has(x)) continue;
        const own = policy.schema.table(f.tableId);
        if (f.options.onRemoval === "refuse" || own.kind !== "ordinary" || !within(own, x))
          return `It stays as long as ${knownFields(policy, viewer, own.id).length > 0 ? own.name : "other records"} point to it.`;
        const problem = walk(f.tableId, x, deep + 1);
        if (problem) return problem;
      }
    }
    return null;
  };
  const problem = walk(root.table, root.id, 0);
  return problem ? err(problem) : ok([...found.values()].reverse());
}

function putIntoBin(d: Access, table: Table, id: string, act: number): Pointing[] {
  const { file, policy } = d;
  const row = readRow(file, policy.schema, table, id)!;
  const madeBy = file.db
    .prepare(`SELECT created_at AS at, created_by AS "by" FROM ${sqlName(table.id)} WHERE id = ?`)
    .get(id) as Removed["made"];
  const body: Removed = { row, made: madeBy, pointed: detach(file, policy, table.id, id) };
  for (const f of table.fields) if (!hasColumn(f)) file.db.prepare(`DELETE FROM ${sqlName(linkTableName(f))} WHERE record_id = ?`).run(id);
  letGoOfAway(file, table.id, "?", id);
  file.db.prepare(`DELETE FROM ${sqlName(table.id)} WHERE id = ?`).run(id);
  const label = String(row.values[table.labelFieldId] ?? "").slice(0, 200);
  const { at, by: removedBy } = made(d);
  file.orm
    .insert(t.removed)
    .values({ recordId: id, tableId: table.id, body: JSON.stringify(body), at, label, removedBy, actId: act })
    .run();
  return body.pointed.map((p) => ({ field: p.field, records: p.ids.length }));
}

function detach(file: PortalFile, policy: Policy, tableId: string, id: string): Removed["pointed"] {
  const pointed: Removed["pointed"] = [];
  for (const f of towards(policy, tableId)) {
    const ids = pointingIds(file, f, id);
    if (ids.length === 0) continue;
    pointed.push({ field: f.id, ids });
    if (!hasColumn(f)) file.db.prepare(`DELETE FROM ${sqlName(linkTableName(f))} WHERE target_id = ?`).run(id);
    else {
      file.db.prepare(`UPDATE ${sqlName(f.tableId)} SET ${sqlName(f.id)} = NULL WHERE ${sqlName(f.id)} = ?`).run(id);
      for (const x of ids) storeCompanyOf(file, policy, f.tableId, x);
    }
  }
  return pointed;
}
