/** Every kind of section: what it begins with is sound, and whatever it names that is gone or does not fit is told as a sentence. */
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { beginConfig } from "../pages/begin";
import { sectionProblems } from "../pages/problems";
import type { Condition } from "../schema/condition";
import { fieldBySlug, type Table } from "../schema/types";
import { type Configs, KINDS, type Kind, readsOf, SECTION_KINDS } from ".";
import { type Around, sourceOf } from "./kind";
import { PLAIN_LIST } from "./list";
import { PLAIN_SHEET } from "./sheet";

const { schema, t } = makeTestSchema(memoryPortal());
const signs = schema.table(t.signs);
const projects = schema.table(t.projects);
const field = (table: Table, slug: string): string => fieldBySlug(table, slug)!.id;
const acts: Around["acts"] = new Map([
  ["approve", { table: signs.id, on: "change" }],
  ["talk", { table: signs.id, on: "talk" }],
  ["elsewhere", { table: projects.id, on: "change" }],
]);
const about = (table: Table | null): Around => ({ about: table, schema, acts, pages: new Set(["p1"]) });

/** As the page says it, beside the section. */
function told<K extends Kind>(kind: K, config: Configs[K], around: Around = about(signs)): string[] {
  const section = { id: "s", page: "p", place: "a", kind, title: "", width: 12, config, audience: null, record: null, reader: null };
  return sectionProblems(section as never, around);
}
const list = (more: Partial<Configs["list"]>) => told("list", { source: sourceOf(signs.id), ...PLAIN_LIST, ...more });
const GONE = "f_gone";
const NO_FIELD = "It names a field that Signs no longer has.";

describe.each(KINDS)("%s", (kind) => {
  const begun = beginConfig(kind, { schema, grants: [], about: kind === "related" ? projects : signs, table: signs.id });

  it("begins with settings that are kept as they are, and lack nothing", () => {
    const settings = z.strictObject(SECTION_KINDS[kind].config as z.ZodRawShape);
    expect(settings.parse(begun)).toEqual(begun);
    expect(told(kind, begun as never, about(kind === "related" ? projects : signs))).toEqual([]);
    expect(settings.safeParse({ ...(begun as object), surprise: 1 }).success).toBe(false);
  });

  it("says which table it is made of, if it is made of one", () => {
    const made: Partial<Record<Kind, "see" | "add">> = { list: "see", related: "see", chart: "see", form: "add" };
    const reads = readsOf({ kind, config: begun });
    expect(reads && [reads.table, reads.doing]).toEqual(made[kind] ? [signs.id, made[kind]] : null);
  });

  it("of a record alone it says so on a page about none", () => {
    const on = told(kind, begun as never, about(null));
    expect(on.includes("It stands on a page about no record.")).toBe("ofRecord" in SECTION_KINDS[kind]);
  });
});

describe("a list", () => {
  it("names what is gone: its table, one field, several, an act, a page", () => {
    expect(list({ source: sourceOf("t_gone") })).toEqual(["Its table is gone."]);
    expect(list({ columns: [{ field: GONE }] })).toEqual([NO_FIELD]);
    expect(list({ columns: [{ field: GONE }], sums: [GONE] })).toEqual(["It names 2 fields that Signs no longer has."]);
    expect(list({ source: { ...sourceOf(signs.id), sort: [{ field: GONE, descending: true }] } })).toEqual([NO_FIELD]);
    for (const act of ["gone", "elsewhere", "talk"]) expect(list({ acts: [act] })).toEqual(["One of its buttons is an act that is gone."]);
    expect(list({ acts: ["approve"], opens: { page: "p1" } })).toEqual([]);
    expect(list({ opens: { page: "p2" } })).toEqual(["The page that its rows open is gone."]);
  });

  it("fits its look: a board goes by a choice, a calendar by a date, a gallery by pictures", () => {
    const code = field(signs, "code");
    const name = schema.field(code).name;
    expect(list({ look: "board", by: code })).toEqual([`${name} is no choice, so there is no board by it.`]);
    expect(list({ look: "calendar", by: code })).toEqual([`${name} is no date, so there is no calendar by it.`]);
    expect(list({ look: "gallery", by: code })).toEqual([`${name} holds no pictures, so there is no gallery by it.`]);
    // By whatever fits first, where none is named; by anything, where the look goes by nothing.
    expect([list({ look: "board", by: null }), list({ look: "rows", by: code })]).toEqual([[], []]);
    for (const f of signs.fields) {
      expect(list({ look: "board", by: f.id }).length === 0, f.slug).toBe(f.type === "choice");
      expect(list({ look: "calendar", by: f.id }).length === 0, f.slug).toBe(f.type === "date" || f.type === "date-time");
    }
  });

  it("tells what its filter cannot be read by", () => {
    const filter: Condition = { kind: "test", path: [GONE], operator: "is", operands: [{ kind: "literal", value: "x" }] };
    expect(list({ source: sourceOf(signs.id, filter) })).toHaveLength(1);
  });
});

