/** From what an author wrote to what holds for one viewer now: values of the viewer and relative dates become literals. */

import { type Condition, type Operand, SELF, type Test } from "../schema/condition";
import { holdsOfEmpty, type Operator, takesList, takesNoValue } from "../schema/operators";
import { isEmpty, type Scalar, type Value } from "../schema/types";
import { addDays, anchorDate, dateIn } from "../time/relative";
import { startOfDay } from "../time/zoned";
import { all, among, any, compare, never, not, type Predicate, via } from "./predicate";
import { companyValue, personValue, type Viewer } from "./who/viewer";

/** The value that an operand stands for, for this viewer; null where they have none, such as a visitor's company. */
export function operandValue(operand: Operand, viewer: Viewer): Value {
  switch (operand.kind) {
    case "literal":
      return operand.value as Value;
    case "date":
      return dateValue(operand, viewer);
    case "viewer":
      if (operand.of === "bought") return viewer.bought;
      if (operand.of === "person") return operand.field ? personValue(viewer, operand.field) : (viewer.person?.id ?? null);
      return operand.field ? companyValue(viewer, operand.field) : (viewer.company?.id ?? null);
  }
}

function dateValue({ anchor, days, instant }: Operand & { kind: "date" }, { now, timeZone }: Viewer): string {
  if (instant && anchor === "now") return new Date(now + days * 86_400_000).toISOString();
  const day = addDays(anchorDate(anchor, dateIn(now, timeZone)), days);
  return instant ? startOfDay(day, timeZone) : day;
}

/** How a test's path is followed. The plain rule reads everything; `guarded.ts` reads only what the viewer sees. */
export interface Reach {
  leaf(field: string, operator: Operator, values: readonly Scalar[]): Predicate;
  hop(field: string, of: Predicate, orEmpty: boolean): Predicate;
}

const plain: Reach = { leaf: compare, hop: via };

function itself(operator: Operator, values: readonly Scalar[]): Predicate {
  const one = among(values.map(String));
  return operator === "is" || operator === "any-of" ? one : operator === "is-not" || operator === "none-of" ? not(one) : never;
}

/** A condition with the viewer's own values put in, as a predicate. No condition is met by every row. */
export function resolve(condition: Condition | null, viewer: Viewer, reach: Reach = plain): Predicate {
  if (!condition) return all([]);
  switch (condition.kind) {
    case "all":
      return all(condition.of.map((c) => resolve(c, viewer, reach)));
    case "any":
      return any(condition.of.map((c) => resolve(c, viewer, reach)));
    case "not":
      return not(resolve(condition.of, viewer, reach));
    case "test":
      return resolveTest(condition, viewer, reach);
  }
}

function resolveTest(test: Test, viewer: Viewer, reach: Reach): Predicate {
  const values: Scalar[] = [];
  for (const operand of test.operands) {
    const v = operandValue(operand, viewer);
    if (isEmpty(v)) return never; // an empty value of the viewer matches nothing, "is not" included
    values.push(...(Array.isArray(v) ? (v as readonly Scalar[]) : [v as Scalar]));
  }
  const { operator } = test;
  // A viewer's list against a one-value operator reads as "any of" or "none of"; the editor says so too.
  const widened = values.length > 1 && operator === "is" ? "any-of" : values.length > 1 && operator === "is-not" ? "none-of" : operator;
  if (!takesNoValue(widened) && values.length === 0) return never;
  if (widened === "between" && values.length !== 2) return never;
  if (!takesList(widened) && widened !== "between" && values.length > 1) return never;

  const hops = test.path.slice(0, -1);
  const last = test.path[test.path.length - 1]!;
  return hops.reduceRight(
    (p, hop) => reach.hop(hop, p, holdsOfEmpty(operator)),
    last === SELF ? itself(widened, values) : reach.leaf(last, widened, values),
  );
}
