/** Adding and changing records for a viewer: decide, store, store whose it is, record the event; one transaction. */

import { createHash } from "node:crypto";
import { decide, decideAdd, decideChange } from "@/core/access/decide";
import type { Row } from "@/core/access/row";
import { err, ok, type Result } from "@/core/result";
import { isRelation } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import { isEmpty, type Table } from "@/core/schema/types";
import type { Access } from "../../access";
import { spend } from "../../billing/ledger";
import { record } from "../../events/record";
import { newId } from "../../file/ids";
import { transact } from "../../file/transact";
import { claimFiles, strangeFiles } from "../../files/claim";
import { companyStored, storeCompanyOf } from "../../tables/company";
import { readRow, readSome, worldBefore, worldOf } from "../../tables/rows";
import { insertRow, updateRow } from "../../tables/store";
import { readRecord } from "../query/read";
import { automaticValues } from "./automatic";
import { changeWhereAllowed } from "./change-at-once";
import {
  automaticCompany,
  by,
  dangling,
  defaults,
  demandedFields,
  demandWords,
  type Given,
  made,
  missing,
  ownerCompany,
  refusal,
  type WriteError,
  withoutSystemFields,
} from "./incoming";
import { keptUnseen, withKept } from "./kept";
import { taken } from "./unique";

/** What a viewer sees of a record, as a strong validator (RFC 9110 section 8.8.3): hidden changes do not show in it. */
export const etagOf = (r: SeenRecord): string =>
  `"${createHash("sha256")
    .update(JSON.stringify([r.id, Object.entries(r.fields).sort()]))
    .digest("base64url")
    .slice(0, 22)}"`;

/**
 * Adds a record of what is given by field, decided, checked, stored and recorded in one transaction. Answers its id, or why not: "refused" with
 * the reason and nothing of what is hidden, "invalid" with a sentence for each field, "used-up" where an allowance is. Nothing stays where it
 * is refused. Throws where the table is none of the schema.
 */
export function addRecord(d: Access, tableId: string, given: Given): Result<{ id: string }, WriteError> {
  const { file, policy, viewer } = d;
  const table = policy.schema.table(tableId);
  const world = worldBefore(file, policy.schema);
  return transact(file, (): Result<{ id: string }, WriteError> => {
    const allowedAtAll = decide(policy, viewer, "add", tableId, null, world);
    if (allowedAtAll.outcome === "refused") return err(refusal(policy, allowedAtAll));
    const chosen = withoutSystemFields(d, table, given);
    const automatic = automaticCompany(policy, viewer, tableId);
    const values: Given = { ...defaults(table, viewer), ...chosen, ...(automatic ? { [automatic]: viewer.company!.id } : {}) };
    const id = newId();
    const lacking = demandsUnmet(d, table, "add", values);
    if (lacking.length > 0) return err({ code: "invalid", errors: lacking });
    const row: Row = { id, table: tableId, companyId: ownerCompany(policy, tableId, id, values, world), values };
    const decided = decideAdd(policy, viewer, row, Object.keys(chosen), world);
    if (decided.outcome === "refused") return err(refusal(policy, decided));
    const of = { file, policy, viewer, table, id, company: row.companyId };
    const errors = [
      ...missing(table, values),
      ...dangling(policy, values, world),
      ...taken(of, values),
      ...strangeFiles(d, table, id, values, null),
    ];
    if (errors.length > 0) return err({ code: "invalid", errors });
    // Last of all, so that nothing is spent on what is refused for another reason.
    const usedUp = spend(d, row);
    if (usedUp) return err({ code: "used-up", ...usedUp });
    const whole = { ...values, ...automaticValues(of, values, null) };
    insertRow(file, table, id, whole, made(d), companyStored(file, policy, tableId, row.companyId));
    claimFiles(d, table, id, whole);
    record(file, { ...by(d), kind: "record-added", table: tableId, record: id, company: row.companyId, after: whole });
    return ok({ id });
  });
}

