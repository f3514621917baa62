import { beforeEach, describe, expect, it } from "vitest";
import type { Viewer } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { PLAIN_LIST } from "@/core/sections/list";
import { storePublished } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { emptyDefinition } from "@/data/installation/portals";
import { chooseRecords } from "@/data/records/choose";
import { formFields } from "@/data/records/form";
import { schemaOf } from "@/data/tables/read";
import { insertRow } from "@/data/tables/store";
import { MADE, makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { safePath } from "./entry";
import { columns, missingFeatures, openTables, plannedTables } from "./queries";
import { actingAs, actingProblem } from "./records/forms";
import { listView, PAGE } from "./sections/list/load";
import { portalRequest } from "./testing";

let file: PortalFile;
let t: ReturnType<typeof makeTestSchema>["t"];
const table = (slug: string) => schemaOf(file).tableBySlug(slug)!;
const id = (slug: string, field: string): string => table(slug).fields.find((f) => f.slug === field)!.id;
const all = (slug: string): string[] => table(slug).fields.map((f) => f.id);

const request = (viewer: Viewer = testViewer({ roles: ["lead"] })) => portalRequest(file, viewer);

beforeEach(() => {
  file = memoryPortal();
  ({ t } = makeTestSchema(file));
  const grant = (slug: string, more: Partial<Definition["grants"][number]> = {}): Definition["grants"][number] => ({
    id: `g-${slug}-${JSON.stringify(more).length}`,
    roles: ["lead"],
    table: table(slug).id,
    actions: ["see"],
    filter: null,
    fields: all(slug),
    changes: [],
    ...more,
  });
  const definition: Definition = {
    ...emptyDefinition("Test"),
    features: [{ id: "gold", name: "gold things" }],
    walls: {
      ...emptyDefinition("Test").walls,
      [t.sites]: { kind: "owned", path: [id("sites", "company")] },
      [t.projects]: { kind: "owned", path: [id("projects", "company")] },
      [t.signs]: { kind: "owned", path: [id("signs", "site"), id("sites", "company")] },
    },
    grants: [
      grant("sites"),
      grant("signs"),
      grant("signs", {
        id: "add",
        actions: ["add"],
        changes: [
          id("signs", "code"),
          id("signs", "site"),
          id("signs", "type"),
          id("signs", "cost"),
          id("signs", "lit"),
          id("signs", "also"),
        ],
      }),
      grant("projects", { feature: "gold" }),
    ],
  };
  for (const c of ["c1", "c2"]) insertRow(file, schemaOf(file).companies, c, { f_company_name: c }, MADE);
  for (const [s, c] of [
    ["s1", "c1"],
    ["s2", "c1"],
    ["s9", "c2"],
  ])
    insertRow(file, table("sites"), s!, { [id("sites", "name")]: `Site ${s}`, [id("sites", "company")]: c! }, MADE);
  for (let i = 0; i < 60; i++) {
    const values = {
      [id("signs", "code")]: `S-${String(i).padStart(2, "0")}`,
      [id("signs", "site")]: i < 55 ? (i % 2 ? "s1" : "s2") : "s9",
      [id("signs", "type")]: i % 5 ? "Door" : "Totem",
    };
    insertRow(file, table("signs"), `n${i}`, values, MADE);
  }
  storePublished(file, definition, PUBLISHER);
});

describe("a list's view, from its address", () => {
  const view = (search: Record<string, string | string[]>) => listView(request(), table("signs"), search);

  it("has pages of fifty, and stays on them whatever the address says", () => {
    expect(view({})).toMatchObject({ total: 55, all: 55, page: 1, pages: 2 });
    expect(view({}).records).toHaveLength(PAGE);
    expect(view({ page: "2" }).records).toHaveLength(5);
    for (const page of ["0", "-3", "x", "1e9"]) expect(view({ page }).records.length).toBeGreaterThan(0);
    expect(view({ page: "99" })).toMatchObject({ page: 2 });
    expect(view({ page: ["2", "1"] })).toMatchObject({ page: 2 });
  });
  it("filters by choice and searches, and still knows how many there are in all", () => {
    expect(view({ "is.type": "Totem" })).toMatchObject({ total: 11, all: 55 });
    expect(view({ q: "s-0" })).toMatchObject({ total: 10, all: 55 });
    expect(view({ q: "S-56" })).toMatchObject({ total: 0 }); // another company's
    expect(view({ "is.type": "Nothing" })).toMatchObject({ total: 0 });
    expect(view({ "is.never": "x" })).toMatchObject({ total: 55 });
  });
  it("narrows to a related record that the viewer sees; another one is as if it were not there", () => {
    expect(view({ of: "site:s1" })).toMatchObject({ total: 27, related: { id: "s1", label: "Site s1" } });
    for (const of of ["site:s9", "site:never", "never:s1", "code:x", "site", ":"])
      expect(view({ of })).toMatchObject({ total: 55, related: null });
  });
  it("sorts by a field that can be sorted, and by nothing else", () => {
    expect(view({ sort: "-code" }).records[0]!.fields[id("signs", "code")]).toBe("S-54");
    expect(view({ sort: "-code" }).sort).toEqual({ field: id("signs", "code"), descending: true });
    for (const sort of ["marks", "also", "note", "never", "company"]) expect(view({ sort }).sort).toBeNull();
  });
});

describe("what is open", () => {
  it("tables of counting grants; those that a plan would open stand apart", () => {
    const r = request();
    expect(openTables(r).map((x) => x.slug)).toEqual(["sites", "signs"]);
    expect(plannedTables(r).map((x) => x.slug)).toEqual(["projects"]);
    expect(missingFeatures(r, table("projects"))).toEqual(["gold things"]);
    const rich = request(testViewer({ roles: ["lead"], features: new Set(["gold"]) }));
    expect(openTables(rich).map((x) => x.slug)).toEqual(["sites", "projects", "signs"]);
    expect([r.desk.may(table("signs"), "add"), r.desk.may(table("signs"), "change"), r.desk.may(table("sites"), "add")]).toEqual([
      true,
      false,
      false,
    ]);
  });
  it("the own company's column says nothing to its people", () => {
    expect(columns(request(), table("sites")).map((f) => f.slug)).toEqual(["name", "open"]);
  });
  it("related lists hold what points here, as far as it is seen", () => {
    const pointing = (site: string) =>
      listView(
        request(),
        table("signs"),
        {},
        {
          source: { filter: null, sort: [] },
          settings: { ...PLAIN_LIST, size: 5 },
          key: "2.",
          through: { field: id("signs", "site"), id: site },
        },
      );
    expect([pointing("s1").total, pointing("s1").records.length]).toEqual([27, 5]);
    expect(pointing("s9").total).toBe(0);
    expect(request().desk.label(table("signs"), { id: "x", fields: {} })).toBe("Sign");
  });
});

describe("forms", () => {
  it("offer the fields of the grant, with choices that the viewer sees", () => {
    const r = request();
    const fields = formFields(r.desk, r.desk.settable(table("signs"), "add"), null);
    expect(fields.map((f) => f.name)).toEqual(["Code", "Site", "Also at", "Cost", "Lit", "Type"]);
    expect(fields.find((f) => f.name === "Site")!.chosen).toEqual([]);
    expect(chooseRecords(r.desk, table("sites"), "").records.map((c) => c.label)).toEqual(["Site s1", "Site s2"]);
    expect(fields.find((f) => f.name === "Cost")!.hint).toBe("In GBP.");
    expect(fields.find((f) => f.name === "Lit")!.choices).toHaveLength(2);
  });
  it("show a record's values as they would be typed", () => {
    const r = request();
    const values = {
      [id("signs", "cost")]: 12345,
      [id("signs", "lit")]: false,
      [id("signs", "site")]: { id: "s1", label: "x" },
      [id("signs", "also")]: [{ id: "s2", label: "y" }, { withheld: true as const }],
    };
    const fields = formFields(r.desk, r.desk.settable(table("signs"), "add"), { id: "n1", fields: values });
    expect(Object.fromEntries(fields.map((f) => [f.name, f.value]))).toEqual({
      Code: [],
      Site: ["s1"],
      "Also at": ["s2"],
      Cost: ["123.45"],
      Lit: ["no"],
      Type: [],
    });
  });
});

describe("a form that was opened as somebody else", () => {
  const acting = (membershipId: string | null, company: string | null = "c1") =>
    request(testViewer({ membershipId, company: company ? { id: company, name: `Company ${company}`, values: {} } : null }));
  const visiting = () => request(testViewer({ kind: "visitor", person: null, company: null, membershipId: null }));
  it("is taken from whoever opened it, visitors too", () => {
    expect(actingProblem(acting("m1"), actingAs(acting("m1")))).toBeNull();
    expect(actingProblem(visiting(), actingAs(visiting()))).toBeNull();
  });
  it("is not stored for the company that the person acts for by now", () => {
    expect(actingProblem(acting("m2", "c2"), actingAs(acting("m1")))).toMatch(/^You act for Company c2 now/);
    expect(actingProblem(acting("m2", "c2"), "")).toMatch(/^You act for Company c2 now/); // a form that says nothing
  });
  it("is not taken after the membership ended while the page was open", () =>
    expect(actingProblem(visiting(), actingAs(acting("m1")))).toMatch(/^You are no longer signed in here/));
});

describe("the way back after signing in", () => {
  it.each(["/signs", "/signs?is.type=Totem&page=2", "/a/b#c"])("%s is kept", (to) => expect(safePath(to)).toBe(to));
  it("letters beyond Latin-1 come as a header can hold them", () =>
    expect(safePath("/ünï/Жук?q=日本")).toBe("/%C3%BCn%C3%AF/%D0%96%D1%83%D0%BA?q=%E6%97%A5%E6%9C%AC"));
  // A browser reads "//host" and "/\\host" as another site (WHATWG URL, relative slash state) and drops tabs and line breaks.
  it.each([
    "//evil.example",
    "/\\evil.example",
    "\\\\evil",
    "https://evil.example",
    "javascript:alert(1)",
    "/\t/evil.example",
    "/\n/evil",
    "/.//evil.example",
    "/..//evil.example",
    "/a/..//evil.example",
    "/%2e//evil.example",
    "",
    null,
    undefined,
    "signs",
  ])("%j leads home", (to) => expect(safePath(to)).toBe("/"));
});
