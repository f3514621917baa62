/** Forms on pages: what they ask, what follows from what is filled in, and that an address or a rule gives nobody more than they read. */
import { beforeEach, describe, expect, it } from "vitest";
import type { Definition } from "@/core/definition/definition";
import { addPage, addSection } from "@/core/editing/edit";
import { EVERYBODY, type SectionOf } from "@/core/pages/page";
import type { Condition } from "@/core/schema/condition";
import type { Configs } from "@/core/sections";
import { published, storePublished } from "@/data/definition/published";
import type { Desk } from "@/data/records/desk";
import { type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { shownSections } from "../pages-for";
import { portalRequest } from "../testing";
import { askedForm, maySend, settableIn } from "./asked";
import { workOut } from "./filling";

let p: TestPortal;
let dana: Desk;
let wren: Desk;
const signs = () => p.table("signs");
const f = (slug: string): string => p.field("signs", slug);
const is = (slug: string, value: string): Condition => ({
  kind: "test",
  path: [f(slug)],
  operator: "is",
  operands: [{ kind: "literal", value }],
});

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead"], table: "signs" },
      { roles: ["lead", "looker"], table: "projects" },
      { roles: ["lead"], table: "signs", actions: ["add"], changes: ["code", "project", "type", "note", "cost", "size"] },
      { roles: ["looker"], table: "signs", actions: [], acts: ["report"], changes: ["code", "project"] },
    ],
    acts: (x) => [
      {
        id: "report",
        name: "Report",
        table: x.table("signs").id,
        on: "add",
        sets: [{ field: x.field("signs", "type"), to: { kind: "literal", value: "Door" } }],
      },
    ],
  });
  dana = p.person("Dana", "One", "lead");
  wren = p.person("Wren", "One", "looker");
});

const withForm = (config: Partial<Configs["form"]>): SectionOf<"form"> => {
  const section = {
    id: "s",
    page: "p",
    place: "a0",
    title: "",
    width: 12,
    breaks: false,
    audience: EVERYBODY,
    record: null,
    reader: null,
    kind: "form" as const,
    config: {
      table: signs().id,
      does: "add" as const,
      fields: null,
      steps: [],
      fill: [],
      submit: "",
      after: { goes: "record" as const },
      ...config,
    },
  };
  const { definition } = published(p.file);
  const next: Definition = addSection(addPage(definition, "p", "Report", null, p.schema), section, null, p.schema);
  storePublished(p.file, next, PUBLISHER);
  return section;
};
const request = (d: Desk) => portalRequest(p.file, d.viewer);
const asked = (d: Desk, s: SectionOf<"form">, search = {}) =>
  askedForm(request(d), s, null, search)?.fields.map((x) => [x.name, ...x.value]) ?? null;

describe("what a form asks", () => {
  it("is what its sender may set, in the order and under the names of the page; what an act sets is not asked", () => {
    const s = withForm({
      fields: [
        { field: f("note"), name: "What is wrong", width: 12, required: true, when: null, step: 1 },
        { field: f("code"), width: 6, required: false, when: null, step: 2 },
        { field: f("fitted"), width: 6, required: false, when: null, step: 2 },
      ],
    });
    expect(asked(dana, s)).toEqual([["What is wrong"], ["Code"]]);
    expect([maySend(request(wren), s, null), asked(wren, s), asked(p.visitor(), s)]).toEqual([false, null, null]);
    const act = withForm({ does: { act: "report" } });
    expect(asked(wren, act)?.map(([name]) => name)).toEqual(["Code", "Project"]);
    expect(settableIn(request(wren), act, null).some((x) => x.id === f("type"))).toBe(false);
    expect(asked(dana, act)).toBeNull();
  });
  it("takes values from its address, and records only that the sender sees", () => {
    const s = withForm({});
    const [own, theirs] = [p.project("One"), p.project("Two")];
    const project = (id: string) => asked(dana, s, { project: id, code: "N7" })?.filter(([name]) => name === "Project" || name === "Code");
    expect(project(own)).toEqual([
      ["Code", "N7"],
      ["Project", own],
    ]);
    expect(project(theirs)).toEqual([["Code", "N7"], ["Project"]]);
  });
  it("stands on no page that is for others", () => {
    withForm({});
    const { definition } = published(p.file);
    const page = definition.pages.find((x) => x.id === "p")!;
    expect(shownSections(request(dana), page, null)).toHaveLength(1);
    storePublished(
      p.file,
      { ...definition, sections: definition.sections.map((x) => ({ ...x, audience: { ...EVERYBODY, roles: ["looker"] } })) },
      PUBLISHER,
    );
    expect(shownSections(request(dana), page, null)).toHaveLength(0);
  });
});

describe("what follows from what is filled in", () => {
  it("fields come and go, values are filled in, and only those that the sender may set", () => {
    const s = withForm({
      fields: [
        { field: f("type"), width: 12, required: false, when: null, step: 1 },
        { field: f("size"), width: 12, required: true, when: is("type", "Totem"), step: 1 },
      ],
      fill: [
        {
          id: "a",
          field: f("cost"),
          while: "always",
          lines: [{ when: is("type", "Totem"), value: { kind: "literal", value: 12.5 } }],
          otherwise: null,
        },
        { id: "b", field: f("lit"), while: "always", lines: [], otherwise: { kind: "literal", value: true } },
      ],
    });
    const r = request(dana);
    const worked = (type: string) => workOut(r, s, { [f("type")]: type }, settableIn(r, s, null), new Set());
    expect([...worked("Door").hidden]).toEqual([f("size")]);
    expect([worked("Totem").values[f("cost")], worked("Door").values[f("cost")], [...worked("Totem").hidden]]).toEqual([
      1250,
      undefined,
      [],
    ]);
    expect(worked("Totem").values[f("lit")]).toBeUndefined(); // no grant lets them set it
  });
  it("a rule gives nobody a value of theirs that the portal keeps from them", () => {
    const s = withForm({
      fill: [
        { id: "a", field: f("note"), while: "always", lines: [], otherwise: { kind: "viewer", of: "person", field: "f_person_email" } },
      ],
    });
    const r = request(dana);
    expect(workOut(r, s, {}, settableIn(r, s, null), new Set()).values[f("note")]).toBeNull();
  });
});
