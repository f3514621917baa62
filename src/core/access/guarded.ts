/**
 * Conditions that a viewer supplies (filter, search, sort): they may test only what that viewer reads on that very record.
 * A field hidden on a row, or a related record out of sight, counts as empty, so no answer depends on what is hidden.
 */

import type { Condition } from "../schema/condition";
import { pointsToOne } from "../schema/fields/natures";
import { holdsOfEmpty, type Operator } from "../schema/operators";
import type { Scalar } from "../schema/types";
import type { Policy } from "./policy";
import { all, among, any, compare, not, type Predicate, via } from "./predicate";
import { type Reach, resolve } from "./resolve";
import type { Action } from "./rules";
import { fieldWhere, relationTarget, scope } from "./scope";
import type { Viewer } from "./who/viewer";

/**
 * The records that a condition is about, as far as this viewer may read the fields that it asks of: it never tells what they may not see.
 */
export function guarded(policy: Policy, viewer: Viewer, condition: Condition | null): Predicate {
  return resolve(condition, viewer, reachOf(policy, viewer));
}

/** Where a field of a record in scope may be read, with its table found from the schema. */
export function readable(policy: Policy, viewer: Viewer, field: string, action: Action = "see"): Predicate {
  return fieldWhere(scope(policy, viewer, policy.schema.field(field).tableId, action), field);
}

function reachOf(policy: Policy, viewer: Viewer): Reach {
  const guard = (field: string, p: Predicate, orEmpty: boolean): Predicate => {
    const where = readable(policy, viewer, field);
    return orEmpty ? any([p, not(where)]) : all([where, p]);
  };
  const seen = (field: string): Predicate => scope(policy, viewer, relationTarget(policy, field)!).predicate;

  const leaf = (field: string, operator: Operator, values: readonly Scalar[]): Predicate => {
    if (!relationTarget(policy, field)) return guard(field, compare(field, operator, values), holdsOfEmpty(operator));
    return guard(field, relationLeaf(field, operator, values.map(String), seen(field)), holdsOfEmpty(operator));
  };
  const hop = (field: string, of: Predicate, orEmpty: boolean): Predicate => {
    const arrives = via(field, seen(field));
    const there = via(field, all([seen(field), of]));
    const single = pointsToOne(policy.schema.field(field));
    return guard(field, orEmpty && single ? any([there, not(arrives)]) : there, orEmpty && single);
  };
  return { leaf, hop };
}

function relationLeaf(field: string, operator: Operator, ids: readonly string[], seen: Predicate): Predicate {
  const hasAny = via(field, all([seen, among(ids)]));
  switch (operator) {
    case "is":
    case "any-of":
    case "has-any":
      return hasAny;
    case "is-not":
    case "none-of":
    case "has-none":
      return not(hasAny);
    case "has-all":
      return all(ids.map((id) => via(field, all([seen, among([id])]))));
    case "is-empty":
      return not(via(field, seen));
    case "is-not-empty":
      return via(field, seen);
    default:
      throw new Error(`Operator ${operator} does not apply to a relation; operatorsFor() offers none such.`);
  }
}
