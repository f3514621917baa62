/** What filters mean on empty values, relative dates and values of the viewer (the access document, "Record filters"). */
import { describe, expect, it } from "vitest";
import { testViewer } from "@/testing/world";
import type { Condition, Operand } from "../schema/condition";
import { SELF } from "../schema/condition";
import { type Field, type FieldType, Schema, type Value } from "../schema/types";
import { match } from "./match";
import { resolve } from "./resolve";
import type { Row, World } from "./row";

const field = (id: string, tableId: string, type: FieldType, target?: string): Field =>
  ({
    id,
    tableId,
    slug: id,
    name: id,
    type,
    options: target ? { target } : type === "number" ? { decimals: 0 } : type === "choice" || type === "choices" ? { choices: [] } : {},
    system: false,
  }) as Field;
const fields = [
  field("text", "a", "text"),
  field("number", "a", "number"),
  field("date", "a", "date"),
  field("one", "a", "relation", "b"),
  field("many", "a", "relations", "b"),
];
const schema = new Schema(1, [
  { id: "a", slug: "a", name: "A", singular: "A", kind: "ordinary", labelFieldId: "text", fields },
  { id: "b", slug: "b", name: "B", singular: "B", kind: "ordinary", labelFieldId: "name", fields: [field("name", "b", "text")] },
]);
const b = (id: string, name: Value): Row => ({ id, table: "b", companyId: null, values: { name } });
const rows: Record<string, Row> = { b1: b("b1", "x"), b2: b("b2", "y"), b3: b("b3", null) };
const world: World = { row: (_, id) => rows[id] };
const row = (values: Record<string, Value>): Row => ({ id: "r1", table: "a", companyId: "c1", values });

const literal = (value: string | number | string[]): Operand => ({ kind: "literal", value });
const test = (path: string, operator: string, ...operands: Operand[]): Condition =>
  ({ kind: "test", path: path.split("."), operator, operands }) as Condition;
const viewer = testViewer({
  person: { id: "p", name: "P", status: "active", values: { sites: ["b1"], none: [], name: "Éa", blank: null } },
});
const holds = (c: Condition, values: Record<string, Value>): boolean => match(resolve(c, viewer), row(values), world, schema);
const mine = (f: string): Operand => ({ kind: "viewer", of: "person", field: f });

describe("empty values", () => {
  it.each([
    ["is not", test("text", "is-not", literal("x")), true],
    ["is", test("text", "is", literal("x")), false],
    ["less than", test("number", "less-than", literal(1)), false],
    ["more than", test("number", "more-than", literal(1)), false],
    ["none of", test("text", "none-of", literal(["x"])), true],
    ["is empty", test("text", "is-empty"), true],
    ["is not empty", test("text", "is-not-empty"), false],
    ["has none of", test("many", "has-none", literal(["b1"])), true],
    ["has all of", test("many", "has-all", literal(["b1"])), false],
  ])("%s", (_, condition, wanted) => expect(holds(condition, { text: null, number: null, many: [] })).toBe(wanted));
});

describe("values of the viewer", () => {
  it("are compared ignoring case", () => expect(holds(test("text", "is", mine("name")), { text: "éA" })).toBe(true));
  it("an empty one matches nothing, is not included", () => {
    for (const operator of ["is", "is-not"]) expect(holds(test("text", operator, mine("blank")), { text: "x" })).toBe(false);
    for (const operator of ["any-of", "none-of"]) expect(holds(test("one", operator, mine("none")), { one: "b1" })).toBe(false);
  });
  it("a list against a one-value operator reads as any of, none of", () => {
    expect(holds(test("one", "is", mine("sites")), { one: "b1" })).toBe(true);
    const two = testViewer({ person: { id: "p", name: "P", status: "active", values: { sites: ["b1", "b2"] } } });
    const is = (operator: string, one: string): boolean =>
      match(resolve(test("one", operator, mine("sites")), two), row({ one }), world, schema);
    expect([is("is", "b2"), is("is", "b3"), is("is-not", "b2"), is("is-not", "b3")]).toEqual([true, false, false, true]);
  });
  it("the record itself may be one of them", () => {
    const self = (ids: string[]): boolean =>
      match(
        resolve(
          { kind: "test", path: [SELF], operator: "any-of", operands: [mine("sites")] },
          testViewer({ person: { id: "p", name: "", status: "active", values: { sites: ids } } }),
        ),
        row({}),
        world,
        schema,
      );
    expect([self(["r1"]), self(["r2"]), self([])]).toEqual([true, false, false]);
  });
});

describe("hops", () => {
  it("a to-one hop that is empty reads as an empty value", () => {
    expect(holds(test("one.name", "is-not", literal("x")), { one: null })).toBe(true);
    expect(holds(test("one.name", "is-empty"), { one: null })).toBe(true);
    expect(holds(test("one.name", "is", literal("x")), { one: null })).toBe(false);
    expect(holds(test("one.name", "is-not", literal("x")), { one: "b3" })).toBe(true);
  });
  it("a to-many hop means at least one", () => {
    expect(holds(test("many.name", "is", literal("y")), { many: ["b1", "b2"] })).toBe(true);
    expect(holds(test("many.name", "is-not", literal("x")), { many: ["b1", "b2"] })).toBe(true);
    expect(holds(test("many.name", "is-not", literal("x")), { many: ["b1"] })).toBe(false);
    expect(holds(test("many.name", "is-not", literal("x")), { many: [] })).toBe(false);
  });
});

describe("relative dates, in the portal's time zone", () => {
  // 2026-06-15 is a Monday. At 23:30 UTC it is the 16th in London (summer time, UTC+1).
  const late = testViewer({ now: Date.UTC(2026, 5, 15, 23, 30), timeZone: "Europe/London" });
  const on = (anchor: "today" | "start of week" | "start of month" | "start of year", days: number, date: string): boolean =>
    match(resolve(test("date", "is", { kind: "date", anchor, days }), late), row({ date }), world, schema);
  it.each([
    ["today", 0, "2026-06-16"],
    ["today", -30, "2026-05-17"],
    ["start of week", 0, "2026-06-15"],
    ["start of month", -1, "2026-05-31"],
    ["start of year", 0, "2026-01-01"],
  ] as const)("%s %i is %s", (anchor, days, date) => expect(on(anchor, days, date)).toBe(true));
});

describe("combinations", () => {
  const yes = test("text", "is", literal("x"));
  const no = test("text", "is", literal("y"));
  it.each([
    ["all of nothing is true", { kind: "all", of: [] }, true],
    ["any of nothing is false", { kind: "any", of: [] }, false],
    ["all", { kind: "all", of: [yes, no] }, false],
    ["any", { kind: "any", of: [no, yes] }, true],
    ["not", { kind: "not", of: no }, true],
    ["not not", { kind: "not", of: { kind: "not", of: no } }, false],
  ] as [string, Condition, boolean][])("%s", (_, condition, wanted) => expect(holds(condition, { text: "X" })).toBe(wanted));
  it("no filter at all lets every record through", () => expect(match(resolve(null, viewer), row({}), world, schema)).toBe(true));
});
