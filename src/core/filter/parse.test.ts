import { describe, expect, it } from "vitest";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { parseFilter } from "./parse";

const { schema, t } = makeTestSchema(memoryPortal());
const known = (..._: string[]): boolean => true;
const parse = (filter: unknown, knows: (table: string, field: string) => boolean = known) =>
  parseFilter(typeof filter === "string" ? filter : JSON.stringify(filter), schema, t.signs, knows);
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;

describe("the filter tree of the HTTP API", () => {
  it("reads tests, all of, any of and not, with paths of slugs", () => {
    const r = parse({
      "all of": [
        { path: "code", operator: "starts with", value: "S" },
        { "any of": [{ not: { path: "lit", operator: "is", value: true } }, { path: "project.company.name", operator: "is", value: "x" }] },
      ],
    });
    expect(r).toEqual({
      ok: true,
      value: {
        kind: "all",
        of: [
          { kind: "test", path: [id("signs", "code")], operator: "starts-with", operands: [{ kind: "literal", value: "S" }] },
          {
            kind: "any",
            of: [
              {
                kind: "not",
                of: { kind: "test", path: [id("signs", "lit")], operator: "is", operands: [{ kind: "literal", value: true }] },
              },
              {
                kind: "test",
                path: [id("signs", "project"), id("projects", "company"), "f_company_name"],
                operator: "is",
                operands: [{ kind: "literal", value: "x" }],
              },
            ],
          },
        ],
      },
    });
  });

  it.each([
    [{ path: "size", operator: "between", value: [1, 2] }, [1, 2]],
    [{ path: "cost", operator: "at most", value: { amount: 100, currency: "GBP" } }, [100]],
    [{ path: "fitted", operator: "less than", value: "2026-01-01" }, ["2026-01-01"]],
    [{ path: "site", operator: "any of", value: ["a", { id: "b" }] }, [["a", "b"]]],
    [{ path: "also", operator: "has any", value: ["a"] }, [["a"]]],
    [{ path: "marks", operator: "has none", value: ["new"] }, [["new"]]],
    [{ path: "code", operator: "is empty" }, []],
  ])("%j", (filter, values) => {
    const r = parse(filter);
    expect(r.ok && r.value.kind === "test" && r.value.operands.map((o) => (o.kind === "literal" ? o.value : o))).toEqual(values);
  });

  it.each([
    ["not json", "The filter is not JSON."],
    [[], "Each part of a filter is an object."],
    [{ "all of": {} }, "“all of” takes a list."],
    [{}, "A test is { path, operator, value }."],
    [{ path: "lit", operator: "contains", value: "x" }, "“contains” does not apply to lit. It takes: is."],
    [{ path: "size", operator: "is", value: "10" }, "size: This must be a number."],
    [{ path: "size", operator: "between", value: [1] }, "size: “between” takes a list of two."],
    [{ path: "type", operator: "any of", value: "Door" }, "type: A list of at most 500 is needed."],
    [{ path: "code", operator: "is" }, "code: A value is needed."],
  ])("%j is refused with a sentence", (filter, message) =>
    expect(parse(filter)).toEqual({ ok: false, error: { code: "invalid", message } }),
  );

  it("is bounded in depth and number", () => {
    let deep: unknown = { path: "code", operator: "is", value: "x" };
    for (let i = 0; i < 12; i++) deep = { not: deep };
    expect(parse(deep)).toMatchObject({ ok: false, error: { message: "The filter is nested more than eight deep." } });
    const wide = { "any of": Array.from({ length: 60 }, () => ({ path: "code", operator: "is", value: "x" })) };
    expect(parse(wide)).toMatchObject({ ok: false, error: { message: "A filter has at most 50 tests." } });
  });

  it("what the viewer may not know is not found, like what is not there, on the way too", () => {
    const test = { path: "project.company.name", operator: "is", value: "x" };
    for (const hidden of [id("signs", "project"), id("projects", "company"), "f_company_name"]) {
      expect(parse(test, (_, f) => f !== hidden)).toEqual({ ok: false, error: { code: "not-found", name: test.path } });
    }
    for (const path of ["never", "code.name", "project.company.name.x.y", ""]) {
      expect(parse({ ...test, path })).toEqual({ ok: false, error: { code: "not-found", name: path } });
    }
  });
});
