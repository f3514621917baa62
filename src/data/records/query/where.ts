/** What a list is asked for, and the one predicate that every way to client-visible records passes through. */

import { guarded } from "@/core/access/guarded";
import type { Policy } from "@/core/access/policy";
import { all, type Predicate } from "@/core/access/predicate";
import { exportScopes, knownFields, type Scope, scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import type { Condition } from "@/core/schema/condition";
import type { FieldKind } from "@/core/schema/fields/kind";
import { isLine, pointsToOne } from "@/core/schema/fields/natures";
import { kindOf } from "@/core/schema/types";
import type { Position, Sort } from "./order";

export interface ListQuery {
  readonly condition?: Condition | null;
  readonly search?: string;
  readonly sort?: readonly Sort[];
  readonly limit: number;
  readonly offset?: number;
  readonly after?: Position;
  /** From its end: the last records, in the list's own order all the same. */
  readonly fromEnd?: boolean;
  /** Only these fields (of those that are visible). */
  readonly only?: ReadonlySet<string>;
  /** Narrows further; made by the core from another viewer's scope for the owner, never from a request. */
  readonly within?: Predicate;
  /** Exports need their own grant. */
  readonly forExport?: boolean;
}

export const scopesFor = (policy: Policy, viewer: Viewer, table: string, q: Pick<ListQuery, "forExport">): readonly Scope[] =>
  q.forExport ? exportScopes(policy, viewer, table) : [scope(policy, viewer, table)];

export function wherePredicate(policy: Policy, viewer: Viewer, table: string, q: Omit<ListQuery, "limit">): Predicate {
  const parts = scopesFor(policy, viewer, table, q).map((s) => s.predicate);
  if (q.within) parts.push(q.within);
  if (q.condition) parts.push(guarded(policy, viewer, q.condition));
  if (q.search?.trim()) parts.push(guarded(policy, viewer, searchCondition(policy, viewer, table, q.search.trim())));
  return all(parts);
}

/** Text fields, choices and the names of related records, as far as they are known to the viewer. */
export function searchCondition(policy: Policy, viewer: Viewer, table: string, words: string): Condition {
  const known = new Set(knownFields(policy, viewer, table));
  const of = policy.schema
    .table(table)
    .fields.filter((f) => known.has(f.id) && !f.options.offSearch)
    .flatMap((f): Condition[] => {
      const has = (path: string[], found: ReturnType<NonNullable<FieldKind["search"]>>): Condition[] =>
        found ? [{ kind: "test", path, operator: found.operator, operands: [{ kind: "literal", value: found.value }] }] : [];
      const own = kindOf(f).search;
      if (own) return has([f.id], own(words, f));
      if (!pointsToOne(f)) return [];
      const label = policy.schema.field(policy.schema.table(f.options.target).labelFieldId);
      if (!isLine(label) || label.options.offSearch || !knownFields(policy, viewer, f.options.target).includes(label.id)) return [];
      return has([f.id, label.id], { operator: "contains", value: words });
    });
  return { kind: "any", of };
}