describe("what belongs to a record", () => {
  const related = (through: string, on: Table = projects) =>
    told("related", { source: sourceOf(signs.id), through, ...PLAIN_LIST }, about(on));
  const ELSEWHERE = "The field that points here is gone, or points elsewhere now.";

  it("is what points to the page's record, by a field of those records", () => {
    expect(related(field(signs, "project"))).toEqual([]);
    for (const through of [GONE, field(signs, "site"), field(signs, "code"), field(projects, "company")])
      expect([through, related(through)]).toEqual([through, [ELSEWHERE]]);
    expect(related(field(signs, "project"), signs)).toEqual([ELSEWHERE]);
  });
});

describe("figures and charts", () => {
  const number = signs.fields.find((f) => f.type === "number")!.id;
  const code = field(signs, "code");
  const item = (more: object) => ({
    id: "f",
    name: "Open",
    source: sourceOf(signs.id),
    measure: "count" as const,
    of: null,
    monthly: null,
    ...more,
  });
  const figures = (more: object) => told("figures", { items: [item(more)] });
  const chart = (more: Partial<Configs["chart"]>) =>
    told("chart", { source: sourceOf(signs.id), shape: "bars", by: code, measure: "count", of: null, ...more });

  it("work with numbers alone, and say which figure it is about", () => {
    expect(figures({ measure: "sum", of: number })).toEqual([]);
    expect(figures({ measure: "sum", of: null })).toEqual(["Open: It needs a number to work with."]);
    expect(figures({ measure: "average", of: code })).toEqual([`Open: ${schema.field(code).name} is no number.`]);
    expect(figures({ measure: "most", of: GONE })).toEqual([`Open: ${NO_FIELD}`]);
    expect(figures({ monthly: code })).toEqual([`Open: ${schema.field(code).name} is no date.`]);
    expect(figures({ source: sourceOf("t_gone") })).toEqual(["Open: Its table is gone."]);
    // Of a count no number is asked, whatever was left there.
    expect(figures({ measure: "count", of: GONE })).toEqual([]);
  });

  it("a chart goes by something that makes groups", () => {
    const choice = signs.fields.find((f) => f.type === "choice")!.id;
    expect(chart({ by: choice })).toEqual([]);
    expect(chart({ by: GONE })).toEqual([NO_FIELD]);
    expect(chart({ by: code })).toEqual([`${schema.field(code).name} makes no groups.`]);
    expect(chart({ by: choice, measure: "least", of: code })).toEqual([`${schema.field(code).name} is no number.`]);
  });
});

describe("the others", () => {
  it("a sheet: fields of the record, and buttons that do something to it", () => {
    const sheet = (more: Partial<Configs["sheet"]>, on: Table = signs) => told("sheet", { ...PLAIN_SHEET, ...more }, about(on));
    expect(sheet({ fields: [{ field: field(signs, "code") }], acts: ["approve"] })).toEqual([]);
    expect(sheet({ fields: [{ field: GONE }] })).toEqual([NO_FIELD]);
    for (const act of ["talk", "elsewhere", "gone"]) expect(sheet({ acts: [act] })).toEqual(["One of its buttons is an act that is gone."]);
  });

  it("a conversation: an act opens one about this table", () => {
    expect(told("conversation", {})).toEqual([]);
    expect(told("conversation", {}, about(projects))).toEqual([
      "No act opens a conversation about Projects: make one under Access, and grant it.",
    ]);
  });

  it("links: each that leads to something gone, by its name", () => {
    const target = [{ to: "page", page: "p2" } as const, { to: "form", table: "t_gone" } as const];
    const items = target.map((to, i) => ({ id: `l${i}`, name: `Link ${i}`, target: to }));
    const sound = { id: "l2", name: "Sound", target: { to: "page", page: "p1" } as const };
    expect(told("links", { look: "buttons", items: [...items, sound] })).toEqual([
      "Link 0 leads to something that is gone.",
      "Link 1 leads to something that is gone.",
    ]);
  });

  it("a history, a search and a notice", () => {
    expect(told("history", { fields: [GONE] })).toEqual([NO_FIELD]);
    expect([told("search", { tables: [signs.id] }), told("search", { tables: [signs.id, "t_gone"] })]).toEqual([
      [],
      ["One of its tables is gone."],
    ]);
    const notice = (from: string | null, until: string | null) =>
      told("notice", { words: "Shut for the day.", tone: "plain", from, until, dismissible: true });
    expect([notice("2026-12-24", "2026-12-24"), notice("2026-12-24", null), notice(null, "2026-12-24")]).toEqual([[], [], []]);
    expect(notice("2026-12-25", "2026-12-24")).toEqual(["Its last day comes before its first."]);
  });
});
