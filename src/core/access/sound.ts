/**
 * Whether a grant or wall still stands on fields that are there. A broken one opens nothing; the editors say what is wrong
 * with it, and publishing waits.
 */

import { type Condition, depthOf, type Operand, SELF, type Test, testsOf } from "../schema/condition";
import { isDay, isMoment, isRelation, pointsToSeveral } from "../schema/fields/natures";
import { takesList, takesNoValue } from "../schema/operators";
import { type Field, type FieldType, isEmpty, kindOf, operatorsFor, type Scalar, type Schema } from "../schema/types";
import type { Grant, Wall } from "./rules";

/** Deeper than people can read, and far from what could exhaust a reader. */
export const MOST_DEPTH = 8;
export const MOST_VALUES = 10_000;

const SELF_OPERATORS: readonly string[] = ["is", "is-not", "any-of", "none-of"];

/** Why a wall cannot stand, as sentences; none for a sound one. */
export function wallProblems(wall: Wall, tableId: string, schema: Schema): string[] {
  const table = schema.findTable(tableId);
  if (!table) return ["A wall stands around a table that is gone."];
  if (wall.kind !== "owned") return [];
  let at = tableId;
  for (const [i, hop] of wall.path.entries()) {
    const f = schema.findField(hop);
    if (!f || f.tableId !== at || !isRelation(f)) return [`The wall of ${table.name} goes through a relation that is not there.`];
    if (pointsToSeveral(f) && (i > 0 || wall.path.length > 1))
      return [`The wall of ${table.name} may not pass through a relation to many.`];
    at = f.options.target;
  }
  return at === schema.companies.id ? [] : [`The wall of ${table.name} does not lead to a company.`];
}

/** What keeps a grant from being read at all: such a grant opens nothing until it is mended. */
export function grantBreaks(g: Pick<Grant, "table" | "filter" | "fields" | "changes">, schema: Schema): string[] {
  if (!schema.findTable(g.table)) return ["its table is gone."];
  const foreign = [...g.fields, ...g.changes].some((f) => schema.findField(f)?.tableId !== g.table);
  return [...(foreign ? ["it lists a field of another table, or one that is gone."] : []), ...conditionBreaks(g.filter, g.table, schema)];
}

/** What a condition cannot be read by, each as a sentence; none where it is sound. */
export function conditionBreaks(c: Condition | null, tableId: string, schema: Schema): string[] {
  if (!c) return [];
  if (depthOf(c) > MOST_DEPTH) return ["the filter is nested more than eight deep."];
  return testsOf(c).flatMap((t) => pathBreaks(t, tableId, schema));
}

/** The field that a test's path ends at; SELF stands for the record itself. */
export function testedField(path: readonly string[], tableId: string, schema: Schema): Field | typeof SELF | undefined {
  let at: string | undefined = tableId;
  for (const [i, hop] of path.entries()) {
    const last = i === path.length - 1;
    if (hop === SELF && last && at) return SELF;
    const f = schema.findField(hop);
    if (!f || f.tableId !== at) return undefined;
    if (last) return f;
    at = isRelation(f) ? f.options.target : undefined;
  }
  return undefined;
}

function pathBreaks(t: Test, tableId: string, schema: Schema): string[] {
  const f = testedField(t.path, tableId, schema);
  if (!f) return ["the filter tests a field that is not there."];
  if (f === SELF) return SELF_OPERATORS.includes(t.operator) ? [] : [`the record itself cannot be compared with “${t.operator}”.`];
  if (!operatorsFor(f.type).includes(t.operator)) return [`${f.name} cannot be compared with “${t.operator}”.`];
  if (t.operands.length !== (takesNoValue(t.operator) ? 0 : t.operator === "between" ? 2 : 1))
    return [`the test of ${f.name} has the wrong number of values.`];
  return [];
}

/** What is wrong with a condition on a table, values included; each part names its cause. For editors and publishing. */
export function conditionProblems(c: Condition | null, tableId: string, schema: Schema): string[] {
  const breaks = conditionBreaks(c, tableId, schema);
  return breaks.length > 0 ? breaks : testsOf(c).flatMap((t) => valueProblems(t, tableId, schema));
}

const KIND_WORDS = { string: "text", number: "a number", boolean: "yes or no" } as const;

function valueProblems(t: Test, tableId: string, schema: Schema): string[] {
  const f = testedField(t.path, tableId, schema);
  const name = f === SELF || !f ? "the record itself" : f.name;
  const kind = f === SELF || !f ? "string" : kindOf(f).literal;
  return t.operands.flatMap((o) => operandProblems(o, t, name, kind, f === SELF || !f ? "relation" : f.type, schema));
}

/** Dates are compared with days, moments with the moments at which days begin. */
export const fitsDate = (o: Operand & { kind: "date" }, type: FieldType): boolean =>
  o.instant ? isMoment({ type }) : isDay({ type }) && o.anchor !== "now";

function operandProblems(
  o: Operand,
  t: Test,
  name: string,
  kind: "string" | "number" | "boolean",
  type: FieldType,
  schema: Schema,
): string[] {
  if (o.kind === "date") return fitsDate(o, type) ? [] : [`${name} is no date, so it cannot be compared with a day.`];
  if (o.kind === "viewer" && o.of === "bought") return [];
  if (o.kind === "viewer") {
    const of = o.of === "person" ? schema.people : schema.companies;
    const gone = o.field !== null && schema.findField(o.field)?.tableId !== of.id;
    return gone ? [`the test of ${name} compares with a field of the ${o.of} that is not there.`] : [];
  }
  const list: readonly Scalar[] = Array.isArray(o.value) ? (o.value as readonly Scalar[]) : [o.value as Scalar];
  if (Array.isArray(o.value) && !takesList(t.operator)) return [`${name} can be compared with one value here, not with a list.`];
  if (list.length > MOST_VALUES) return [`the list for ${name} is longer than ${MOST_VALUES.toLocaleString("en-GB")} values.`];
  if (list.length === 0 || list.some((v) => isEmpty(v))) return [`the test of ${name} has an empty value; nothing would match it.`];
  if (list.some((v) => typeof v !== kind)) return [`${name} is compared with something that is not ${KIND_WORDS[kind]}.`];
  return isDay({ type }) && list.some((v) => !/^\d{4}-\d\d-\d\d$/.test(String(v)))
    ? [`${name} is compared with something that is not a date.`]
    : [];
}
