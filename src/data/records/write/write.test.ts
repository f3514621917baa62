import { beforeEach, describe, expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Action, Grant } from "@/core/access/rules";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import type { Schema, Table } from "@/core/schema/types";
import { type TestPortal, testPortal } from "@/testing/portal";
import { MADE, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import type { PortalFile } from "../../file/open";
import { storeCompanies } from "../../tables/company";
import { insertRow } from "../../tables/store";
import { countRecords } from "../counting/count";
import { Desk } from "../desk";
import { formFields } from "../form";
import { readRecord } from "../query/read";
import { restoreRecord } from "./bin";
import { removeRecord } from "./remove";
import { addRecord, changeRecord, etagOf } from "./write";

let file: PortalFile;
let schema: Schema;
let t: ReturnType<typeof makeTestSchema>["t"];
let f: Record<string, string>;
let policy: Policy;
const owner = testViewer({ kind: "owner", company: null }) as Owner;
const lead = testViewer({ roles: ["lead"] });
const other = testViewer({ roles: ["lead"], company: { id: "c2", name: "Two", values: {} } });

beforeEach(() => {
  file = memoryPortal();
  ({ schema, t } = makeTestSchema(file));
  f = Object.fromEntries(schema.tables.flatMap((x) => x.fields.map((y) => [`${x.slug}.${y.slug}`, y.id])));
  const grant = (table: string, actions: Action[], changes: string[], filter: Grant["filter"] = null): Grant => ({
    id: `${table}-${actions.join()}`,
    roles: ["lead"],
    table,
    actions,
    filter,
    fields: schema.table(table).fields.map((x) => x.id),
    changes,
  });
  policy = new Policy(schema, {
    roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
    walls: {
      [t.sites]: { kind: "owned", path: [f["sites.company"]!] },
      [t.projects]: { kind: "owned", path: [f["projects.company"]!] },
      [t.signs]: { kind: "owned", path: [f["signs.project"]!, f["projects.company"]!] },
    },
    grants: [
      grant(t.sites, ["see", "add", "change"], [f["sites.name"]!, f["sites.company"]!]),
      grant(t.projects, ["see", "add", "remove"], [f["projects.title"]!]),
      grant(t.signs, ["see", "add", "change"], [f["signs.code"]!, f["signs.project"]!, f["signs.site"]!, f["signs.type"]!], {
        kind: "test",
        path: [f["signs.type"]!],
        operator: "is-not",
        operands: [{ kind: "literal", value: "Totem" }],
      }),
    ],
  });
  for (const c of ["c1", "c2"]) insertRow(file, schema.companies, c, { f_company_name: c }, MADE);
  for (const c of ["1", "2"]) {
    insertRow(file, schema.table(t.sites), `s${c}`, { [f["sites.name"]!]: `Site ${c}`, [f["sites.company"]!]: `c${c}` }, MADE);
    insertRow(file, schema.table(t.projects), `p${c}`, { [f["projects.title"]!]: `Project ${c}`, [f["projects.company"]!]: `c${c}` }, MADE);
    insertRow(
      file,
      schema.table(t.signs),
      `n${c}`,
      { [f["signs.code"]!]: `Sign ${c}`, [f["signs.project"]!]: `p${c}`, [f["signs.type"]!]: "Door" },
      MADE,
    );
  }
  for (const table of schema.tables) storeCompanies(file, policy, table.id);
});

const add = (who: Viewer, table: string, values: Record<string, string | null>) =>
  addRecord({ file, policy, viewer: who }, table, Object.fromEntries(Object.entries(values).map(([k, v]) => [f[k]!, v])));
const change = (who: Viewer, table: string, id: string, values: Record<string, string | null>, seen: string | null = null) =>
  changeRecord({ file, policy, viewer: who }, table, id, Object.fromEntries(Object.entries(values).map(([k, v]) => [f[k]!, v])), seen);
const code = (r: { ok: true } | { ok: false; error: { code: string } }): string => (r.ok ? "ok" : r.error.code);
const storedCompany = (table: string, id: string) => file.db.prepare(`SELECT company_id FROM "${table}" WHERE id = ?`).pluck().get(id);

describe("adding", () => {
  it("the company is the adder's, whatever the request carries, and the log says what was dropped", () => {
    const made = add(lead, t.sites, { "sites.name": "New", "sites.company": "c2" });
    expect(made.ok && storedCompany(t.sites, made.value.id)).toBe("c1");
    expect(file.db.prepare("SELECT detail FROM sys_events WHERE act = 'fields-dropped'").pluck().all()).toEqual([f["sites.company"]]);
  });
  it("through a longer path, the relation must be the adder's own", () => {
    expect(code(add(lead, t.signs, { "signs.code": "X", "signs.project": "p1", "signs.type": "Door" }))).toBe("ok");
    expect(code(add(lead, t.signs, { "signs.code": "X", "signs.project": "p2", "signs.type": "Door" }))).toBe("not-allowed"); // the wall
    expect(code(add(lead, t.signs, { "signs.code": "X", "signs.project": null, "signs.type": "Door" }))).toBe("invalid"); // nobody's
  });
  it("a relation to another company's record reads like one to nothing", () => {
    const [theirs, never] = [
      add(lead, t.signs, { "signs.project": "p1", "signs.site": "s2" }),
      add(lead, t.signs, { "signs.project": "p1", "signs.site": "never" }),
    ];
    expect(code(theirs)).toBe("invalid");
    expect(theirs).toEqual(never);
  });
  it("the record after must satisfy the grant's filter, and only its fields may be given", () => {
    expect(code(add(lead, t.signs, { "signs.project": "p1", "signs.type": "Totem" }))).toBe("not-allowed");
    expect(code(add(lead, t.signs, { "signs.project": "p1", "signs.type": "Door", "signs.note": "x" }))).toBe("not-allowed");
    expect(code(add(lead, t.projects, { "projects.title": "x", "projects.stage": "Done" }))).toBe("not-allowed");
  });
  it("nothing at all for another action's grant, or signed out", () => {
    const visitor = testViewer({ kind: "visitor", person: null, company: null, membershipId: null });
    expect(code(add(visitor, t.sites, { "sites.name": "x" }))).toBe("not-allowed");
    expect(code(removeRecord({ file, policy, viewer: lead }, t.sites, "s1"))).toBe("not-allowed");
  });
});

describe("changing", () => {
  it("another company's record does not exist", () => {
    expect(change(lead, t.sites, "s2", { "sites.name": "x" })).toEqual(change(lead, t.sites, "never", { "sites.name": "x" }));
    expect(code(removeRecord({ file, policy, viewer: lead }, t.projects, "p2"))).toBe("not-found");
  });
  it("the record before and after must both be within reach", () => {
    expect(code(change(lead, t.signs, "n1", { "signs.type": "Totem" }))).toBe("not-allowed");
    expect(code(change(lead, t.signs, "n1", { "signs.project": "p2" }))).toBe("invalid"); // not seen
    expect(code(change(lead, t.signs, "n1", { "signs.code": "Renamed" }))).toBe("ok");
  });
  it("a stale validator is refused with what is there now; nothing is overwritten", () => {
    const seen = etagOf(readRecord({ file, policy, viewer: lead }, t.signs, "n1")!);
    expect(code(change(lead, t.signs, "n1", { "signs.code": "First" }, seen))).toBe("ok");
    const late = change(lead, t.signs, "n1", { "signs.code": "Second" }, seen);
    expect(!late.ok && late.error.code === "stale" && late.error.now.fields[f["signs.code"]!]).toBe("First");
  });
  it("the kept company follows when a project moves, for every sign of it", () => {
    expect([countRecords({ file, policy, viewer: lead }, t.signs), countRecords({ file, policy, viewer: other }, t.signs)]).toEqual([1, 1]);
    expect(code(change(owner, t.projects, "p1", { "projects.company": "c2" }))).toBe("ok");
    expect([countRecords({ file, policy, viewer: lead }, t.signs), countRecords({ file, policy, viewer: other }, t.signs)]).toEqual([0, 2]);
    expect(code(change(owner, t.projects, "p1", { "projects.company": null }))).toBe("ok");
    expect(storedCompany(t.signs, "n1")).toBeNull();
  });
});

describe("removing and its undo", () => {
  it("brings the record back with all that pointed to it", () => {
    expect(code(removeRecord({ file, policy, viewer: owner }, t.projects, "p1"))).toBe("ok");
    expect(storedCompany(t.signs, "n1")).toBeNull(); // a broken path passes for nobody
    expect(countRecords({ file, policy, viewer: lead }, t.signs)).toBe(0);
    expect(code(restoreRecord({ file, policy, viewer: owner }, "p1"))).toBe("ok");
    expect(file.db.prepare(`SELECT created_by FROM "${t.projects}" WHERE id = 'p1'`).pluck().get()).toBe("test"); // undo does not make it anew
    expect(storedCompany(t.signs, "n1")).toBe("c1");
    expect(countRecords({ file, policy, viewer: lead }, t.signs)).toBe(1);
    expect(code(restoreRecord({ file, policy, viewer: owner }, "p1"))).toBe("not-found");
  });
});

it("a client's new record needs the relation that says whose it is, and its form says so; where they cannot set it, it is refused as ever", () => {
  const refused = add(lead, t.signs, { "signs.code": "X" });
  expect(refused).toMatchObject({
    ok: false,
    error: { code: "invalid", errors: [{ field: f["signs.project"], message: expect.stringContaining("Project is needed") }] },
  });
  expect(code(add(lead, t.signs, { "signs.code": "X", "signs.project": "p2" }))).not.toBe("ok"); // another company's is still no answer
  const form = (who: Viewer) =>
    formFields(new Desk(file, policy, who), schema.table(t.signs).fields, null)
      .filter((x) => x.required)
      .map((x) => x.name);
  expect([form(lead), form(owner)]).toEqual([["Project"], []]);
  const rules = {
    ...policy.rules,
    grants: policy.rules.grants.map((g) => ({ ...g, changes: g.changes.filter((x) => x !== f["signs.project"]) })),
  };
  const blind = addRecord({ file, policy: new Policy(schema, rules), viewer: lead }, t.signs, { [f["signs.code"]!]: "X" });
  expect(code(blind)).toBe("not-allowed");
});

it("a removal tells how many records pointed there, by field", () => {
  const done = removeRecord({ file, policy, viewer: owner }, t.projects, "p1");
  expect(done).toEqual({ ok: true, value: { pointed: [{ field: f["signs.project"], records: 1 }], withIt: [] } });
});

describe("forms obey the rules", () => {
  const test = (p: TestPortal, slug: string, operator: "is" | "is-not", value: string) => ({
    kind: "test" as const,
    path: [p.field("signs", slug)],
    operator,
    operands: [{ kind: "literal" as const, value }],
  });
  const portalWith = (filter: (p: TestPortal) => Grant["filter"]): TestPortal => {
    const plain = testPortal({ grants: [] });
    return testPortal({
      grants: [
        { roles: ["lead"], table: "projects" },
        { roles: ["lead"], table: "signs", actions: ["see", "add", "change"], filter: filter(plain), changes: ["code", "project", "type"] },
      ],
    });
  };
  const needed = (d: Desk, table: Table) =>
    formFields(d, d.settable(table, "add"), null)
      .filter((f) => f.required)
      .map((f) => [f.name, f.hint ?? ""]);

  it("what the wall and every grant need is asked for, with a sentence of this table", () => {
    const p = portalWith((x) => test(x, "type", "is", "Door"));
    const dana = p.person("Dana", "One", "lead");
    expect(needed(dana, p.table("signs"))).toEqual([
      ["Project", "It says whose this sign is."],
      ["Type", ""],
    ]);
    expect(dana.add(p.table("signs"), p.values("signs", { code: "A" }))).toEqual({
      ok: false,
      error: {
        code: "invalid",
        errors: [
          { field: p.field("signs", "project"), message: "Project is needed: it says whose this sign is." },
          { field: p.field("signs", "type"), message: "Type is needed: whether you may do this depends on it." },
        ],
      },
    });
    const sign = p.add("signs", { code: "N", type: "Door", project: p.project("One") });
    expect(dana.change(p.table("signs"), sign, p.values("signs", { project: null }), null)).toMatchObject({
      ok: false,
      error: { errors: [{ message: "Project is needed: it says whose this sign is." }] },
    });
    expect(dana.change(p.table("signs"), "never", p.values("signs", { project: null }), null)).toMatchObject({
      error: { code: "not-found" },
    });
  });

  it("what holds of an empty value too, or what one grant does without, is not demanded; the owner may leave all empty", () => {
    const p = portalWith((x) => ({ kind: "any", of: [test(x, "type", "is", "Door"), test(x, "type", "is-not", "Totem")] }));
    expect(needed(p.person("Dana", "One", "lead"), p.table("signs")).map(([n]) => n)).toEqual(["Project"]);
    expect(needed(p.owners, p.table("signs"))).toEqual([]);
  });
});
