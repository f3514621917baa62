import { describe, expect, it } from "vitest";
import { emptyDefinition } from "@/data/installation/portals";
import { addField, addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { makeTestSchema, memoryPortal, signsGrant, testViewer } from "@/testing/world";
import { draftPolicy, Policy } from "../access/policy";
import type { Grant } from "../access/rules";
import type { Definition } from "../definition/definition";
import type { Test } from "../schema/condition";
import { type Counted, type Finding, findings, MANY_LINKS } from "./findings";
import { shiftOf, touchedTables } from "./impact";
import { whyNothing } from "./sightlines";

const portal = memoryPortal();
const { t } = makeTestSchema(portal);
const rates = addTable(portal, { slug: "rates", name: "Rates", singular: "Rate", fields: [{ slug: "name", name: "Name", type: "text" }] });
const schema = schemaOf(portal);
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
const nameless = { company: () => undefined, record: () => undefined, feature: () => undefined };
const role = (rid: string, side: "agency" | "client" | "visitor", includes: string[] = []) => ({ id: rid, name: rid, side, includes });
const is = (slug: string, value: string): Test => ({
  kind: "test",
  path: [id("signs", slug)],
  operator: "is",
  operands: [{ kind: "literal", value }],
});
const grant = (more: Partial<Grant> = {}): Grant => signsGrant(schema, more);
const definition = (more: Partial<Definition>): Definition => ({
  ...emptyDefinition("T"),
  roles: [role("lead", "client"), role("staff", "agency"), role("anybody", "visitor")],
  walls: { [t.signs]: { kind: "owned", path: [id("signs", "project"), id("projects", "company")] } },
  ...more,
});
const counted = (more: Partial<Counted> = {}): Counted => ({
  records: new Map(schema.tables.map((x) => [x.id, { all: 5, ownerless: 0 }])),
  matches: new Map(),
  holders: new Map([
    ["lead", 1],
    ["staff", 1],
  ]),
  adrift: [],
  alike: [],
  valueless: new Map(),
  most: new Map(),
  ...more,
});
const found = (d: Definition, c = counted()): Finding[] => findings(new Policy(schema, d), d, c, nameless);
const texts = (d: Definition, c?: Counted): string[] => found(d, c).map((f) => f.text);

describe("findings", () => {
  it("a relation to several with very many in one record is better turned round", () => {
    const tags = addField(portal, rates, { slug: "signs", name: "Signs", type: "relations", options: { target: t.signs } });
    const wider = schemaOf(portal);
    const d = definition({ grants: [grant() as Definition["grants"][number]] });
    const of = (n: number) =>
      findings(new Policy(wider, d), d, counted({ most: new Map([[tags, n]]) }), nameless).filter((f) => f.kind === "heavy");
    expect(of(MANY_LINKS)).toEqual([]);
    expect(of(1200)).toMatchObject([
      { text: expect.stringContaining("holds up to 1,200 links"), place: { at: "field", table: rates, field: tags } },
    ]);
  });

  it("none in a portal where nothing is wrong", () =>
    expect(texts(definition({ grants: [grant() as Definition["grants"][number]] }))).toEqual([]));

  it.each<[string, Partial<Definition>, Partial<Counted>, RegExp]>([
    [
      "records of nobody",
      {},
      { records: new Map([[t.signs, { all: 5, ownerless: 2 }]]) },
      /^2 records of Signs belong to no company: Project › Company leads nowhere\. No client sees them\.$/,
    ],
    [
      "a wall through a relation that is gone",
      { walls: { [t.signs]: { kind: "owned", path: ["f_gone"] } } },
      {},
      /The wall of Signs goes through a relation that is not there\. Until it is mended, no client sees Signs\./,
    ],
    [
      "a shared table open to anybody",
      { walls: { [t.signs]: { kind: "shared" } }, grants: [grant({ roles: ["anybody"] })] as Definition["grants"] },
      {},
      /^Anybody sees every record of Signs/,
    ],
    [
      "a broken grant",
      { grants: [grant({ filter: { ...is("code", "x"), path: ["f_gone"] } })] as Definition["grants"] },
      {},
      /^A grant is broken and opens nothing: the filter tests a field that is not there\./,
    ],
    [
      "a grant that can never match",
      { grants: [grant({ filter: { kind: "all", of: [is("type", "Door"), is("type", "Totem")] } })] as Definition["grants"] },
      {},
      /^A grant can never match: Type is “Door” and Type is “Totem” exclude each other\./,
    ],
    [
      "a grant to clients where no relation leads to a company",
      { grants: [grant({ table: rates, fields: [schema.table(rates).labelFieldId] })] as Definition["grants"] },
      {},
      /^No relation leads from Rates to a company, so none of its records can be a client's own/,
    ],
    [
      "a grant of changing that lists nothing to change",
      { grants: [grant({ actions: ["see", "change"] })] as Definition["grants"] },
      {},
      /^A grant lets records of Signs be changed but lists no field to change: lead may see and change Signs\.$/,
    ],
    [
      "a grant that matches nothing now",
      { grants: [grant({ filter: is("type", "Door") })] as Definition["grants"] },
      { matches: new Map([["g1", 0]]) },
      /^A grant matches no record now/,
    ],
    [
      "a client grant behind the agency's own wall",
      { walls: {}, grants: [grant()] as Definition["grants"] },
      {},
      /^Signs is the agency's alone, so this grant opens it to no client/,
    ],
    [
      "a list without names",
      { grants: [grant({ fields: [id("signs", "size")] })] as Definition["grants"] },
      {},
      /without their Code, so its lists name none of them/,
    ],
    [
      "a feature that no plan gives",
      { features: [{ id: "x", name: "X" }], grants: [grant({ feature: "x" })] as Definition["grants"] },
      {},
      /^No plan gives x, which this grant needs/,
    ],
    [
      "holders without the value",
      { grants: [grant()] as Definition["grants"] },
      { valueless: new Map([["g1", { people: 5, without: 2 }]]) },
      /^For 2 of the 5 people who hold it/,
    ],
    ["a role nobody holds", {}, { holders: new Map([["staff", 1]]) }, /^Nobody holds the role lead\.$/],
    [
      "a circle of roles",
      { roles: [role("lead", "client", ["other"]), role("other", "client", ["lead"])] },
      {
        holders: new Map([
          ["lead", 1],
          ["other", 1],
        ]),
      },
      /^lead includes itself through other roles\.$/,
    ],
    ["somebody in no company", {}, { adrift: [{ id: "p", name: "Ada" }] }, /^Ada belongs to no company/],
    ["two companies of one name", {}, { alike: [{ name: "Ash", companies: 2 }] }, /^Two companies are called Ash/],
  ])("%s", (_, d, c, wanted) => expect(texts(definition(d), counted(c))).toContainEqual(expect.stringMatching(wanted)));
});

describe("impact", () => {
  const counts = { gained: () => 3, lost: () => 0, where: () => 2 };
  const lead = testViewer({ roles: ["lead"] });
  const before = new Policy(schema, definition({ grants: [grant()] as Definition["grants"] }));

  it("looks at tables whose grants, wall, or roles differ, and at no others", () => {
    const same = draftPolicy(before, { ...before.rules });
    expect(touchedTables(before, same, false)).toEqual([]);
    expect(touchedTables(before, draftPolicy(before, { ...before.rules, grants: [] }), false)).toEqual([t.signs]);
    expect(touchedTables(before, draftPolicy(before, { ...before.rules, walls: { [t.signs]: { kind: "shared" } } }), false)).toEqual([
      t.signs,
    ]);
    expect(touchedTables(before, draftPolicy(before, { ...before.rules, roles: [role("lead", "client", ["staff"])] }), false)).toHaveLength(
      schema.tables.length,
    );
    expect(touchedTables(before, same, true)).toHaveLength(schema.tables.length);
  });

  it("tells fields gained and lost, and rows across companies only where the wall moved", () => {
    const wider = draftPolicy(before, { ...before.rules, grants: [grant({ fields: [id("signs", "size")] })] });
    expect(shiftOf(before, wider, lead, lead, t.signs, counts)).toEqual({
      table: t.signs,
      gained: 3,
      lost: 0,
      crossing: 0,
      fieldsGained: [id("signs", "size")],
      fieldsLost: [id("signs", "code")],
    });
    const open = draftPolicy(before, { ...before.rules, walls: { [t.signs]: { kind: "shared" } } });
    expect(shiftOf(before, open, lead, lead, t.signs, counts)?.crossing).toBe(2);
    expect(
      shiftOf(
        before,
        open,
        testViewer({ company: null, roles: ["staff"] }),
        testViewer({ company: null, roles: ["staff"] }),
        t.signs,
        counts,
      )?.crossing,
    ).toBe(0);
    expect(shiftOf(before, before, lead, lead, t.signs, { ...counts, gained: () => 0 })).toBeNull();
  });

  it("somebody whose company's plan changes is compared with who they were", () => {
    const paid = new Policy(schema, definition({ grants: [grant({ feature: "x" })] as Definition["grants"] }));
    const [was, now] = [testViewer({ roles: ["lead"] }), testViewer({ roles: ["lead"], features: new Set(["x"]) })];
    expect(shiftOf(paid, paid, was, now, t.signs, counts)).toMatchObject({ gained: 2, fieldsGained: [id("signs", "code")] });
  });
});

it("a zero is explained: no grant, a closed wall, a value of the person that is empty, or no record that fits", () => {
  const why = (d: Partial<Definition>, plan: Parameters<typeof whyNothing>[3] = { kind: "none" }) =>
    whyNothing(new Policy(schema, definition(d)), testViewer({ roles: ["lead"] }), t.signs, plan, nameless);
  expect(why({})).toBe("No grant lets the person's roles see Signs.");
  expect(why({ walls: {} })).toBe("The agency keeps Signs to itself.");
  expect(why({ grants: [grant()] as Definition["grants"] })).toBe("No record of Signs fits the grants that count.");
  const keyed = { field: id("signs", "site"), on: { kind: "always" as const }, values: [] };
  expect(
    why({ grants: [grant()] as Definition["grants"] }, { kind: "grouped", key: "k", company: "c1", base: { kind: "never" }, keyed }),
  ).toBe("The grant on Signs compares with a value of the person that is empty, so nothing matches.");
});
