/** What a draft changes for one viewer in one table, from counts that somebody else takes. Pure. */

import { type CountPlan, differencePlan } from "../access/counting";
import type { Policy } from "../access/policy";
import { all, not, type Predicate } from "../access/predicate";
import { knownFields, ownedElsewhere, type Scope, scope } from "../access/scope";
import { sideOf, type Viewer } from "../access/who/viewer";
import { Memo } from "../memo";
import { waysToCompanies } from "../schema/ways";

export interface Shift {
  readonly table: string;
  readonly gained: number;
  readonly lost: number;
  /** How many of the records gained belong to another company. */
  readonly crossing: number;
  readonly fieldsGained: readonly string[];
  readonly fieldsLost: readonly string[];
}

/** Counters for the two directions: a grant may have one id and two meanings, so what was counted is kept apart. */
export interface ShiftCounts {
  gained(table: string, plan: CountPlan): number;
  lost(table: string, plan: CountPlan): number;
  where(table: string, predicate: Predicate): number;
}

/** Tables in which anything can differ; roles and plans reach into all of them. */
export function touchedTables(before: Policy, after: Policy, plansDiffer: boolean): string[] {
  const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);
  const rolesDiffer = !same(
    before.rules.roles.map((r) => [r.id, r.side, r.includes, r.companyId ?? null]),
    after.rules.roles.map((r) => [r.id, r.side, r.includes, r.companyId ?? null]),
  );
  return after.schema.tables
    .map((t) => t.id)
    .filter((t) => rolesDiffer || plansDiffer || after.movedWalls.has(t) || !same(before.grantsOn(t), after.grantsOn(t)));
}

const gains = new Memo<Scope, Scope, Predicate>();

/** Records that the viewer sees after and not before: one predicate for all who share both scopes, so that it is counted once. */
export function gainedBy(before: Policy, after: Policy, was: Viewer, is: Viewer, table: string): Predicate {
  const [from, to] = [scope(before, was, table), scope(after, is, table)];
  return gains.of(to, from, () => all([to.predicate, not(from.predicate)]));
}

/** `was` and `is` are the same person under the two definitions: a plan that changes changes what their company has. */
export function shiftOf(before: Policy, after: Policy, was: Viewer, is: Viewer, table: string, counts: ShiftCounts): Shift | null {
  const alike = was === is;
  const gained = alike
    ? counts.gained(table, differencePlan(after, before, is, table))
    : counts.where(table, gainedBy(before, after, was, is, table));
  const lost = alike
    ? counts.lost(table, differencePlan(before, after, is, table))
    : counts.where(table, gainedBy(after, before, is, was, table));
  const [had, has] = [knownFields(before, was, table), knownFields(after, is, table)];
  const fieldsGained = has.filter((f) => !had.includes(f));
  const fieldsLost = had.filter((f) => !has.includes(f));
  if (gained + lost + fieldsGained.length + fieldsLost.length === 0) return null;
  const foreign = gained > 0 ? crossingBy(before, after, was, is, table) : null;
  return { table, gained, lost, crossing: foreign ? counts.where(table, foreign) : 0, fieldsGained, fieldsLost };
}

/**
 * Only a change of wall can let a record of another company through. Its owner is the one that the published wall names; of a
 * table that was the agency's alone or shared, the one that its shortest way of relations to a company leads to. Null where nothing
 * can cross.
 */
export function crossingBy(before: Policy, after: Policy, was: Viewer, is: Viewer, table: string): Predicate | null {
  const side = sideOf(is);
  if (!after.movedWalls.has(table) || (side !== "client" && side !== "visitor")) return null;
  const wall = before.wall(table);
  const path = wall.kind === "owned" ? wall.path : waysToCompanies(before.schema, before.schema.table(table))[0];
  return path ? ownedElsewhere(gainedBy(before, after, was, is, table), path, is.company?.id ?? null) : null;
}
