/** An act done for a viewer. The agency settled what it sets, so the viewer needs no right to change those fields. */
import type { Act } from "@/core/access/act";
import { actValues } from "@/core/access/acts";
import { decide, decideFields } from "@/core/access/decide";
import { match } from "@/core/access/match";
import type { Row } from "@/core/access/row";
import { doingOf } from "@/core/access/rules";
import { scope } from "@/core/access/scope";
import { err, ok, type Result } from "@/core/result";
import type { Access } from "../../access";
import { spend } from "../../billing/ledger";
import { record } from "../../events/record";
import { newId } from "../../file/ids";
import { transact } from "../../file/transact";
import { claimFiles, strangeFiles } from "../../files/claim";
import { storeCompanyOf } from "../../tables/company";
import { readRow, worldOf } from "../../tables/rows";
import { insertRow, updateRow } from "../../tables/store";
import { keepAcceptance, readsAll, versionOf } from "../accept";
import { readRecord } from "../query/read";
import { automaticValues } from "./automatic";
import { automaticCompany, by, dangling, defaults, type Given, made, missing, ownerCompany, refusal, type WriteError } from "./incoming";
import { keptUnseen, withKept } from "./kept";
import { taken } from "./unique";

export interface Done {
  readonly id: string;
  /** By which it can be taken back. */
  readonly event: number;
}

/**
 * `id` names the record of an act that changes; null of one that adds. `filled` is what the viewer fills in beside it: the grant that
 * opens the act lists those fields in `changes`, as for any other write. What the act sets wins over it. `seen` is the version that whoever
 * accepts has before them: another one by now is not accepted.
 */
export function doAct(d: Access, act: Act, id: string | null, filled: Given, seen: string | null = null): Result<Done, WriteError> {
  const { file, policy, viewer } = d;
  if (act.on === "talk") return err({ code: "not-found" }); // done by writing a message
  const table = policy.schema.table(act.table);
  const world = worldOf(file, policy.schema);
  return transact(file, (): Result<Done, WriteError> => {
    const atAll = decide(policy, viewer, doingOf(act), act.table, null, world);
    if (atAll.outcome === "refused") return err(refusal(policy, atAll));
    // Only somebody who may do the act is told what it still needs from them.
    const set = actValues(act, viewer);
    if (!set.ok) {
      const message = `${act.name} needs a value of yours that is empty, so it cannot be done.`;
      return err({ code: "invalid", errors: [{ field: set.error.field, message }] });
    }
    const onOne = act.on === "change" || act.on === "accept";
    const before = onOne && id !== null ? readRow(file, policy.schema, table, id) : undefined;
    // A record the viewer cannot see is not there for them, and a refusal would say that it is.
    if (onOne && (!before || !readRecord(d, act.table, before.id))) return err({ code: "not-found" });
    const kept = before ? keptUnseen(d, table, before.id, before.values, filled) : {};
    const given = withKept(filled, kept);
    const automatic = act.on === "add" ? automaticCompany(policy, viewer, act.table) : null;
    const values: Given = {
      ...(before?.values ?? defaults(table, viewer)),
      ...given,
      ...set.value,
      ...(automatic ? { [automatic]: viewer.company!.id } : {}),
    };
    const recordId = before?.id ?? newId();
    const after: Row = { id: recordId, table: act.table, companyId: ownerCompany(policy, act.table, recordId, values, world), values };
    const decided = decide(policy, viewer, doingOf(act), act.table, before ?? after, world);
    if (decided.outcome === "refused") return err(refusal(policy, decided));
    const fields = decideFields(policy, viewer, doingOf(act), decided.grants, Object.keys(given), values, world, kept);
    if (fields.outcome === "refused") return err(refusal(policy, fields));
    // The wall holds after the act as before it: an act hands no record to another company.
    if (!match(scope(policy, viewer, act.table, doingOf(act)).wall, after, world, policy.schema))
      return err({ code: "not-allowed", reasons: [{ code: "after", table: act.table }] });
    const changes = { ...given, ...set.value };
    const version = act.on === "accept" && before ? versionOf(file, table, before, act.accepts ?? []) : null;
    if (version && !readsAll(d, table, recordId, act)) return err({ code: "not-found" });
    if (version && version.hash !== seen) return err({ code: "stale", now: readRecord(d, act.table, recordId)! });
    const of = { file, policy, viewer, table, id: recordId, company: after.companyId };
    const errors = [
      ...missing(table, values).filter((e) => !before || e.field in changes),
      ...dangling(policy, changes, world),
      ...taken(of, before ? changes : values),
      ...strangeFiles(d, table, recordId, changes, before?.values ?? null),
    ];
    if (errors.length > 0) return err({ code: "invalid", errors });
    const usedUp = before ? null : spend(d, after);
    if (usedUp) return err({ code: "used-up", ...usedUp });
    const beside = automaticValues(of, before ? changes : values, before?.values ?? null);
    if (version && before) keepAcceptance(d, act, before, version);
    if (before) updateRow(file, policy.schema, table, recordId, { ...changes, ...beside }, made(d));
    else insertRow(file, table, recordId, { ...values, ...beside }, made(d));
    claimFiles(d, table, recordId, changes);
    storeCompanyOf(file, policy, act.table, recordId);
    const was = before ? Object.fromEntries(Object.keys(changes).map((f) => [f, before.values[f] ?? null])) : null;
    const event = {
      table: act.table,
      record: recordId,
      company: (before ?? after).companyId,
      before: was,
      after: before ? changes : values,
    };
    return ok({
      id: recordId,
      event: record(file, { ...by(d), via: "act", kind: `act:${act.id}`, ...event, ...(version ? { detail: version.hash } : {}) }),
    });
  });
}