/** The record as its editor sees it after the change: read when it is asked for. */
export interface Changed {
  readonly read: () => SeenRecord;
}

/** Fields among these values that the viewer's rules need and that are empty; on adding, those that are not given, too. */
function demandsUnmet(
  { policy, viewer }: Access,
  table: Table,
  action: "add" | "change",
  values: Given,
): { field: string; message: string }[] {
  return [...demandedFields(policy, viewer, table.id, action)].flatMap(([id, why]) => {
    const asked = action === "add" || id in values;
    return asked && isEmpty(values[id]) ? [{ field: id, message: demandWords(table, policy.schema.field(id), why) }] : [];
  });
}

/** `seen` is the validator of the record as the editor last saw it; null overwrites whatever is there. */
export function changeRecord(d: Access, tableId: string, id: string, given: Given, seen: string | null): Result<Changed, WriteError> {
  const { file, policy, viewer } = d;
  const table = policy.schema.table(tableId);
  const world = worldOf(file, policy.schema);
  return transact(file, (): Result<Changed, WriteError> => {
    const unlike = seen === null ? null : unlikeSeen(d, tableId, id, seen);
    if (unlike) return err(unlike);
    const named = withoutSystemFields(d, table, given);
    const changed = Object.keys(named);
    const was = readSome(file, policy.schema, table, id, changed);
    const kept = was ? keptUnseen(d, table, id, was.values, named) : {};
    const chosen = withKept(named, kept);
    const done = (company: string | null): Result<Changed, WriteError> => {
      // Written out: spread into an object with more, `by` would cost as much as the statement that stores the event.
      const { actor, via, at } = by(d);
      record(file, {
        actor,
        via,
        at,
        kind: "record-changed",
        table: tableId,
        record: id,
        company,
        before: was?.values ?? null,
        after: chosen,
      });
      return ok({ read: () => readRecord(d, tableId, id) ?? { id, fields: {} } });
    };
    if (was && changeWhereAllowed(d, table, id, chosen)) return done(was.companyId);
    // Not allowed, not there, not valid, or a change that may itself turn the decision: before and after are looked at.
    const before = readRow(file, policy.schema, table, id);
    if (!before) return err({ code: "not-found" });
    const values = { ...before.values, ...chosen };
    const after: Row = { ...before, values, companyId: ownerCompany(policy, tableId, id, values, world) };
    const decided = decideChange(policy, viewer, before, after, changed, world, kept);
    if (decided.outcome === "refused") {
      const why = refusal(policy, decided);
      const lacking = why.code === "not-allowed" ? demandsUnmet(d, table, "change", chosen) : [];
      return err(lacking.length > 0 ? { code: "invalid", errors: lacking } : why);
    }
    const of = { file, policy, viewer, table, id, company: after.companyId };
    // Moved to another company, all of its values stand beside others than before.
    const compared = after.companyId === before.companyId ? chosen : values;
    const errors = [
      ...missing(table, values).filter((e) => e.field in chosen),
      ...dangling(policy, chosen, world),
      ...taken(of, compared),
      ...strangeFiles(d, table, id, chosen, before.values),
    ];
    if (errors.length > 0) return err({ code: "invalid", errors });
    updateRow(file, policy.schema, table, id, { ...chosen, ...automaticValues(of, chosen, before.values) }, made(d));
    claimFiles(d, table, id, chosen);
    if (changed.some((f) => isRelation(policy.schema.field(f)))) storeCompanyOf(file, policy, tableId, id);
    return done(before.companyId);
  });
}

/** Why the record is not as its editor last saw it, if so. */
export function unlikeSeen(d: Access, tableId: string, id: string, seen: string): WriteError | null {
  const now = readRecord(d, tableId, id);
  if (!now) return { code: "not-found" };
  return seen === etagOf(now) ? null : { code: "stale", now };
}

/** Field ids of this record that the viewer may change; none where the record itself may not be changed. */
export function changeableFields(d: Access, tableId: string, id: string): string[] {
  const { file, policy, viewer } = d;
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
