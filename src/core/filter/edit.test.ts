import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { condition, records } from "@/testing/arbitraries";
import { enough, runs, said, seed } from "@/testing/random";
import { fill, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { match } from "../access/match";
import { resolve } from "../access/resolve";
import { type Condition, type Operand, SELF, testsOf } from "../schema/condition";
import { text } from "../schema/fields/text";
import { EMPTY_OPERAND, fromDraft, type GroupDraft, groupDraft, nestsTooDeep, type TestDraft, toDraft } from "./edit";

/** Words as a text field would hold them. */
const clean = (t: string): string => {
  const read = text.parse([t], { name: "", options: {} });
  return read.ok ? String(read.value ?? "") : "";
};
const file = memoryPortal();
const { schema, t } = makeTestSchema(file);
const signs = schema.table(t.signs);
const id = (slug: string): string => signs.fields.find((f) => f.slug === slug)!.id;
const keys = (): (() => string) => {
  let n = 0;
  return () => `k${++n}`;
};

const plain = (o: Operand): boolean =>
  o.kind !== "literal" ||
  (Array.isArray(o.value)
    ? o.value.length > 0 && o.value.every((v) => clean(v as string) === v)
    : typeof o.value !== "string" || clean(o.value) === o.value);

it(`any filter goes into the editor and comes back meaning the same, on ${said(1500)} random ones (seed ${seed})`, () => {
  const viewer = testViewer({
    person: { id: "p1", name: "É", status: "active", values: { f_person_name: "É", their_sites: [`${t.sites}-1`] } },
  });
  let met = 0;
  fc.assert(
    fc.property(condition(schema, signs, 3), records(schema), (c, recs) => {
      // Words are trimmed and composed where they are typed, and a viewer's field must be one of the schema's.
      const whole = testsOf(c).every((x) => x.operands.every((o) => plain(o) && !(o.kind === "viewer" && o.field === "their_sites")));
      const back = fromDraft(toDraft(c, schema, keys()), signs, schema);
      if (!whole || !back.ok) return;
      met++;
      const world = fill(file, schema, recs);
      for (const r of world.all(signs.id))
        expect(match(resolve(back.value, viewer), r, world, schema)).toBe(match(resolve(c, viewer), r, world, schema));
    }),
    { seed, numRuns: runs(1500) },
  );
  expect(met).toBeGreaterThan(enough(400));
}, 60_000);

const test = (more: Partial<TestDraft> = {}): TestDraft => ({
  kind: "test",
  key: "t",
  path: [id("code")],
  operator: "is",
  operands: [{ ...EMPTY_OPERAND, values: ["SA-1"] }],
  ...more,
});
const group = (of: GroupDraft["of"], join: GroupDraft["join"] = "all", key = "g"): GroupDraft => ({ kind: "group", key, join, of });
const value = (...values: string[]) => [{ ...EMPTY_OPERAND, values }];

describe("what is typed", () => {
  it.each([
    [
      "money in the currency's units",
      test({ path: [id("cost")], operator: "at-most", operands: value("12.50") }),
      [{ kind: "literal", value: 1250 }],
    ],
    ["yes", test({ path: [id("lit")], operands: value("yes") }), [{ kind: "literal", value: true }]],
    ["a list", test({ operator: "any-of", operands: value("a", "b") }), [{ kind: "literal", value: ["a", "b"] }]],
    [
      "a day by its distance",
      test({ path: [id("fitted")], operator: "at-least", operands: [{ ...EMPTY_OPERAND, from: "date", days: "-30" }] }),
      [{ kind: "date", anchor: "today", days: -30 }],
    ],
    ["the person", test({ path: [id("project")], operator: "is", operands: value("p9") }), [{ kind: "literal", value: "p9" }]],
    ["the record itself", test({ path: [SELF], operator: "any-of", operands: value("s1") }), [{ kind: "literal", value: ["s1"] }]],
  ])("%s", (_, draft, operands) => {
    const read = fromDraft(group([draft]), signs, schema);
    expect(read).toMatchObject({ ok: true, value: { kind: "test", operands } });
  });

  it("nothing at all is every record, but any of nothing is a mistake: it would match none", () => {
    for (const join of ["all", "none"] as const) expect(fromDraft(group([], join), signs, schema)).toEqual({ ok: true, value: null });
    expect(fromDraft(group([], "any"), signs, schema)).toEqual({
      ok: false,
      error: [{ key: "g", message: "“Any of these” needs a test, or nothing would match." }],
    });
  });

  it("none of these is the contrary of any of these", () => {
    expect(fromDraft(group([test(), test({ key: "u" })], "none"), signs, schema)).toMatchObject({
      ok: true,
      value: { kind: "not", of: { kind: "any" } },
    });
  });
});

describe("mistakes are told beside their cause", () => {
  const deep = (n: number): GroupDraft => (n === 0 ? group([test()], "all", "inner") : group([deep(n - 1)], "any", `d${n}`));
  it.each([
    ["no value", group([test({ operands: [] })]), "t", "Code: give a value to compare with."],
    ["a word for a number", group([test({ path: [id("size")], operands: value("big") })]), "t", "Size: “big” is not a number."],
    [
      "a choice that is not one",
      group([test({ path: [id("type")], operands: value("Gate") })]),
      "t",
      "Type: “Gate” is not one of: Door, Hanging, Totem.",
    ],
    [
      "a comparison that does not fit",
      group([test({ path: [id("lit")], operator: "contains" })]),
      "t",
      "Lit cannot be compared like that. Choose another comparison.",
    ],
    ["a field that is gone", group([test({ path: ["f_gone"] })]), "t", "Choose a field that is there."],
    ["two values for one", group([test({ operands: value("a", "b") })]), "t", "Code: give one value here."],
    [
      "one end of a range",
      group([test({ path: [id("size")], operator: "between", operands: value("1") })]),
      "t",
      "Size: give a value to compare with.",
    ],
    [
      "a day for a text",
      group([test({ operands: [{ ...EMPTY_OPERAND, from: "date" }] })]),
      "t",
      "Code is no date, so it cannot be compared with a day.",
    ],
    [
      "half a day",
      group([test({ path: [id("fitted")], operands: [{ ...EMPTY_OPERAND, from: "date", days: "1.5" }] })]),
      "t",
      "Write a whole number of days, such as 30.",
    ],
    [
      "a value of the person that is gone",
      group([test({ operands: [{ ...EMPTY_OPERAND, from: "person", field: "f_gone" }] })]),
      "t",
      "Choose which value of the person to compare with.",
    ],
    ["an empty group inside", group([group([], "any", "h")]), "h", "Add a test to this group, or take the group away."],
    ["nine deep", deep(8), "inner", "Groups may be nested eight deep, no deeper."],
  ])("%s", (_, draft, key, message) => {
    const read = fromDraft(draft, signs, schema);
    expect(read.ok ? [] : read.error).toContainEqual({ key, message });
  });

  it("fifty deep is refused before it is parsed, and a thousand tests by the parser", () => {
    let nested: unknown = test();
    for (let i = 0; i < 5000; i++) nested = { kind: "group", key: "k", join: "all", of: [nested] };
    expect(nestsTooDeep(nested)).toBe(true);
    expect(nestsTooDeep(toDraft({ kind: "all", of: [] } as Condition, schema, keys()))).toBe(false);
    expect(groupDraft.safeParse(group(Array.from({ length: 1000 }, () => test()))).success).toBe(false);
  });
});
