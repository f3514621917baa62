import { describe, expect, it } from "vitest";
import { emptyDefinition } from "@/data/installation/portals";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { checkDefinition, type Definition, definitionProblems, readDefinition } from "../definition/definition";
import { allPagesOf } from "../pages/all-pages";
import { beginConfig } from "../pages/begin";
import { EVERYBODY, inOrder, type Section } from "../pages/page";
import { aroundOf, sectionProblems } from "../pages/problems";
import { listPageId } from "../pages/ready";
import { KINDS } from "../sections";
import { addPage, addSection, changePage, copyPage, menuTaken, moveEntry, moveSection, removePage, takenUp } from "./edit";

const { schema, t } = makeTestSchema(memoryPortal());
const fields = schema.table(t.sites).fields.map((f) => f.id);
const grant = (table: string) => ({
  id: `g_${table}`,
  roles: ["lead"],
  table,
  actions: ["see" as const],
  filter: null,
  fields,
  changes: [],
  feature: null,
});
const d: Definition = { ...emptyDefinition("Test"), grants: [grant(t.sites), { ...grant(t.signs), fields: [] }] };
const addresses = (x: Definition): string[] => allPagesOf(x, schema).pages.map((p) => `/${p.address}${p.about ? "/…" : ""}`);
const good = (x: Definition): Definition => {
  const read = checkDefinition(x);
  if (!read.ok) throw new Error(read.error.join(" "));
  expect(definitionProblems(read.value, schema)).toEqual([]);
  return read.value;
};

describe("ready-made pages", () => {
  it("follow the grants: a home, and a list and a sheet for each table that is opened", () => {
    expect(addresses(d)).toEqual(["/", "/sites", "/signs", "/sites/…", "/signs/…"]);
    expect(addresses({ ...d, grants: [] })).toEqual(["/"]);
  });
  it("are pages like any other once one is changed, and are not made twice", () => {
    const id = listPageId(t.sites);
    const page = { ...allPagesOf(d, schema).page(id)!, name: "Our places" };
    const next = good(changePage(d, page, schema));
    expect(addresses(next)).toEqual(addresses(d));
    expect([allPagesOf(next, schema).page(id)!.name, allPagesOf(next, schema).ready.has(id), allPagesOf(d, schema).ready.has(id)]).toEqual([
      "Our places",
      false,
      true,
    ]);
    // Taken away it is ready-made again; thrown away it is gone until it is brought back.
    expect(allPagesOf(removePage(next, id, false), schema).ready.has(id)).toBe(true);
    expect(addresses(removePage(next, id, true))).not.toContain("/sites");
  });
  it("a definition from before there were pages reads with all of them ready-made", () => {
    const { pages: _p, sections: _s, navigation: _n, thrown: _t, landing: _l, ...old } = d;
    const { logo: _logo, head: _h, titles: _ti, text: _te, density: _d, corners: _c, signIn: _si, footer: _f, ...brand } = old.brand;
    const stored = JSON.stringify({
      portal: { format: 1, portal: old.portal },
      access: { format: 2, roles: old.roles, walls: old.walls, grants: old.grants, acts: [], safeguards: [] },
      plans: { format: 1, features: [], plans: [], offers: [] },
      brand: { format: 1, brand },
    });
    const read = readDefinition(stored);
    expect(read.ok && addresses(read.value)).toEqual(addresses(d));
    expect(read.ok && read.value.brand.signIn).toEqual({ kind: "plain", picture: null, welcome: "" });
  });
});

