/**
 * The hinge of access: a condition with every value of the viewer filled in. Plain frozen data, two-valued (an empty value
 * makes a comparison false, never "unknown"). Three readers: `match` in memory, `compile` to SQL, `explain` in words.
 */
import type { Operator } from "../schema/operators";
import type { Scalar } from "../schema/types";

export type Predicate =
  | { readonly kind: "always" }
  | { readonly kind: "never" }
  | { readonly kind: "all"; readonly of: readonly Predicate[] }
  | { readonly kind: "any"; readonly of: readonly Predicate[] }
  | { readonly kind: "not"; readonly of: Predicate }
  /** The record is owned by this company (stored in the row by the system). */
  | { readonly kind: "owned"; readonly company: string }
  /** The record is one of these. */
  | { readonly kind: "among"; readonly ids: readonly string[] }
  | { readonly kind: "compare"; readonly field: string; readonly operator: Operator; readonly values: readonly Scalar[] }
  /** At least one record reached through the relation satisfies `of`; a to-one relation that is empty counts as `orEmpty`. */
  | { readonly kind: "via"; readonly field: string; readonly of: Predicate; readonly orEmpty: boolean };

export const always: Predicate = Object.freeze({ kind: "always" });
export const never: Predicate = Object.freeze({ kind: "never" });

/** An empty "all of" is true. */
export function all(parts: readonly Predicate[]): Predicate {
  if (parts.length === 1) return parts[0]!;
  const of = parts.filter((p) => p.kind !== "always");
  if (of.some((p) => p.kind === "never")) return never;
  return of.length === 0 ? always : of.length === 1 ? of[0]! : Object.freeze({ kind: "all", of });
}

/** An empty "any of" is false: a viewer without grants sees nothing. */
export function any(parts: readonly Predicate[]): Predicate {
  const of = parts.filter((p) => p.kind !== "never");
  if (of.some((p) => p.kind === "always")) return always;
  return of.length === 0 ? never : of.length === 1 ? of[0]! : Object.freeze({ kind: "any", of });
}

/** The opposite of a predicate, in its simplest form. */
export function not(of: Predicate): Predicate {
  return of.kind === "always" ? never : of.kind === "never" ? always : of.kind === "not" ? of.of : Object.freeze({ kind: "not", of });
}

export const owned = (company: string): Predicate => Object.freeze({ kind: "owned", company });
/** Records with one of these ids; none of them is a predicate that never holds. */
export const among = (ids: readonly string[]): Predicate => (ids.length === 0 ? never : Object.freeze({ kind: "among", ids }));
export const compare = (field: string, operator: Operator, values: readonly Scalar[]): Predicate =>
  Object.freeze({ kind: "compare", field, operator, values });
export const via = (field: string, of: Predicate, orEmpty = false): Predicate => Object.freeze({ kind: "via", field, of, orEmpty });

/** Ids of the fields that decide, those of related records included. */
export function fieldsOf(p: Predicate, found: Set<string> = new Set()): ReadonlySet<string> {
  if (p.kind === "all" || p.kind === "any") for (const q of p.of) fieldsOf(q, found);
  else if (p.kind === "not") fieldsOf(p.of, found);
  else if (p.kind === "compare") found.add(p.field);
  else if (p.kind === "via") fieldsOf(p.of, found.add(p.field));
  return found;
}
