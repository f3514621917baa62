import { describe, expect, it } from "vitest";
import { emptyDefinition } from "@/data/installation/portals";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { type ImportPlan, importPlanSchema, planProblems } from "../exchange/import-plan";
import { checkDefinition, type Definition, definitionProblems } from "./definition";

const { schema, t } = makeTestSchema(memoryPortal());
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
const definition = (more: Partial<Definition>): Definition => {
  const checked = checkDefinition({ ...emptyDefinition("Test"), ...more });
  if (!checked.ok) throw new Error(checked.error.join(" "));
  return checked.value;
};
const grant = (more: Partial<Definition["grants"][number]>): Definition["grants"][number] => ({
  id: "g",
  roles: ["lead"],
  table: t.signs,
  actions: ["see"],
  filter: null,
  fields: [],
  changes: [],
  ...more,
});

describe("problems of a definition, each a sentence", () => {
  it("a new portal's has none", () => expect(definitionProblems(emptyDefinition("Test"), schema)).toEqual([]));

  it.each([
    ["a role that is gone", { grants: [grant({ roles: ["nobody"] })] }, "The grant on Signs names a role that is gone."],
    ["a table that is gone", { grants: [grant({ table: "t_99" })] }, "The grant on t_99 names a table that is gone."],
    [
      "a field of another table",
      { grants: [grant({ fields: [id("sites", "name")] })] },
      "The grant on Signs lists a field of another table.",
    ],
    ["a feature that is gone", { grants: [grant({ feature: "gold" })] }, "The grant on Signs needs a feature that is gone."],
    [
      "a filter on a field that is not there",
      { grants: [grant({ filter: { kind: "test", path: ["f_99"], operator: "is", operands: [] } })] },
      "The grant on Signs: the filter tests a field that is not there.",
    ],
    [
      "a comparison that makes no sense",
      {
        grants: [
          grant({
            filter: { kind: "test", path: [id("signs", "lit")], operator: "contains", operands: [{ kind: "literal", value: "x" }] },
          }),
        ],
      },
      "The grant on Signs: Lit cannot be compared with “contains”.",
    ],
    [
      "too few values",
      {
        grants: [
          grant({ filter: { kind: "test", path: [id("signs", "size")], operator: "between", operands: [{ kind: "literal", value: 1 }] } }),
        ],
      },
      "The grant on Signs: the test of Size has the wrong number of values.",
    ],
    [
      "a wall through no relation",
      { walls: { [t.signs]: { kind: "owned", path: [id("signs", "code")] } } },
      "The wall of Signs goes through a relation that is not there.",
    ],
    [
      "a wall that ends elsewhere",
      { walls: { [t.signs]: { kind: "owned", path: [id("signs", "site")] } } },
      "The wall of Signs does not lead to a company.",
    ],
    [
      "a wall through many",
      { walls: { [t.signs]: { kind: "owned", path: [id("signs", "also"), id("sites", "company")] } } },
      "The wall of Signs may not pass through a relation to many.",
    ],
    ["a wall around nothing", { walls: { t_99: { kind: "shared" } } }, "A wall stands around a table that is gone."],
  ] as [string, Partial<Definition>, string][])("%s", (_, more, sentence) =>
    expect(definitionProblems(definition(more), schema)).toContain(sentence),
  );

  it("a role that includes itself through others", () => {
    const roles: Definition["roles"] = [
      { id: "a", name: "A", side: "client", includes: ["b"] },
      { id: "b", name: "B", side: "client", includes: ["a"] },
    ];
    expect(definitionProblems(definition({ roles }), schema)).toEqual([
      "The role A includes itself through others.",
      "The role B includes itself through others.",
    ]);
  });

  it("walls through three relations to a company are fine", () => {
    const path = [id("signs", "project"), id("projects", "company")];
    expect(definitionProblems(definition({ walls: { [t.signs]: { kind: "owned", path } } }), schema)).toEqual([]);
  });

  it("unknown keys, bad colours and empty choices do not parse", () => {
    const bad = [
      { ...emptyDefinition("X"), extra: 1 },
      { ...emptyDefinition("X"), brand: { ...emptyDefinition("X").brand, colour: "red" } },
      { ...emptyDefinition("X"), grants: [grant({ roles: [] })] },
      { ...emptyDefinition("X"), grants: [grant({ actions: [] })] },
    ];
    for (const d of bad) expect(checkDefinition(d as Definition).ok).toBe(false);
  });
});