describe("laying out", () => {
  const section = (id: string, page: string): Section =>
    ({
      id,
      page,
      place: "a0",
      title: "",
      width: 12,
      breaks: false,
      audience: EVERYBODY,
      record: null,
      reader: null,
      kind: "standing",
      config: {},
    }) as Section;
  const order = (x: Definition, page: string): string[] => inOrder(x.sections.filter((s) => s.page === page)).map((s) => s.id);

  it("sections are put in, moved and copied with their page", () => {
    let x = addPage(d, "p", "Notes", null, schema);
    for (const id of ["a", "b", "c"]) x = addSection(x, section(id, "p"), null, schema);
    expect(order(x, "p")).toEqual(["c", "b", "a"]);
    x = moveSection(x, "p", "c", "a", schema);
    expect(order(x, "p")).toEqual(["b", "a", "c"]);
    x = moveSection(x, "p", "a", null, schema);
    expect(order(good(x), "p")).toEqual(["a", "b", "c"]);
    let n = 0;
    const copied = good(copyPage(x, "p", () => `new${++n}`, schema));
    expect([order(copied, "new1"), allPagesOf(copied, schema).page("new1")!.address]).toEqual([["new2", "new3", "new4"], "notes-copy"]);
  });
  it("two people may move and change different sections of one page side by side", () => {
    const x = addSection(
      addSection(addPage(d, "p", "Notes", null, schema), section("a", "p"), null, schema),
      section("b", "p"),
      "a",
      schema,
    );
    const ids = (y: Definition) => y.sections.map((s) => s.id);
    expect(ids(moveSection(x, "p", "b", null, schema))).toEqual(ids(x)); // the place is the section's own: no list changes its order
  });
  it("refuses two pages at one address, and addresses that Elkhorn needs", () => {
    const two = addPage(addPage(d, "p", "Notes", null, schema), "q", "Notes", null, schema);
    expect(allPagesOf(two, schema).page("q")!.address).toBe("notes-2");
    const clash = { ...two, pages: two.pages.map((p) => ({ ...p, address: "notes" })) };
    expect(definitionProblems(clash, schema)).toEqual(["Notes and Notes would have the same address, /notes."]);
    expect(definitionProblems({ ...two, pages: [{ ...two.pages[0]!, address: "api" }] }, schema)[0]).toContain("kept for Elkhorn itself");
    expect(addPage(d, "p", "Plans", null, schema).pages[0]!.address).toBe("plans-2");
  });
  it("200 sections stand on a page, and not one more", () => {
    const many = (n: number): Definition => ({
      ...addPage(d, "p", "Notes", null, schema),
      sections: Array.from({ length: n }, (_, i) => section(`s${i}`, "p")),
    });
    expect(definitionProblems(many(200), schema)).toEqual([]);
    expect(definitionProblems(many(201), schema)).toEqual(["Notes has 201 sections. A page has 200 at the most."]);
  });
  it("the menu is taken as it stands, and its entries change places", () => {
    let n = 0;
    const x = good(menuTaken(d, () => `n${++n}`, schema));
    expect(inOrder(x.navigation).map((e) => e.name)).toEqual(["Home", "Sites", "Signs"]);
    const names = (y: Definition) => inOrder(y.navigation).map((e) => e.name);
    expect(names(moveEntry(x, "n3", -1))).toEqual(["Home", "Signs", "Sites"]);
    expect(names(moveEntry(x, "n1", 1))).toEqual(["Sites", "Home", "Signs"]);
    expect(names(moveEntry(x, "n1", -1))).toEqual(names(x));
  });
});

describe("a section whose table, field or role went", () => {
  it("every kind begins with settings that hold, or says that there is nothing to make it of", () => {
    for (const kind of KINDS) {
      const config = beginConfig(kind, { schema, grants: d.grants, about: schema.table(t.sites), table: t.signs });
      const page = takenUp(d, `sheet-${t.sites}`, schema).pages[0]!;
      const s = {
        id: "s",
        page: page.id,
        place: "a0",
        title: "",
        width: 12,
        breaks: false,
        audience: EVERYBODY,
        record: null,
        reader: null,
        kind,
        config,
      } as Section;
      const talk = { id: "talk", name: "Talk", table: t.sites, on: "talk" as const, sets: [] };
      expect([kind, sectionProblems(s, aroundOf(page, allPagesOf(d, schema), [talk], schema))]).toEqual([kind, []]);
      good({ ...addPage(d, "p", "Notes", t.sites, schema), sections: [{ ...s, page: "p" }] });
    }
  });
  it("is told in a sentence, and never wedges the draft", () => {
    const x = takenUp(d, listPageId(t.sites), schema);
    const [s] = x.sections;
    const gone = { ...s!, config: { ...(s!.config as object), source: { table: "t_gone", filter: null, sort: [] } } } as unknown as Section;
    const broken = { ...x, sections: [gone] };
    expect(sectionProblems(gone, aroundOf(x.pages[0]!, allPagesOf(broken, schema), [], schema))).toEqual(["Its table is gone."]);
    expect(definitionProblems(broken, schema)).toEqual([]);
    const field = { ...s!, config: { ...(s!.config as object), columns: [{ field: "f_gone" }] } } as Section;
    expect(sectionProblems(field, aroundOf(x.pages[0]!, allPagesOf(x, schema), [], schema))[0]).toContain("no longer has");
  });
});
