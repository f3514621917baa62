/** Where a change is allowed, as one predicate over the records as they are: the check and the change can then be one statement. */
import { isRelation } from "../schema/fields/natures";
import type { Policy } from "./policy";
import { all, always, any, fieldsOf, type Predicate } from "./predicate";
import type { Scope } from "./scope";

/**
 * Means the same as `decideChange`, for changes that cannot themselves turn the decision: no relation among the changed
 * fields, and none that the scopes test. Null for all others, which are decided on the record before and after.
 */
export function changeWhere(policy: Policy, see: Scope, change: Scope, changed: readonly string[]): Predicate | null {
  if (changed.some((id) => isRelation(policy.schema.field(id)))) return null;
  if (change.everything) return always;
  // Fields that the same grants list ask the same.
  const listed = new Map<string, Predicate>();
  for (const id of changed) {
    const grants = change.grants.filter((g) => g.grant.changes.includes(id));
    listed.set(grants.map((g) => g.grant.id).join(), any(grants.map((g) => g.predicate)));
  }
  const where = all([see.predicate, wallBeyond(see, change), ...(listed.size > 0 ? listed.values() : [change.predicate])]);
  const tested = fieldsOf(where);
  return changed.some((id) => tested.has(id)) ? null : where;
}

/** Seeing has passed the wall that changing would, but for people of the agency who are shown to clients. */
const wallBeyond = (see: Scope, change: Scope): Predicate =>
  JSON.stringify(see.wall) === JSON.stringify(change.wall) ? always : change.wall;
