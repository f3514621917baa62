/**
 * A filter as an editor holds it: groups and tests with keys of their own, and values as they were typed. Every condition can
 * be edited, and what comes back means the same.
 */

import { z } from "zod";
import { MOST_DEPTH, testedField } from "../access/sound";
import { err, ok, type Result } from "../result";
import { type Condition, dateAnchor, type Operand, SELF, type Test } from "../schema/condition";
import { isDay, isMoment, isRelation } from "../schema/fields/natures";
import { OPERATORS, takesList, takesNoValue } from "../schema/operators";
import {
  comparedWith,
  type Field,
  type FieldType,
  kindOf,
  operatorsFor,
  type Scalar,
  type Schema,
  single,
  type Table,
} from "../schema/types";

const operandDraft = z.strictObject({
  from: z.enum(["literal", "person", "company", "bought", "date"]),
  /** The viewer's field; null is the person or company itself. */
  field: z.string().nullable(),
  /** Typed words, ids of chosen records, or chosen words; one unless the comparison takes a list. */
  values: z.array(z.string().max(4000)).max(10_000),
  anchor: dateAnchor,
  days: z.string().max(10),
});
export type OperandDraft = z.infer<typeof operandDraft>;

const testDraft = z.strictObject({
  kind: z.literal("test"),
  key: z.string().max(40),
  path: z.array(z.string()).min(1).max(4),
  operator: z.enum(OPERATORS),
  operands: z.array(operandDraft).max(2),
});
export type TestDraft = z.infer<typeof testDraft>;

export const JOINS = ["all", "any", "none"] as const;
export interface GroupDraft {
  kind: "group";
  key: string;
  /** All of these hold, any of them, or none of them. */
  join: (typeof JOINS)[number];
  of: (TestDraft | GroupDraft)[];
}

export const groupDraft: z.ZodType<GroupDraft, GroupDraft> = z.lazy(() =>
  z.strictObject({
    kind: z.literal("group"),
    key: z.string().max(40),
    join: z.enum(JOINS),
    of: z.array(z.union([testDraft, groupDraft])).max(50),
  }),
);

/** True where a value nests groups deeper than filters go; asked before parsing, so that no parser is led down without end. */
export function nestsTooDeep(value: unknown, left = MOST_DEPTH): boolean {
  const of = typeof value === "object" && value !== null && "of" in value ? value.of : null;
  return Array.isArray(of) && of.length > 0 && (left === 0 || of.some((x) => nestsTooDeep(x, left - 1)));
}

/** A filter as a page sends it. */
export const sentFilter = z
  .custom<GroupDraft>((sent) => !nestsTooDeep(sent), "Groups may be nested eight deep, no deeper.")
  .pipe(groupDraft);

export const EMPTY_OPERAND: OperandDraft = { from: "literal", field: null, values: [], anchor: "today", days: "0" };

/** Numbers and money are stored as integers and read as people write them; ids stand as they are. */
const written = (v: Scalar, field: Field | undefined): string =>
  field && !isRelation(field) ? (kindOf(single(field)).texts(v, single(field))[0] ?? "") : String(v);

/** A condition as the filter builder holds it, each part with a key of its own. */
export function toDraft(c: Condition | null, schema: Schema, newKey: () => string): GroupDraft {
  const group = (join: GroupDraft["join"], of: readonly Condition[]): GroupDraft => ({
    kind: "group",
    key: newKey(),
    join,
    of: of.map(part),
  });
  const part = (x: Condition): TestDraft | GroupDraft => {
    if (x.kind === "test")
      return { kind: "test", key: newKey(), path: x.path, operator: x.operator, operands: x.operands.map((o) => operand(o, x)) };
    if (x.kind === "not") return group("none", x.of.kind === "any" ? x.of.of : [x.of]);
    return group(x.kind, x.of);
  };
  const operand = (o: Operand, t: Test): OperandDraft => {
    if (o.kind === "viewer") return { ...EMPTY_OPERAND, from: o.of, field: o.field };
    if (o.kind === "date") return { ...EMPTY_OPERAND, from: "date", anchor: o.anchor, days: String(o.days) };
    const field = schema.findField(t.path[t.path.length - 1]!);
    return { ...EMPTY_OPERAND, values: (Array.isArray(o.value) ? o.value : [o.value]).map((v) => written(v, field)) };
  };
  const whole = c ? part(c) : group("all", []);
  return whole.kind === "group" ? whole : { kind: "group", key: newKey(), join: "all", of: [whole] };
}

