/** Where a change is allowed, as one predicate over the records as they are: the check and the change can then be one statement. */
import { isRelation } from "../schema/types";
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
  const listed = changed.map((id) => any(change.grants.filter((g) => g.grant.changes.includes(id)).map((g) => g.predicate)));
  const where = all([see.predicate, change.predicate, ...listed]);
  const tested = fieldsOf(where);
  return changed.some((id) => tested.has(id)) ? null : where;
}
