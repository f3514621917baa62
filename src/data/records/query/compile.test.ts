/** The SQL that predicates become: readable examples, and the promises that the differential test cannot see. */
import { sql } from "drizzle-orm";
import { SQLiteSyncDialect } from "drizzle-orm/sqlite-core";
import { describe, expect, it } from "vitest";
import { all, always, among, any, compare, never, not, owned, type Predicate, via } from "@/core/access/predicate";
import type { Scalar } from "@/core/schema/types";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { Statements } from "../../file/statements";
import { physical } from "../../tables/physical";
import { compile, Parameters, shape } from "./compile";

const file = memoryPortal();
const { schema, t } = makeTestSchema(file);
const dialect = new SQLiteSyncDialect();
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
const sqlOf = (p: Predicate): string =>
  dialect.sqlToQuery(compile(p, t.signs, schema, new Parameters())).sql.replaceAll(`"${t.signs}".`, "");
const values = (p: Predicate): Scalar[] => {
  const out: Scalar[] = [];
  shape(p, schema, out);
  return out;
};
const [code, site, project, size, also, marks, lit, stage] = [
  id("signs", "code"),
  id("signs", "site"),
  id("signs", "project"),
  id("signs", "size"),
  id("signs", "also"),
  id("signs", "marks"),
  id("signs", "lit"),
  id("projects", "stage"),
] as [string, string, string, string, string, string, string, string];

describe("examples", () => {
  it.each([
    ["deny is a value", never, "0"],
    ["everything", always, "1"],
    ["the wall is one equality", owned("c1"), `"company_id" = ?`],
    ["text compares by its folded column", compare(code, "is", ["É"]), `"${code}_k" = ?`],
    ["is not is two-valued", compare(size, "is-not", [5]), `"${size}" IS NOT ?`],
    ["none of is two-valued", compare(size, "none-of", [5, 6]), `("${size}" IN (?, ?)) IS NOT TRUE`],
    ["not", not(compare(size, "is", [5])), `(("${size}" = ?) IS NOT TRUE)`],
    ["contains", compare(code, "contains", ["a%"]), `instr("${code}_k", ?) > 0`],
    [
      "a hop looks only at the other table",
      via(project, compare(stage, "is", ["Done"])),
      `"${project}" IN (SELECT "${t.projects}"."id" FROM "${t.projects}" WHERE "${t.projects}"."${stage}" = ?)`,
    ],
    [
      "an empty hop may count",
      via(project, compare(stage, "is-not", ["Done"]), true),
      `("${project}" IS NULL OR "${project}" IN (SELECT "${t.projects}"."id" FROM "${t.projects}" WHERE "${t.projects}"."${stage}" IS NOT ?))`,
    ],
    [
      "all and any",
      all([owned("c1"), any([compare(size, "is", [1]), compare(lit, "is", [true])])]),
      `("company_id" = ? AND ("${size}" = ? OR "${lit}" = ?))`,
    ],
  ] as [string, Predicate, string][])("%s", (_, p, sql) => expect(sqlOf(p)).toBe(sql));

  it("an empty all is true and an empty any is false", () => {
    expect([all([]), any([]), among([])].map((p) => p.kind)).toEqual(["always", "never", "never"]);
    expect([all([never, owned("c")]).kind, any([always, owned("c")]).kind]).toEqual(["never", "always"]);
  });
});

describe("values travel as parameters", () => {
  const awkward = [`'; drop table sys_meta; --`, `"x"`, "%_", "😀", "\\"];
  it.each(awkward)("%j is never part of the text", (text) => {
    for (const p of [
      compare(code, "is", [text]),
      compare(code, "contains", [text]),
      among([text]),
      owned(text),
      compare(code, "any-of", [text, "x"]),
    ]) {
      expect(sqlOf(p)).not.toContain(text);
      expect(JSON.stringify(values(p))).toContain(JSON.stringify(text).slice(1, -1));
    }
  });
  it("text is folded, yes and no are 1 and 0, long lists are one parameter", () => {
    expect(values(compare(code, "is", ["ÉA"]))).toEqual(["éa"]);
    expect(values(compare(lit, "is", [true]))).toEqual([1]);
    expect(values(among(Array.from({ length: 20 }, (_, i) => `x${i}`)))).toHaveLength(1);
    expect(values(compare(also, "has-all", ["a", "b"]))).toEqual(['["a"]', '["b"]']);
  });
  it("predicates of one shape share a statement; another shape does not", () => {
    const of = (p: Predicate): string => shape(p, schema, []);
    expect(of(all([owned("a"), compare(site, "any-of", ["1", "2"])]))).toBe(of(all([owned("b"), compare(site, "any-of", ["3", "4"])])));
    const different = [
      compare(site, "any-of", ["1"]),
      compare(site, "any-of", ["1", "2"]),
      compare(site, "none-of", ["1"]),
      compare(project, "any-of", ["1"]),
      not(compare(site, "any-of", ["1"])),
      via(site, always),
      via(site, always, true),
      compare(marks, "has-any", ["new"]),
      compare(marks, "has-all", ["new"]),
      owned("1"),
      among(["1"]),
    ].map(of);
    expect(new Set(different).size).toBe(different.length);
  });
  it("the number of values is the number of placeholders, for every shape", () => {
    const some: Predicate[] = [
      compare(code, "starts-with", ["a"]),
      compare(size, "between", [1, 2]),
      compare(marks, "has-all", ["new", "worn"]),
      compare(also, "has-none", ["x"]),
      compare(also, "is-empty", []),
      via(also, via(id("sites", "company"), among(["c1", "c2"]))),
      among(Array.from({ length: 30 }, (_, i) => String(i))),
    ];
    for (const p of some) {
      const names = new Set(
        dialect.sqlToQuery(compile(p, t.signs, schema, new Parameters())).params.map((x) => (x as { name: string }).name),
      );
      expect(names.size).toBe(values(p).length);
    }
  });
});

describe("statements are kept by shape", () => {
  it("built once, bounded, and bound anew each time", () => {
    const kept = new Statements(file.db, 2);
    let built = 0;
    const ask = (key: string, n: number): unknown =>
      kept.row(key, () => {
        built++;
        return compile(compare(size, "is", [0]), t.signs, schema, new Parameters());
      }, [n]);
    expect(() => ask("bad", 1)).toThrow(); // a bare condition is no statement: nothing is kept of it
    built = 0;
    const count = (key: string, n: number): unknown => {
      const p = compare(size, "more-than", [n]);
      return kept.row(key, () => {
        built++;
        return sql`SELECT count(*) FROM ${physical(schema, t.signs).table} WHERE ${compile(p, t.signs, schema, new Parameters())}`;
      }, [n])![0];
    };
    expect([count("a", 1), count("a", 2), count("b", 3), count("c", 4), count("a", 5)]).toEqual([0, 0, 0, 0, 0]);
    expect(built).toBe(4); // "a" was let go when "c" came
  });
});