export interface DraftProblem {
  /** Key of the test or group that the message stands beside. */
  readonly key: string;
  readonly message: string;
}

/** Null is "every record". An empty group inside is a mistake. */
export function fromDraft(d: GroupDraft, table: Table, schema: Schema): Result<Condition | null, DraftProblem[]> {
  const problems: DraftProblem[] = [];
  const group = (g: GroupDraft, depth: number): Condition => {
    if (depth > MOST_DEPTH) problems.push({ key: g.key, message: "Groups may be nested eight deep, no deeper." });
    if (g.of.length === 0 && depth > 1) problems.push({ key: g.key, message: "Add a test to this group, or take the group away." });
    const of = g.of.map((x) => (x.kind === "group" ? group(x, depth + 1) : test(x)));
    if (g.join === "none") return { kind: "not", of: of.length === 1 ? of[0]! : { kind: "any", of } };
    return of.length === 1 ? of[0]! : { kind: g.join, of };
  };
  const test = (t: TestDraft): Condition => {
    const read = readTest(t, table, schema);
    if (read.ok) return read.value;
    problems.push({ key: t.key, message: read.error });
    return { kind: "all", of: [] };
  };
  // "Any of nothing" holds of no record, and must not turn into "no filter".
  if (d.of.length === 0 && d.join === "any") return err([{ key: d.key, message: "“Any of these” needs a test, or nothing would match." }]);
  const whole = d.of.length === 0 ? null : group(d, 1);
  return problems.length > 0 ? err(problems) : ok(whole);
}

function readTest(t: TestDraft, table: Table, schema: Schema): Result<Test, string> {
  const field = testedField(t.path, table.id, schema);
  if (!field) return err("Choose a field that is there.");
  const type: FieldType = field === SELF ? "relation" : field.type;
  const name = field === SELF ? "The record itself" : field.name;
  if (!operatorsFor(type).includes(t.operator)) return err(`${name} cannot be compared like that. Choose another comparison.`);
  const test = (operands: Operand[]): Result<Test, string> => ok({ kind: "test", path: t.path, operator: t.operator, operands });
  if (takesNoValue(t.operator)) return test([]);
  const wanted = t.operator === "between" ? 2 : 1;
  const operands: Operand[] = [];
  for (let i = 0; i < wanted; i++) {
    const read = readOperand(t.operands[i] ?? EMPTY_OPERAND, t, field === SELF ? null : field, name, schema);
    if (!read.ok) return read;
    operands.push(read.value);
  }
  return test(operands);
}

function readOperand(o: OperandDraft, t: TestDraft, field: Field | null, name: string, schema: Schema): Result<Operand, string> {
  if (o.from === "bought") return ok({ kind: "viewer", of: "bought", field: null });
  if (o.from === "person" || o.from === "company") {
    const of = o.from === "person" ? schema.people : schema.companies;
    if (o.field !== null && schema.findField(o.field)?.tableId !== of.id)
      return err(`Choose which value of the ${o.from} to compare with.`);
    return ok({ kind: "viewer", of: o.from, field: o.field });
  }
  if (o.from === "date") {
    const days = Number(o.days.trim() || "0");
    const instant = field !== null && isMoment(field);
    if (!(field && isDay(field)) && !instant) return err(`${name} is no date, so it cannot be compared with a day.`);
    if (!Number.isInteger(days) || Math.abs(days) > 36_600) return err("Write a whole number of days, such as 30.");
    return ok(instant ? { kind: "date", anchor: o.anchor, days, instant } : { kind: "date", anchor: o.anchor, days });
  }
  const values: Scalar[] = [];
  for (const text of o.values.map((v) => v.trim()).filter(Boolean)) {
    const one = field && comparedWith(field, t.operator);
    const read = one ? kindOf(one).parse([text], one) : ok(text);
    if (!read.ok) return err(`${name}: ${read.error}`);
    if (read.value !== null) values.push(read.value as Scalar);
  }
  if (values.length === 0) return err(`${name}: give a value to compare with.`);
  if (!takesList(t.operator) && values.length > 1) return err(`${name}: give one value here.`);
  return ok({ kind: "literal", value: takesList(t.operator) ? (values as string[]) : values[0]! });
}
