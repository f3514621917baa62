/** One small function an operator: what each means on a value in memory. The SQL compiler means exactly the same. */
import type { Operator } from "../schema/operators";
import { type FieldType, isEmpty, kindOf, type Scalar, type Value } from "../schema/types";
import { compareCodePoints, fold } from "../text/fold";

type Meaning = (found: Scalar, wanted: readonly Scalar[]) => boolean;

const order = (a: Scalar, b: Scalar): number =>
  typeof a === "string" && typeof b === "string" ? compareCodePoints(a, b) : a === b ? 0 : a < b ? -1 : 1;

const one: Partial<Record<Operator, Meaning>> = {
  is: (f, [w]) => f === w,
  "is-not": (f, [w]) => f !== w,
  "any-of": (f, w) => w.includes(f),
  "none-of": (f, w) => !w.includes(f),
  contains: (f, [w]) => String(f).includes(String(w)),
  "starts-with": (f, [w]) => String(f).startsWith(String(w)),
  "less-than": (f, [w]) => order(f, w!) < 0,
  "at-most": (f, [w]) => order(f, w!) <= 0,
  "more-than": (f, [w]) => order(f, w!) > 0,
  "at-least": (f, [w]) => order(f, w!) >= 0,
  between: (f, [a, b]) => order(f, a!) >= 0 && order(f, b!) <= 0,
};

const many: Partial<Record<Operator, (found: readonly Scalar[], wanted: readonly Scalar[]) => boolean>> = {
  "has-any": (f, w) => w.some((x) => f.includes(x)),
  "has-all": (f, w) => w.every((x) => f.includes(x)),
  "has-none": (f, w) => !w.some((x) => f.includes(x)),
};

/** Whether values of the type are compared without regard to case. */
export const foldsCase = (type: FieldType): boolean => kindOf({ type }).folds;

export function holds(type: FieldType, operator: Operator, found: Value | undefined, wanted: readonly Scalar[]): boolean {
  if (operator === "is-empty") return isEmpty(found);
  if (operator === "is-not-empty") return !isEmpty(found);
  const listed = many[operator];
  if (listed) return listed(Array.isArray(found) ? (found as readonly Scalar[]) : [], wanted);
  if (isEmpty(found)) return operator === "is-not" || operator === "none-of";
  const meaning = one[operator];
  if (!meaning) throw new Error(`Operator ${operator} has no meaning in memory; add it beside the others.`);
  if (!foldsCase(type)) return meaning(found as Scalar, wanted);
  return meaning(
    fold(String(found)),
    wanted.map((w) => fold(String(w))),
  );
}