describe("problems of an import's plan, by column", () => {
  const plan = (more: Partial<ImportPlan>): ImportPlan =>
    importPlanSchema.parse({
      table: { name: "New" },
      columns: [
        { to: "new", name: "A", type: "text" },
        { to: "new", name: "B", type: "text" },
      ],
      currency: "GBP",
      ...more,
    });
  const problems = (more: Partial<ImportPlan>) => planProblems(plan(more), ["A", "B"], schema);
  const field = (f: string) => ({ to: "field" as const, field: f, order: "iso" as const });

  it("a plain one has none", () => expect(problems({})).toEqual([]));
  it.each([
    [
      "a new table called like one that is there",
      { table: { name: "signs" } },
      -1,
      "There is a table called Signs. Choose it under “Into”, or call the new one otherwise.",
    ],
    ["no such table", { table: { id: "t_99" } }, -1, "Choose a table of this portal."],
    [
      "people without an e-mail address",
      { table: { id: "t_people" } },
      -1,
      "People are known by their e-mail address: let a column go to it.",
    ],
    [
      "people without a role",
      { table: { id: "t_people" }, whose: { kind: "as-is" } },
      -1,
      "Choose the role that they have in their company.",
    ],
    [
      "companies that are known by nothing",
      { table: { id: "t_companies" } },
      -1,
      "Companies need a column to be known by: choose it under “Known again by”.",
    ],
    [
      "words behind a number",
      {
        columns: [
          { to: "new", name: "A", type: "number", order: "iso" },
          { to: "behind", at: 0 },
        ],
      },
      1,
      "A takes no words behind its own: it is left out, or no text.",
    ],
    [
      "words behind what stands behind them",
      {
        columns: [
          { to: "behind", at: 1 },
          { to: "behind", at: 0 },
        ],
      },
      0,
      "B takes no words behind its own: it is left out, or no text.",
    ],
    [
      "words behind what is not in the file",
      {
        columns: [
          { to: "new", name: "A", type: "text", order: "iso" },
          { to: "behind", at: 7 },
        ],
      },
      1,
      "Choose a column of this file.",
    ],
    [
      "a key that stands behind another column",
      {
        key: 1,
        columns: [
          { to: "new", name: "A", type: "text", order: "iso" },
          { to: "behind", at: 0 },
        ],
      },
      1,
      "The column that records are known by is left out.",
    ],
    [
      "a key that is not there yet",
      { table: { id: t.signs }, key: 1, columns: [{ to: "skip" }, { to: "new", name: "B", type: "text", order: "iso" }] },
      1,
      "Records that are there have nothing in a new field: choose another column.",
    ],
    [
      "a key that tells nobody apart",
      { table: { id: t.signs }, key: 0, columns: [field(id("signs", "lit")), { to: "skip" }] },
      0,
      "Records cannot be known by this field. Choose a name, a number or an e-mail address.",
    ],
    [
      "a field to look up by of another table",
      { table: { id: t.signs }, columns: [{ ...field(id("signs", "site")), by: id("projects", "title") }, { to: "skip" }] },
      0,
      "Choose a field of Sites to look them up by.",
    ],
    ["another file's mapping", { columns: [{ to: "skip" }] }, -1, "The mapping does not fit this file."],
    ["everything left out", { columns: [{ to: "skip" }, { to: "skip" }] }, -1, "Every column is left out; choose at least one."],
    [
      "the company left out",
      { columns: [{ to: "skip" }, { to: "new", name: "B", type: "text", order: "iso" }], whose: { kind: "column", at: 0 } },
      0,
      "The column that says whose they are is left out.",
    ],
    [
      "two fields of one name",
      {
        columns: [
          { to: "new", name: "A", type: "text", order: "iso" },
          { to: "new", name: "a", type: "text", order: "iso" },
        ],
      },
      1,
      "Two fields are called a.",
    ],
    [
      "a relation to nowhere",
      { columns: [{ to: "skip" }, { to: "new", name: "B", type: "relation", order: "iso" }] },
      1,
      "Choose the table that it points to.",
    ],
    [
      "two columns to one field",
      { table: { id: t.signs }, columns: [field(id("signs", "code")), field(id("signs", "code"))] },
      1,
      "Two columns go to Code.",
    ],
    [
      "another table's field",
      { table: { id: t.signs }, columns: [field(id("sites", "name")), { to: "skip" }] },
      0,
      "Choose a field of this table.",
    ],
    [
      "a company that is none",
      { table: { id: t.signs }, columns: [field(id("signs", "code")), { to: "skip" }], whose: { kind: "column", at: 0 } },
      0,
      "The column that says whose they are must point to Companies, or to a table whose records belong to one.",
    ],
  ] as [string, Partial<ImportPlan>, number, string][])("%s", (_, more, at, message) =>
    expect(problems(more)).toContainEqual({ at, message }),
  );
});
