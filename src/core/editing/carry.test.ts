import { expect, it } from "vitest";
import { emptyDefinition } from "@/data/installation/portals";
import { addBuiltInTables } from "@/data/tables/built-in";
import { addTable } from "@/data/tables/change";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { checkDefinition, type Definition, definitionProblems } from "../definition/definition";
import { allPagesOf } from "../pages/all-pages";
import { EVERYBODY } from "../pages/page";
import { aroundOf, sectionProblems } from "../pages/problems";
import { laidOut, listPageId, sheetPageId } from "../pages/ready";
import { PLAIN_LIST } from "../sections/list";
import { carryPage, carrySection } from "./carry";

const one = makeTestSchema(memoryPortal());
const other = memoryPortal();
addBuiltInTables(other);
addTable(other, { slug: "extra", name: "Extra", singular: "Extra", fields: [{ slug: "name", name: "Name", type: "text" }] });
const two = makeTestSchema(other, false);
const slugs = (s: typeof one, table: string, slug: string): string => s.schema.table(table).fields.find((f) => f.slug === slug)!.id;

const role = { id: "r-one", name: "Surveyor", side: "client" as const, includes: [] };
const laid = laidOut(
  {
    id: "p-1",
    name: "All signs",
    address: "all-signs",
    about: null,
    audience: { ...EVERYBODY, roles: ["r-one", "lead"] },
    passphrase: "x",
  },
  [
    {
      kind: "list",
      config: {
        source: { table: one.t.signs, filter: null, sort: [{ field: slugs(one, one.t.signs, "code"), descending: false }] },
        ...PLAIN_LIST,
        columns: [{ field: slugs(one, one.t.signs, "code") }],
        opens: { page: sheetPageId(one.t.signs) },
      },
    },
  ],
);
const base = emptyDefinition("One");
const from: Definition = { ...base, roles: [...base.roles, role], pages: [laid.page], sections: [...laid.sections] };
const there = (d: Definition) => ({ definition: d, schema: two.schema });
let n = 0;
const newId = (): string => `c-${++n}`;

it("a page comes with what it is made of, found again by name", () => {
  const got = carryPage({ definition: from, schema: one.schema }, there(emptyDefinition("Two")), "p-1", newId)!;
  const page = got.definition.pages[0]!;
  const [s] = allPagesOf(got.definition, two.schema).sections(page.id);
  expect(one.t.signs).not.toBe(two.t.signs);
  expect(s).toMatchObject({
    kind: "list",
    page: page.id,
    config: {
      source: { table: two.t.signs, sort: [{ field: slugs(two, two.t.signs, "code") }] },
      opens: { page: sheetPageId(two.t.signs) },
    },
  });
  // A role of that name is none here; a passphrase opens nothing in another portal.
  expect([page.address, page.passphrase, got.lost]).toEqual(["all-signs", null, ["the role Surveyor"]]);
  const checked = checkDefinition(got.definition);
  expect(checked.ok && definitionProblems(checked.value, two.schema)).toEqual([]);
  // Nobody is let in for whom it was not.
  expect(page.audience.roles).toEqual(["gone_r-one", "lead"]);
  expect(sectionProblems(s!, aroundOf(page, allPagesOf(got.definition, two.schema), [], two.schema))).toEqual([
    "The page that its rows open is gone.",
  ]);
});

it("what has no counterpart is told, and said again by the editor", () => {
  const bare = { ...two.schema, tableBySlug: (slug: string) => (slug === "signs" ? undefined : two.schema.tableBySlug(slug)) };
  Object.setPrototypeOf(bare, Object.getPrototypeOf(two.schema));
  const got = carryPage(
    { definition: from, schema: one.schema },
    { definition: emptyDefinition("Two"), schema: bare as never },
    "p-1",
    newId,
  )!;
  expect(got.lost).toContain("the table Signs");
  const page = got.definition.pages[0]!;
  const book = allPagesOf(got.definition, two.schema);
  expect(sectionProblems(book.sections(page.id)[0]!, aroundOf(page, book, [], two.schema)).length).toBeGreaterThan(0);
});

it("a section comes to the end of a page; a page about a table that is not here does not come", () => {
  const d = {
    ...emptyDefinition("Two"),
    grants: [{ id: "g", roles: ["lead"], table: two.t.sites, actions: ["see" as const], filter: null, fields: [], changes: [] }],
  };
  const onto = listPageId(two.t.sites);
  const got = carrySection({ definition: from, schema: one.schema }, there(d), laid.sections[0]!.id, onto, newId)!;
  const on = allPagesOf(got.definition, two.schema).sections(onto);
  expect(on.map((s) => s.kind)).toEqual(["list", "list"]);
  expect(carrySection({ definition: from, schema: one.schema }, there(d), "nothing", onto, newId)).toBeNull();
  expect(carryPage({ definition: from, schema: one.schema }, there(d), "nothing", newId)).toBeNull();
});
