import { beforeEach, describe, expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Grant, Wall } from "@/core/access/rules";
import type { Definition } from "@/core/definition/definition";
import type { Schema } from "@/core/schema/types";
import { emptyDefinition } from "@/data/installation/portals";
import type { Tally } from "@/data/records/counting/tally";
import { addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import type { AccessView } from "@/office/checking";
import { leadsNowhere, pathChoices } from "@/office/filter/paths";
import { makeTestSchema, memoryPortal, signsGrant } from "@/testing/world";
import { changeWords, draftChanges, fieldWords, opensWords, versionChanges, wallChoices } from "./queries";

let schema: Schema;
let t: ReturnType<typeof makeTestSchema>["t"];
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;

beforeEach(() => {
  ({ schema, t } = makeTestSchema(memoryPortal()));
});

const view = (definition: Definition): AccessView => ({
  definition,
  revision: 1,
  schema,
  policy: new Policy(schema, definition),
  names: { company: () => undefined, record: () => undefined, feature: () => undefined },
  person: (x) => (x === "p1" ? "Dana" : undefined),
});
const grant = (more: Partial<Grant> = {}): Grant => signsGrant(schema, more);

describe("walls that a table could have", () => {
  it("are every way of to-one relations to a company, the shortest first, then shared and agency only", () => {
    const kinds = wallChoices(schema, schema.table(t.signs)).map((c) => c.wall);
    expect(kinds).toEqual([
      { kind: "owned", path: [id("signs", "project"), id("projects", "company")] },
      { kind: "owned", path: [id("signs", "site"), id("sites", "company")] },
      { kind: "shared" },
      { kind: "agency-only" },
    ]);
    expect(wallChoices(schema, schema.companies)[0]!.wall).toEqual({ kind: "owned", path: [] });
    expect(wallChoices(schema, schema.people)[0]!.wall).toEqual({ kind: "owned", path: ["f_person_companies"] });
  });
});

describe("what a grant opens", () => {
  const counted = (n: number, matches?: number) =>
    ({ records: new Map([[t.signs, { all: n }]]), matches: new Map(matches === undefined ? [] : [["g", matches]]) }) as unknown as Tally;
  const said = (roles: string[], wall: Wall, more: Partial<Grant>, tally: Tally): string => {
    const base = emptyDefinition("T");
    return opensWords(
      view({ ...base, walls: { ...base.walls, [t.signs]: wall }, grants: [grant({ id: "g", roles, ...more })] as Definition["grants"] }),
      tally,
    )("g");
  };
  it("is all of it only for whoever sees over the wall; clients have each their own", () => {
    const owned: Wall = { kind: "owned", path: [id("signs", "site"), id("sites", "company")] };
    const filter = {
      kind: "test" as const,
      path: [id("signs", "code")],
      operator: "is" as const,
      operands: [{ kind: "literal" as const, value: "x" }],
    };
    expect([
      said(["lead"], owned, {}, counted(1_239)),
      said(["staff"], owned, {}, counted(1_239)),
      said(["lead"], { kind: "shared" }, {}, counted(20)),
      said(["lead"], owned, { filter }, counted(1_239, 8)),
      said(["lead"], owned, { filter }, counted(1_239)),
    ]).toEqual([
      "Opens all 1,239, to each company its own.",
      "Opens all 1,239.",
      "Opens all 20.",
      "Opens 8 of 1,239, to each company its own.",
      "Opens as many of 1,239 as are theirs.",
    ]);
  });
});

describe("paths that a filter may test", () => {
  it("go up to three relations deep; those that lead to people or companies come first among their length", () => {
    const paths = pathChoices(schema, schema.table(t.projects));
    expect(Math.max(...paths.map((p) => p.path.length))).toBeLessThanOrEqual(4);
    expect(
      paths
        .filter((p) => p.path.length === 1)
        .slice(0, 2)
        .map((p) => p.words),
    ).toEqual(["Company", "Lead"]);
    expect(paths.map((p) => p.words)).toContain("Company › Name");
  });
  it("offer only comparisons that make sense, and values of the person that fit", () => {
    const paths = pathChoices(schema, schema.table(t.projects));
    const lead = paths.find((p) => p.words === "Lead")!;
    expect(lead.operators.map((o) => o.id)).toEqual(["is", "is-not", "any-of", "none-of", "is-empty", "is-not-empty"]);
    expect(lead.person).toEqual([{ id: null, words: "the person who looks" }]);
    const stage = paths.find((p) => p.words === "Stage")!;
    expect(stage.choices.map((c) => c.name)).toEqual(["Design", "Making", "Done"]);
    expect(paths.find((p) => p.words === "Company")!.company).toEqual([{ id: null, words: "their company" }]);
  });
});

describe("a table that is nobody's", () => {
  it("is one from which no relation leads to people or companies", () => {
    const leads = (table: string): boolean => leadsNowhere(pathChoices(schema, schema.table(table)), schema.table(table));
    expect(leads(t.signs)).toBe(false);
    const file = memoryPortal();
    makeTestSchema(file);
    const rates = addTable(file, {
      slug: "rates",
      name: "Rates",
      singular: "Rate",
      fields: [{ slug: "name", name: "Name", type: "text" }],
    });
    const wider = schemaOf(file);
    expect(leadsNowhere(pathChoices(wider, wider.table(rates)), wider.table(rates))).toBe(true);
  });
});

describe("what a draft changes", () => {
  it("names grants added, removed and changed, and walls, each as a sentence", () => {
    const live: Definition = {
      ...emptyDefinition("T"),
      grants: [grant({ id: "kept" }), grant({ id: "gone", actions: ["export"] })] as Definition["grants"],
    };
    const draft: Definition = {
      ...live,
      grants: [
        grant({ id: "kept", fields: [] }),
        grant({ id: "new", actions: ["add"], changes: [id("signs", "code")] }),
      ] as Definition["grants"],
      walls: { ...live.walls, [t.signs]: { kind: "shared" } },
    };
    const c = draftChanges(view(draft), live);
    expect(c.added).toEqual(["Lead may add Signs. Only Code."]);
    expect(c.removed).toEqual(["Lead may export Signs. Only Code."]);
    expect(c.changed).toEqual([{ before: "Lead may see Signs. Only Code.", after: "Lead may see Signs. Only no field at all." }]);
    expect(c.walls).toEqual(["Shared: grants may open Signs to any company and to visitors."]);
  });

  it("roles made, renamed, retired, and what they include", () => {
    const role = (id: string, name: string, ...includes: string[]) => ({ id, name, side: "client" as const, includes });
    const before: Definition = { ...emptyDefinition("T"), roles: [role("a", "Lead"), role("b", "Manager", "a"), role("c", "Guest")] };
    const after: Definition = { ...before, roles: [role("a", "Head"), role("b", "Manager"), role("d", "Warden", "b")] };
    expect(versionChanges(view(after), before, after).roles).toEqual([
      "Lead is called Head.",
      "Manager no longer has what Head has.",
      "Warden is a new role, with all that Manager has.",
      "Guest is retired.",
    ]);
    expect(versionChanges(view(after), after, after)).toEqual({
      acts: [],
      plans: [],
      roles: [],
      added: [],
      removed: [],
      changed: [],
      walls: [],
      safeguards: [],
      pages: [],
      brand: [],
    });
  });

  it("fields are told by whichever list is shorter", () => {
    const all = schema.table(t.signs).fields.map((f) => f.id);
    const v = view(emptyDefinition("T"));
    expect(fieldWords(v, grant({ fields: all }))).toBe("All fields.");
    expect(fieldWords(v, grant({ fields: all.filter((f) => f !== id("signs", "cost")) }))).toBe("All fields but Cost.");
    expect(fieldWords(v, grant())).toBe("Only Code.");
    expect(changeWords(v, grant({ actions: ["change"], changes: [id("signs", "code")] }))).toBe("May set Code.");
    expect(changeWords(v, grant({ changes: [id("signs", "code")] }))).toBe(""); // a grant that changes nothing sets nothing
  });
});
