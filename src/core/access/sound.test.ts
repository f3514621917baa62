/** Rules that outlive what they stand on: they open nothing, are named, and never throw. */
import { describe, expect, it } from "vitest";
import { testViewer } from "@/testing/world";
import { contradiction } from "../review/contradiction";
import type { Condition, Operand, Test } from "../schema/condition";
import { SELF } from "../schema/condition";
import { type Field, type FieldType, Schema, type Table } from "../schema/types";
import { Policy } from "./policy";
import type { Grant, Wall } from "./rules";
import { knownFields, scope } from "./scope";
import { conditionBreaks, conditionProblems, MOST_VALUES } from "./sound";
import { explain } from "./words/explain";

const field = (id: string, tableId: string, type: FieldType, target?: string): Field =>
  ({
    id,
    tableId,
    slug: id.replaceAll("_", "-"),
    name: id,
    type,
    options: target ? { target } : type === "number" ? { decimals: 0 } : type === "choice" || type === "choices" ? { choices: [] } : {},
    system: false,
  }) as Field;
const table = (id: string, kind: Table["kind"], fields: Field[]): Table => ({
  id,
  slug: id,
  name: id,
  singular: id,
  kind,
  labelFieldId: fields[0]!.id,
  fields,
});
const schema = new Schema(1, [
  table("companies", "companies", [field("c_name", "companies", "text")]),
  table("people", "people", [field("p_name", "people", "text")]),
  table("sites", "ordinary", [field("s_name", "sites", "text"), field("s_company", "sites", "relation", "companies")]),
  table("signs", "ordinary", [
    field("code", "signs", "text"),
    field("size", "signs", "number"),
    field("lit", "signs", "yes-no"),
    field("fitted", "signs", "date"),
    field("site", "signs", "relation", "sites"),
  ]),
]);
const literal = (value: string | number | boolean | string[] | number[]): Operand => ({ kind: "literal", value });
const test = (path: string, operator: Test["operator"], ...operands: Operand[]): Test => ({
  kind: "test",
  path: path.split("."),
  operator,
  operands,
});
const grant = (more: Partial<Grant>): Grant => ({
  id: "g",
  roles: ["lead"],
  table: "signs",
  actions: ["see"],
  filter: null,
  fields: ["code"],
  changes: [],
  ...more,
});
const shared: Wall = { kind: "shared" };
const policy = (grants: Grant[], wall: Wall = shared): Policy =>
  new Policy(schema, {
    roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
    walls: { signs: wall },
    grants,
  });
const viewer = testViewer({ roles: ["lead"] });
const row = { id: "r", table: "signs", companyId: "c1", values: { code: "x" } };

describe("broken grants", () => {
  it.each([
    [
      "a filter on a field that was removed",
      grant({ filter: test("gone", "is", literal("x")) }),
      "the filter tests a field that is not there.",
    ],
    [
      "a hop through a relation that was removed",
      grant({ filter: test("gone.s_name", "is", literal("x")) }),
      "the filter tests a field that is not there.",
    ],
    [
      "a hop through what is no relation",
      grant({ filter: test("code.s_name", "is", literal("x")) }),
      "the filter tests a field that is not there.",
    ],
    ["a field of another table", grant({ fields: ["code", "s_name"] }), "it lists a field of another table, or one that is gone."],
    [
      "a comparison that no longer fits",
      grant({ filter: test("lit", "contains", literal("x")) }),
      "lit cannot be compared with “contains”.",
    ],
    ["too many values", grant({ filter: test("size", "is", literal(1), literal(2)) }), "the test of size has the wrong number of values."],
    [
      "nested fifty deep",
      grant({ filter: Array.from({ length: 50 }).reduce<Condition>((of) => ({ kind: "not", of }), test("code", "is", literal("x"))) }),
      "the filter is nested more than eight deep.",
    ],
  ])("%s", (_, g, why) => {
    const sound = grant({ id: "other", fields: ["size"] });
    const p = policy([g, sound]);
    expect(p.broken.get("g")).toEqual([why]);
    expect(scope(p, viewer, "signs").grants.map((x) => x.grant.id)).toEqual(["other"]);
    expect(knownFields(p, viewer, "signs")).toEqual(["size"]);
    expect(scope(policy([g]), viewer, "signs").predicate.kind).toBe("never");
    expect(explain(policy([g]), viewer, "see", "signs", row, { row: () => undefined }).outcome).toBe("refused");
  });
});

describe("broken walls", () => {
  it.each([
    ["a relation that was removed", ["gone"], "The wall of signs goes through a relation that is not there."],
    ["a relation further on that was removed", ["site", "gone"], "The wall of signs goes through a relation that is not there."],
    ["a way that ends before a company", ["site"], "The wall of signs does not lead to a company."],
  ])("%s opens nothing to a client, and the agency keeps its own", (_, path, why) => {
    const p = policy([grant({}), grant({ id: "agency", roles: ["staff"] })], { kind: "owned", path });
    expect(p.brokenWalls.get("signs")).toEqual([why]);
    expect(scope(p, viewer, "signs").predicate.kind).toBe("never");
  });
  it("a sound one is none", () => expect(policy([], { kind: "owned", path: ["site", "s_company"] }).brokenWalls.size).toBe(0));
});

describe("values are looked at where a filter is kept", () => {
  it.each([
    ["text for a number", test("size", "at-most", literal("9")), "size is compared with something that is not a number."],
    ["a number for text", test("code", "is", literal(9)), "code is compared with something that is not text."],
    ["text for yes or no", test("lit", "is", literal("yes")), "lit is compared with something that is not yes or no."],
    ["a word for a date", test("fitted", "is", literal("soon")), "fitted is compared with something that is not a date."],
    [
      "a day for text",
      test("code", "is", { kind: "date", anchor: "today", days: 0 }),
      "code is no date, so it cannot be compared with a day.",
    ],
    ["a list for one", test("code", "is", literal(["a"])), "code can be compared with one value here, not with a list."],
    ["nothing", test("code", "any-of", literal([])), "the test of code has an empty value; nothing would match it."],
    [
      "a field of the person that is gone",
      test("code", "is", { kind: "viewer", of: "person", field: "c_name" }),
      "the test of code compares with a field of the person that is not there.",
    ],
    ["the record itself by less", test(SELF, "less-than", literal("x")), "the record itself cannot be compared with “less-than”."],
    [
      "a list beyond ten thousand",
      test("code", "any-of", literal(Array.from({ length: MOST_VALUES + 1 }, (_, i) => `v${i}`))),
      "the list for code is longer than 10,000 values.",
    ],
  ])("%s", (_, c, why) => expect(conditionProblems(c, "signs", schema)).toEqual([why]));
  it.each([
    ["ten thousand values", test("code", "any-of", literal(Array.from({ length: MOST_VALUES }, (_, i) => `v${i}`)))],
    ["three hops and the person", test("site.s_company", "is", { kind: "viewer", of: "company", field: null })],
    ["a day", test("fitted", "at-least", { kind: "date", anchor: "start of month", days: -3 })],
  ])("%s is sound", (_, c) => expect([...conditionProblems(c, "signs", schema), ...conditionBreaks(c, "signs", schema)]).toEqual([]));
});

describe("filters that nothing can satisfy", () => {
  const both = (...of: Condition[]): Condition => ({ kind: "all", of });
  it.each([
    ["one value and another", both(test("code", "is", literal("a")), test("code", "is", literal("b"))), true],
    ["the same in another case", both(test("code", "is", literal("a")), test("code", "is", literal("A"))), false],
    ["lists that do not meet", both(test("code", "any-of", literal(["a", "b"])), test("code", "any-of", literal(["c"]))), true],
    ["lists that meet", both(test("code", "any-of", literal(["a", "b"])), test("code", "is", literal("b"))), false],
    ["empty and a value", both(test("code", "is-empty"), test("code", "is", literal("a"))), true],
    ["empty and not empty", both(test("size", "is-empty"), test("size", "is-not-empty")), true],
    ["ranges apart", both(test("size", "less-than", literal(3)), test("size", "more-than", literal(5))), true],
    ["ranges that touch", both(test("size", "at-most", literal(3)), test("size", "at-least", literal(3))), false],
    ["ranges that touch, one open", both(test("size", "less-than", literal(3)), test("size", "at-least", literal(3))), true],
    [
      "dates apart",
      both(test("fitted", "between", literal("2026-01-01"), literal("2026-02-01")), test("fitted", "more-than", literal("2026-03-01"))),
      true,
    ],
    ["two fields", both(test("code", "is", literal("a")), test("size", "is", literal(1))), false],
    [
      "any of two that each cannot be",
      {
        kind: "any",
        of: [
          both(test("code", "is", literal("a")), test("code", "is", literal("b"))),
          both(test("lit", "is-empty"), test("lit", "is", literal(true))),
        ],
      } as Condition,
      true,
    ],
    [
      "any of one that can",
      {
        kind: "any",
        of: [both(test("code", "is", literal("a")), test("code", "is", literal("b"))), test("code", "is", literal("c"))],
      } as Condition,
      false,
    ],
    ["a way that may lead to several", both(test("site.s_name", "is", literal("a")), test("site.s_name", "is", literal("b"))), false],
    [
      "the viewer's value",
      both(test("code", "is", { kind: "viewer", of: "person", field: "p_name" }), test("code", "is", literal("b"))),
      false,
    ],
  ])("%s", (_, c, wanted) => expect(contradiction(c) !== null).toBe(wanted));
});
