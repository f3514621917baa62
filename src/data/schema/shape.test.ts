/** Shaping by hand: what is named, put away, brought back, retyped, filled and turned round, and what refuses for the rules' sake. */
import { describe, expect, it } from "vitest";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { FIELD_TYPES, type Field, type FieldType, fieldBySlug, kindOf, type Value } from "@/core/schema/types";
import { TestPortal } from "@/testing/portal";
import { whole } from "@/testing/random";
import { PUBLISHER } from "@/testing/world";
import { changeDraft, draftOf } from "../definition/draft";
import { published, storePublished } from "../definition/published";
import { Desk } from "../records/desk";
import { binned, emptyBin, restoreRecord } from "../records/write/bin";
import { pointingTo, removeRecord } from "../records/write/remove";
import { addField, addTable } from "../tables/change";
import { decodeValue, hasColumn } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { readRow } from "../tables/rows";
import { changeChoices, choiceCounts } from "./choices";
import { fillAutomatic, fillField } from "./fill";
import {
  bringFieldBack,
  bringTableBack,
  fieldsAway,
  leavingField,
  leavingTable,
  putFieldAway,
  putTableAway,
  removeField,
  removeTable,
  tablesAway,
} from "./put-away";
import { retype, tryRetype } from "./retype";
import type { RetypeAsk } from "./retype-convert";
import { changeField, changeTable, moveField, newField, newTable, seenOf } from "./shape";
import { turning, turnRound } from "./turn";

class Shaped extends TestPortal {
  constructor() {
    super(
      [
        { roles: ["lead"], table: "signs", actions: ["see", "change"], changes: ["size"], filter: null },
        { roles: ["lead"], table: "sites" },
      ],
      () => [],
    );
  }
  now = (table: string) => schemaOf(this.file).tableBySlug(table)!;
  f = (table: string, slug: string): Field => fieldBySlug(this.now(table), slug)!;
  get desk_(): Desk<Owner> {
    return new Desk(this.file, published(this.file).policy, this.owner);
  }
  held = (table: string, slug: string): Value[] => {
    const f = this.f(table, slug);
    return (this.file.db.prepare(`SELECT "${f.id}" FROM "${f.tableId}" ORDER BY rowid`).pluck().all() as unknown[]).map((v) =>
      decodeValue(f, v),
    );
  };
}
const message = (r: { ok: boolean; error?: unknown }): string =>
  r.ok ? "done" : String((r.error as { message?: string; code: string }).message ?? (r.error as { code: string }).code);

describe("tables and fields", () => {
  it("a rename follows everywhere; the old address leads on; who saw an older state is told", () => {
    const p = new Shaped();
    const t = p.now("signs");
    const seen = seenOf(t);
    const words = { name: "Boards", singular: "Board", about: "All of them", slug: "boards", label: t.labelFieldId };
    expect(changeTable(p.file, p.owner, t.id, words, seen)).toMatchObject({ ok: true });
    expect([p.now("boards").name, p.now("signs")]).toEqual(["Boards", undefined]);
    expect(p.file.db.prepare("SELECT table_id FROM sys_old_addresses WHERE slug = 'signs'").pluck().get()).toBe(t.id);
    expect(message(changeTable(p.file, p.owner, t.id, words, seen))).toBe("stale");
    expect(message(changeTable(p.file, p.owner, t.id, { ...words, slug: "api" }, seenOf(p.now("boards"))))).toContain(
      "is taken, or Elkhorn needs it",
    );
    expect(message(changeTable(p.file, p.owner, t.id, { ...words, name: "Sites" }, seenOf(p.now("boards"))))).toContain(
      "There is a table called Sites.",
    );
    expect(
      message(changeTable(p.file, p.owner, t.id, { ...words, label: fieldBySlug(p.now("boards"), "size")!.id }, seenOf(p.now("boards")))),
    ).toContain("by a field of text");
    const note = fieldBySlug(p.now("boards"), "note")!.id;
    expect(changeTable(p.file, p.owner, t.id, { ...words, label: note }, seenOf(p.now("boards"))).ok).toBe(true);
    expect(p.now("boards").labelFieldId).toBe(note);
  });

  it("a table of another's shape, and a field of every type", () => {
    const p = new Shaped();
    const made = newTable(p.file, p.owner, { name: "Old signs", singular: "Old sign", like: p.now("signs").id });
    if (!made.ok) throw new Error("not made");
    const copy = schemaOf(p.file).table(made.value);
    expect(copy.fields.map((f) => [f.name, f.type])).toEqual(p.now("signs").fields.map((f) => [f.name, f.type]));
    for (const type of FIELD_TYPES) {
      const options = type.startsWith("relation")
        ? { target: p.now("sites").id }
        : type === "readable-address"
          ? { madeFrom: copy.labelFieldId }
          : {};
      expect(message(newField(p.file, p.owner, copy.id, { name: `A ${type}`, type, options }))).toBe("done");
    }
    expect(message(newField(p.file, p.owner, copy.id, { name: "a text", type: "text", options: {} }))).toContain(
      "There is a field called a text already.",
    );
    expect(message(newTable(p.file, p.owner, { name: "OLD SIGNS", singular: "x", like: null }))).toContain("There is a table called");
  });

  it("order, requirement, uniqueness: what stands twice is named", () => {
    const p = new Shaped();
    p.add("sites", { name: "Yard", company: p.company("Ash") });
    p.add("sites", { name: "yard", company: p.company("Ash") });
    p.add("sites", { name: "Mill", company: p.company("Birch") });
    const name = p.f("sites", "name");
    expect(message(changeField(p.file, p.owner, name.id, { name: "Name", own: {}, unique: true }, seenOf(name)))).toContain(
      "These stand more than once: “Yard”",
    );
    p.desk_.change(
      p.now("sites"),
      p.file.db
        .prepare(`SELECT id FROM "${p.now("sites").id}" WHERE "${name.id}" = 'yard'`)
        .pluck()
        .get() as string,
      { [name.id]: "Mill" },
      null,
    );
    // Of an owned table no two of one company are alike; another company's are nobody's business.
    expect(
      message(changeField(p.file, p.owner, name.id, { name: "Called", own: { longest: 20 }, unique: true, required: true }, seenOf(name))),
    ).toBe("done");
    const again = p.desk_.add(p.now("sites"), { [name.id]: "MILL", [p.f("sites", "company").id]: p.company("Birch") });
    expect(again).toMatchObject({
      ok: false,
      error: { errors: [{ message: "Called must be unlike every other, and this one is taken." }] },
    });
    expect(p.desk_.add(p.now("sites"), { [name.id]: "Mill", [p.f("sites", "company").id]: p.company("Cedar") }).ok).toBe(true);
    moveField(p.file, p.owner, p.f("sites", "open").id, -1);
    expect(p.now("sites").fields.map((f) => f.slug)).toEqual(["name", "open", "company"]);
  });
});

describe("put away", () => {
  it("a field goes from the rules' lists, live and drafted alike, and comes back with its values", () => {
    const p = new Shaped();
    const size = p.f("signs", "size");
    p.add("signs", { code: "A", size: 7, project: p.project("Ash") });
    const { revision } = draftOf(p.file, p.owner);
    changeDraft(p.file, p.owner, revision, (d) => ({ ...d, brand: { ...d.brand, motto: "drafted" } }));
    const before = published(p.file).version;
    expect(leavingField(p.file, p.owner, size)).toEqual({ breaks: [], follows: ["One grant lists it and no longer will"], filled: 1 });
    expect(message(putFieldAway(p.file, p.owner, size.id))).toBe("done");
    expect([p.f("signs", "size"), published(p.file).version, published(p.file).definition.grants[0]!.changes]).toEqual([
      undefined,
      before + 1,
      [],
    ]);
    expect(draftOf(p.file, p.owner)).toMatchObject({
      changed: true,
      definition: { brand: { motto: "drafted" }, grants: [{ changes: [] }, {}] },
    });
    expect(fieldsAway(p.file, p.owner, size.tableId)).toMatchObject([{ name: "Size" }]);
    expect(message(removeField(p.file, p.owner, p.f("signs", "cost").id))).toContain("Put the field away first.");
    expect(message(bringFieldBack(p.file, p.owner, size.id))).toBe("done");
    expect(p.held("signs", "size")).toEqual([7]);
    putFieldAway(p.file, p.owner, size.id);
    expect(message(removeField(p.file, p.owner, size.id))).toBe("done");
    expect(p.file.db.prepare("SELECT count(*) FROM pragma_table_info(?) WHERE name = ?").pluck().get(size.tableId, size.id)).toBe(0);
  });

  it("what a wall or a filter rests on stays, and is named; a draft is never wedged", () => {
    const p = new Shaped();
    expect(message(putFieldAway(p.file, p.owner, p.f("signs", "project").id))).toContain("the wall of Signs, which goes through it");
    expect(message(putFieldAway(p.file, p.owner, p.f("signs", "code").id))).toContain("every sign is called by it");
    const { revision } = draftOf(p.file, p.owner);
    const filter = {
      kind: "test" as const,
      path: [p.f("signs", "lit").id],
      operator: "is" as const,
      operands: [{ kind: "literal" as const, value: true }],
    };
    changeDraft(p.file, p.owner, revision, (d) => ({ ...d, grants: d.grants.map((g, i) => (i === 0 ? { ...g, filter } : g)) }));
    expect(message(putFieldAway(p.file, p.owner, p.f("signs", "lit").id))).toContain("the filter of a grant on Signs");
    expect(message(putTableAway(p.file, p.owner, p.now("projects").id))).toContain("the wall of Signs");
    expect(p.f("signs", "lit")).toBeDefined();
  });

  it("a table goes with what points to it, named, and all of it comes back; or it goes for good", () => {
    const p = new Shaped();
    const sites = p.now("sites");
    const yard = p.add("sites", { name: "Yard", company: p.company("Ash") });
    p.add("signs", { code: "A", site: yard, also: [yard], project: p.project("Ash") });
    const leaving = leavingTable(p.file, p.owner, sites);
    expect(leaving).toMatchObject({ breaks: [], records: 1 });
    expect(leaving.follows).toEqual(["one grant on it", "the field Site of Signs", "the field Also at of Signs"]);
    expect(message(putTableAway(p.file, p.owner, sites.id))).toBe("done");
    expect([p.now("sites"), p.f("signs", "site"), published(p.file).definition.grants.length]).toEqual([undefined, undefined, 1]);
    expect(tablesAway(p.file, p.owner)).toMatchObject([{ name: "Sites", records: 1 }]);
    expect(message(bringTableBack(p.file, p.owner, sites.id))).toBe("done");
    expect(
      readRow(
        p.file,
        schemaOf(p.file),
        p.now("signs"),
        p.file.db
          .prepare(`SELECT id FROM "${p.now("signs").id}"`)
          .pluck()
          .get() as string,
      )!.values[p.f("signs", "site").id],
    ).toBe(yard);
    putTableAway(p.file, p.owner, sites.id);
    expect(message(removeTable(p.file, p.owner, sites.id))).toBe("done");
    expect(p.file.db.prepare("SELECT count(*) FROM sqlite_master WHERE name IN (?, ?)").pluck().get(sites.id, `l_${sites.id}`)).toBe(0);
    expect(p.file.db.pragma("foreign_key_check")).toEqual([]);
    expect(message(putTableAway(p.file, p.owner, "t_people"))).toContain("belong to every portal");
  });

  it("a record that a field which is put away points to can be removed all the same", () => {
    const p = new Shaped();
    const yard = p.add("sites", { name: "Yard", company: p.company("Ash") });
    p.add("signs", { code: "A", site: yard, project: p.project("Ash") });
    putFieldAway(p.file, p.owner, p.f("signs", "site").id);
    expect(p.desk_.remove(p.now("sites"), yard).ok).toBe(true);
  });
});

describe("another type", () => {
  const ask = (field: string, type: FieldType, more: Partial<RetypeAsk> = {}): RetypeAsk => ({
    field,
    type,
    options: {},
    reading: {},
    by: null,
    add: false,
    rest: "refuse",
    ...more,
  });

  it("a trial says what converts and what does not; then the rest is emptied, or kept in words", () => {
    const p = new Shaped();
    for (const note of ["12", "3.5", "about 4", "about 4", ""]) p.add("signs", { code: note || "none", note, project: p.project("Ash") });
    const note = p.f("signs", "note");
    const tried = tryRetype(p.file, p.owner, ask(note.id, "number", { options: { decimals: 1 } }));
    expect(tried).toMatchObject({
      ok: true,
      value: { converts: 2, empty: 1, fails: 2, failing: [{ text: "about 4", records: 2, reason: "“about 4” is not a number." }] },
    });
    expect(p.f("signs", "note").type).toBe("long-text");
    expect(message(retype(p.file, p.owner, ask(note.id, "number", { options: { decimals: 1 } })))).toContain("2 values do not convert");
    expect(retype(p.file, p.owner, ask(note.id, "number", { options: { decimals: 1 }, rest: "keep" })).ok).toBe(true);
    expect(p.held("signs", "note")).toEqual([120, 35, null, null, null]);
    expect(p.held("signs", "note-before").filter(Boolean)).toEqual(["about 4", "about 4"]);
  });

  it("a column of words becomes a relation: near names are told, missing ones made if wanted, and whose it is follows", () => {
    const p = new Shaped();
    p.company("Harbour Lights");
    const t = addTable(p.file, {
      slug: "jobs",
      name: "Jobs",
      singular: "Job",
      fields: [
        { slug: "name", name: "Name", type: "text" },
        { slug: "client", name: "Client", type: "text" },
      ],
    });
    for (const client of ["harbour lights", "Harbour Lites", "New Firm"])
      p.desk_.add(schemaOf(p.file).table(t), { [p.f("jobs", "name").id]: client, [p.f("jobs", "client").id]: client });
    const client = p.f("jobs", "client");
    const to = { options: { target: "t_companies" } };
    expect(tryRetype(p.file, p.owner, ask(client.id, "relation", to))).toMatchObject({
      ok: true,
      value: {
        converts: 1,
        fails: 2,
        failing: [
          { text: "Harbour Lites", nearest: ["Harbour Lights"] },
          { text: "New Firm", nearest: [] },
        ],
      },
    });
    expect(retype(p.file, p.owner, ask(client.id, "relation", { ...to, add: true })).ok).toBe(true);
    expect(p.f("jobs", "client")).toMatchObject({ type: "relation", options: { target: "t_companies" }, id: client.id });
    expect(
      p.desk_
        .list(p.now("jobs"), { limit: 9 })
        .records.map((r) => (r.fields[client.id] as { label: string }).label)
        .sort(),
    ).toEqual(["Harbour Lights", "Harbour Lites", "New Firm"]);
  });

  it("a table is made of a column that repeats: a record for each different text, seen by the agency alone or by whoever saw the text", () => {
    for (const seen of [false, true]) {
      const p = new Shaped();
      for (const [company, note] of [
        ["Ash", "Enamel"],
        ["Ash", "enamel "],
        ["Ash", ""],
        ["Birch", "Brass"],
      ] as const)
        p.add("signs", { code: note || "none", note: note.trim(), project: p.project(company) });
      const note = p.f("signs", "note");
      const to = (name: string) => ask(note.id, "relation", { made: { name, seen } });
      expect(tryRetype(p.file, p.owner, to("Materials"))).toMatchObject({
        value: { converts: 3, empty: 1, fails: 0, made: ["Enamel", "Brass"] },
      });
      expect(p.now("materials")).toBeUndefined();
      expect(message(retype(p.file, p.owner, to("signs")))).toBe("There is a table called signs.");
      expect(message(retype(p.file, p.owner, to(" ")))).toBe("Give the new table a name.");
      expect(message(retype(p.file, p.owner, { ...to("Materials"), type: "number" }))).toContain("as a relation");
      expect(retype(p.file, p.owner, to("Materials")).ok).toBe(true);
      const materials = p.now("materials");
      expect(p.desk_.list(materials, { limit: 9 }).records).toHaveLength(2);
      expect(p.f("signs", "note")).toMatchObject({ id: note.id, type: "relation", options: { target: materials.id } });
      const labels = (d: Desk) =>
        d.list(p.now("signs"), { limit: 9 }).records.map((r) => (r.fields[note.id] as { label: string } | null)?.label ?? null);
      expect(labels(p.desk_).sort()).toEqual(["Brass", "Enamel", "Enamel", null].sort());
      // A lead saw the words of their own company's signs; the names of all are opened to them only where that was asked for.
      const { policy } = published(p.file);
      const lead = p.person("Lee", "Ash", "lead");
      expect(policy.wall(materials.id).kind).toBe(seen ? "shared" : "agency-only");
      expect(labels(lead).filter(Boolean)).toEqual(seen ? ["Enamel", "Enamel"] : []);
      expect(lead.may(materials, "see")).toBe(seen);
      expect(lead.may(materials, "change") || lead.may(materials, "add")).toBe(false);
      expect(p.visitor().may(materials, "see")).toBe(false);
    }
  });

  it("what must be unlike others stays so, or the other type is refused", () => {
    const p = new Shaped();
    const [note, size] = [p.f("signs", "note"), p.f("signs", "size")];
    for (const [code, said] of [
      ["A", "1"],
      ["B", "2"],
    ] as const)
      p.add("signs", { code, note: said, project: p.project("Ash") });
    changeField(p.file, p.owner, note.id, { name: "Note", own: {}, unique: true }, seenOf(note));
    expect(retype(p.file, p.owner, ask(note.id, "number", { options: { decimals: 0 } })).ok).toBe(true);
    expect(p.f("signs", "note").options).toMatchObject({ unique: true });
    const third = { ...p.values("signs", { code: "C", project: p.project("Ash") }), [note.id]: 2 };
    expect(p.desk_.add(p.now("signs"), third)).toMatchObject({ ok: false, error: { errors: [{ field: note.id }] } });
    changeField(p.file, p.owner, size.id, { name: "Size", own: {}, unique: true }, seenOf(size));
    for (const v of [15, 25]) p.add("signs", { code: String(v), size: v, project: p.project("Ash") });
    expect(message(retype(p.file, p.owner, ask(size.id, "yes-no", { rest: "empty" })))).toBe("done"); // neither converts
    expect(p.held("signs", "size").filter((v) => v !== null)).toEqual([]);
    const code = p.f("signs", "code");
    const words = addField(p.file, code.tableId, { slug: "word", name: "Word", type: "text", options: { unique: true } });
    const [one, two] = p.desk_.list(p.now("signs"), { limit: 2 }).records;
    p.desk_.change(p.now("signs"), one!.id, { [words]: "1" }, null);
    p.desk_.change(p.now("signs"), two!.id, { [words]: "1.0" }, null);
    for (const act of [tryRetype, retype])
      expect(message(act(p.file, p.owner, ask(words, "number", { options: { decimals: 1 } })))).toContain(
        "These would stand more than once",
      );
    expect(p.f("signs", "word").type).toBe("text");
  });

  it("what the rules compare with stays of a type that they make sense of", () => {
    const p = new Shaped();
    const { revision } = draftOf(p.file, p.owner);
    const filter = {
      kind: "test" as const,
      path: [p.f("signs", "size").id],
      operator: "at-least" as const,
      operands: [{ kind: "literal" as const, value: 5 }],
    };
    changeDraft(p.file, p.owner, revision, (d) => ({ ...d, grants: d.grants.map((g, i) => (i === 0 ? { ...g, filter } : g)) }));
    const before = [schemaOf(p.file).version, draftOf(p.file, p.owner).revision, p.held("signs", "size")];
    // Whoever tries it is told what whoever does it would be told, and nothing is left of the trial.
    for (const [field, type, why] of [
      ["size", "yes-no", "The rules cannot follow"],
      ["code", "number", "so it must stay text"],
      ["project", "text", "The rules cannot follow"],
    ] as const)
      for (const act of [tryRetype, retype])
        expect(message(act(p.file, p.owner, ask(p.f("signs", field).id, type, { rest: "empty" })))).toContain(why);
    expect(tryRetype(p.file, p.owner, ask(p.f("signs", "note").id, "choice", { rest: "empty" })).ok).toBe(true);
    expect([schemaOf(p.file).version, draftOf(p.file, p.owner).revision, p.held("signs", "size")]).toEqual(before);
    expect([p.f("signs", "size").type, p.f("signs", "note").type]).toEqual(["number", "long-text"]);
  });

  it("every type into every other: what converts reads the same in words, and nothing is left broken", () => {
    const values: Partial<Record<FieldType, Value>> = {
      text: "Oak 12",
      "long-text": "Oak\n12",
      number: 1200,
      money: 1250,
      percent: 125,
      date: "2026-06-15",
      "date-time": "2026-06-15T11:30:00.000Z",
      email: "ada@x.example",
      telephone: "020 7946 0000",
      "web-address": "https://x.example",
      "yes-no": true,
      choice: "c1",
      choices: ["c1", "c2"],
    };
    const types = Object.keys(values) as FieldType[];
    const p = new Shaped();
    const options = (type: FieldType) =>
      type.startsWith("choice")
        ? {
            choices: [
              { id: "c1", name: "Oak" },
              { id: "c2", name: "Ash" },
            ],
          }
        : type === "number"
          ? { decimals: 2 }
          : {};
    const others = [...types, "relation", "relations"] as FieldType[];
    for (const [i, from] of types.entries())
      for (const [j, to] of others.entries()) {
        // Each type from and to some others, and every pair in a long run.
        if (!whole && (i + j) % 4 !== 0) continue;
        const t = addTable(p.file, {
          slug: `x-${from}-${to}`,
          name: `${from} ${to}`,
          singular: "x",
          fields: [
            { slug: "name", name: "Name", type: "text" },
            { slug: "v", name: "V", type: from, options: options(from) as never },
          ],
        });
        const table = schemaOf(p.file).table(t);
        const f = table.fields[1]!;
        p.desk_.add(table, { [table.fields[0]!.id]: "r", [f.id]: values[from]! });
        const more: Partial<RetypeAsk> = {
          rest: "empty",
          options: to.startsWith("relation") ? { target: "t_companies" } : to === "number" ? { decimals: 2 } : {},
          add: to.startsWith("relation"),
        };
        const done = retype(p.file, p.owner, ask(f.id, to, more));
        if (!done.ok) throw new Error(`${from} to ${to}: ${message(done)}`);
        const now = schemaOf(p.file).field(f.id);
        expect(now.type).toBe(to);
        const record = p.desk_.list(schemaOf(p.file).table(t), { limit: 2 }).records[0]!;
        const empty =
          record.fields[f.id] === null || (Array.isArray(record.fields[f.id]) && (record.fields[f.id] as unknown[]).length === 0);
        expect([from, to, empty]).toEqual([from, to, done.value.converts === 0]);
        if (hasColumn(now) && kindOf(now).folds && done.value.converts === 1)
          expect(p.file.db.prepare(`SELECT "${f.id}_k" FROM "${t}"`).pluck().get()).not.toBeNull();
      }
    expect(p.file.db.pragma("integrity_check", { simple: true })).toBe("ok");
  });
});

describe("choices", () => {
  it("rename and order follow everywhere; one that goes says what becomes of its records, and stays where a rule speaks of it", () => {
    const p = new Shaped();
    for (const type of ["Door", "Door", "Totem"]) p.add("signs", { code: type, type, marks: ["new", "worn"], project: p.project("Ash") });
    const type = p.f("signs", "type");
    expect(choiceCounts(p.file, type)).toEqual({ Door: 2, Totem: 1 });
    const given = {
      choices: [
        { id: "Totem", name: "Totem" },
        { id: "Hanging", name: "Hung" },
      ],
      instead: {},
    };
    expect(message(changeChoices(p.file, p.owner, type.id, given, seenOf(type)))).toContain(
      "Say what becomes of the 2 records that have “Door”.",
    );
    expect(message(changeChoices(p.file, p.owner, type.id, { ...given, instead: { Door: "Hanging" } }, seenOf(type)))).toBe("done");
    expect(p.held("signs", "type")).toEqual(["Hanging", "Hanging", "Totem"]);
    expect(p.f("signs", "type").options.choices).toMatchObject([{ name: "Totem" }, { name: "Hung" }]);
    const toned = p.f("signs", "type");
    const tones = toned.options.choices!.map((c, i) => ({ ...c, tone: i === 0 ? ("good" as const) : undefined }));
    expect(message(changeChoices(p.file, p.owner, type.id, { choices: tones, instead: {} }, seenOf(toned)))).toBe("done");
    expect(p.f("signs", "type").options.choices!.map((c) => c.tone)).toEqual(["good", undefined]);
    const marks = p.f("signs", "marks");
    expect(
      message(
        changeChoices(
          p.file,
          p.owner,
          marks.id,
          {
            choices: [
              { id: "worn", name: "Worn, old" },
              { id: null, name: "Fresh" },
            ],
            instead: { new: null },
          },
          seenOf(marks),
        ),
      ),
    ).toBe("done");
    expect(p.held("signs", "marks")[0]).toEqual(["worn"]);
    const { revision } = draftOf(p.file, p.owner);
    const filter = {
      kind: "test" as const,
      path: [type.id],
      operator: "is" as const,
      operands: [{ kind: "literal" as const, value: "Totem" }],
    };
    changeDraft(p.file, p.owner, revision, (d) => ({ ...d, grants: d.grants.map((g, i) => (i === 0 ? { ...g, filter } : g)) }));
    expect(
      message(
        changeChoices(
          p.file,
          p.owner,
          type.id,
          { choices: [{ id: "Hanging", name: "Hung" }], instead: { Totem: null } },
          seenOf(p.f("signs", "type")),
        ),
      ),
    ).toContain("“Totem” cannot go while a grant or an act speaks of it");
  });
});

describe("filled at once", () => {
  it("with a value, by a rule, from another field; only where it is empty", () => {
    const p = new Shaped();
    for (const [code, size] of [
      ["A", 1],
      ["B", 9],
      ["C", null],
    ] as const)
      p.add("signs", { code, size, project: p.project("Ash") });
    const when = {
      kind: "test" as const,
      path: [p.f("signs", "size").id],
      operator: "more-than" as const,
      operands: [{ kind: "literal" as const, value: 5 }],
    };
    expect(fillField(p.file, p.owner, p.f("signs", "type").id, { kind: "rule", when, value: "Totem" })).toEqual({
      ok: true,
      value: { filled: 1, unfit: [] },
    });
    expect(fillField(p.file, p.owner, p.f("signs", "type").id, { kind: "value", value: "Door" })).toMatchObject({ value: { filled: 2 } });
    expect(p.held("signs", "type")).toEqual(["Door", "Totem", "Door"]);
    expect(fillField(p.file, p.owner, p.f("signs", "note").id, { kind: "field", from: p.f("signs", "code").id })).toMatchObject({
      value: { filled: 3 },
    });
    expect(fillField(p.file, p.owner, p.f("signs", "cost").id, { kind: "field", from: p.f("signs", "code").id })).toMatchObject({
      value: { filled: 0, unfit: ["A", "B", "C"] },
    });
  });

  it("what must be unlike others is filled where it stays so: within each company, however it is written", () => {
    const p = new Shaped();
    const made = (code: string, note: string, company: string) => p.add("signs", { code, note, project: p.project(company) });
    for (const [code, note, company] of [
      ["A", "x1", "Ash"],
      ["B", "X1", "Ash"],
      ["C", "x1", "Birch"],
      ["D", "x2", "Ash"],
    ] as const)
      made(code, note, company);
    const signs = p.now("signs");
    const word = addField(p.file, signs.id, { slug: "word", name: "Word", type: "text", options: { unique: true } });
    const last = made("E", "x9", "Ash");
    p.desk_.change(p.now("signs"), last, { [word]: "X2" }, null);
    expect(fillField(p.file, p.owner, word, { kind: "field", from: p.f("signs", "note").id })).toEqual({
      ok: true,
      value: { filled: 2, unfit: ["X1", "x2"] },
    });
    expect(p.held("signs", "word")).toEqual(["x1", null, "x1", null, "X2"]);
  });

  it("numbers in order without gaps, per table or per company; readable addresses with -1 and -2, and what they were before", () => {
    const p = new Shaped();
    const make = (name: string, company: string) =>
      p.desk_.add(p.now("sites"), { [p.f("sites", "name").id]: name, [p.f("sites", "company").id]: p.company(company) });
    for (const [name, company] of [
      ["Nörth Yard!", "Ash"],
      ["North yard", "Ash"],
      ["North Yard", "Birch"],
    ] as const)
      make(name, company);
    const no = addField(p.file, p.now("sites").id, {
      slug: "no",
      name: "No",
      type: "serial",
      options: { prefix: "S-", digits: 3, perCompany: true },
    });
    const at = addField(p.file, p.now("sites").id, {
      slug: "at",
      name: "Address",
      type: "readable-address",
      options: { madeFrom: p.f("sites", "name").id },
    });
    expect([fillAutomatic(p.file, p.owner, no), fillAutomatic(p.file, p.owner, at)]).toEqual([3, 3]);
    expect([p.held("sites", "no"), p.held("sites", "at")]).toEqual([
      ["S-001", "S-002", "S-001"],
      ["noerth-yard", "north-yard", "north-yard"],
    ]);
    expect(p.desk_.add(p.now("sites"), { [p.f("sites", "company").id]: "nobody" }).ok).toBe(false); // and no number is lost by it
    const added = make("North Yard", "Ash");
    if (!added.ok) throw new Error("not added");
    const row = () => readRow(p.file, schemaOf(p.file), p.now("sites"), added.value.id)!.values;
    expect([row()[no], row()[at]]).toEqual(["S-003", "north-yard-1"]);
    p.desk_.change(p.now("sites"), added.value.id, { [p.f("sites", "name").id]: "South" }, null);
    expect([row()[no], row()[at]]).toEqual(["S-003", "south"]);
    expect(p.file.db.prepare("SELECT slug FROM sys_old_slugs").pluck().all()).toEqual(["north-yard-1"]);

    const sites = p.now("sites");
    const found = (d: Desk, address: string) => d.readByAddress(sites, address)?.id;
    expect([found(p.desk_, "south"), found(p.desk_, "north-yard-1")]).toEqual([added.value.id, added.value.id]);
    expect(found(p.desk_, "north-yard")).toBeUndefined(); // Ash and Birch both have one, and the agency sees both
    expect(p.desk_.addressOf(sites, p.desk_.read(sites, added.value.id)!)).toBe("south");
    const [dana, bo] = [p.person("Dana", "Ash", "lead").viewer, p.person("Bo", "Birch", "lead").viewer];
    const asked = (v: Viewer) => ["south", "north-yard-1"].map((x) => found(p.desk(v), x));
    expect([asked(dana), asked(bo), asked(p.visitor().viewer)].flat()).toEqual(Array(6).fill(undefined)); // no grant shows the address
    const d = published(p.file).definition;
    const grants = d.grants.map((g) => (g.table === sites.id ? { ...g, fields: [...g.fields, at] } : g));
    storePublished(p.file, { ...d, grants }, PUBLISHER);
    expect(asked(dana)).toEqual([added.value.id, added.value.id]);
    expect([asked(bo), asked(p.visitor().viewer)].flat()).toEqual(Array(4).fill(undefined));
    expect(found(p.desk(dana), "north-yard")).not.toBe(found(p.desk(bo), "north-yard")); // each their own
  });
});

it("a relation to several is turned round where each of the others has one; else it is said who has more", () => {
  const p = new Shaped();
  const [a, b] = ["Yard", "Mill"].map((name) => p.add("sites", { name, company: p.company("Ash") }));
  p.add("signs", { code: "A", also: [a!, b!], project: p.project("Ash") });
  const second = p.add("signs", { code: "B", also: [b!], project: p.project("Ash") });
  const also = p.f("signs", "also");
  expect(turning(p.file, also.id)).toEqual({ links: 3, shared: 1, examples: ["Mill"] });
  expect(message(turnRound(p.file, p.owner, also.id, "Sign"))).toContain("pointed to by several, and could say one of them only: Mill.");
  p.desk_.change(p.now("signs"), second, { [also.id]: [] }, null);
  expect(message(turnRound(p.file, p.owner, also.id, " "))).not.toBe("done");
  expect(turnRound(p.file, p.owner, also.id, "Sign").ok).toBe(true);
  expect(
    p.desk_.list(p.now("sites"), { limit: 5 }).records.map((r) => (r.fields[p.f("sites", "sign").id] as { label: string }).label),
  ).toEqual(["A", "A"]);
  expect(fieldsAway(p.file, p.owner, also.tableId)).toMatchObject([{ name: "Also at" }]);
});

describe("removal", () => {
  const withRemoval = (p: Shaped, onRemoval: "refuse" | "remove") => {
    const site = p.f("signs", "site");
    changeField(p.file, p.owner, site.id, { name: "Site", own: {}, onRemoval }, seenOf(site));
  };
  it("a relation says what becomes of those that point: they keep it, or go with it and come back with it", () => {
    const p = new Shaped();
    const yard = p.add("sites", { name: "Yard", company: p.company("Ash") });
    for (const code of ["A", "B"]) p.add("signs", { code, site: yard, project: p.project("Ash") });
    expect(pointingTo(p.file, published(p.file).policy, p.now("sites").id, yard)).toEqual([{ field: p.f("signs", "site").id, records: 2 }]);
    withRemoval(p, "refuse");
    expect(p.desk_.remove(p.now("sites"), yard)).toMatchObject({
      ok: false,
      error: { errors: [{ message: "It stays as long as Signs point to it." }] },
    });
    withRemoval(p, "remove");
    expect(removeRecord(p.desk_, p.now("sites").id, yard)).toMatchObject({
      ok: true,
      value: { pointed: [], withIt: [{ table: p.now("signs").id, records: 2 }] },
    });
    expect(p.held("signs", "code")).toEqual([]);
    expect(binned(p.desk_, { limit: 9, offset: 0 })).toMatchObject({ total: 1, records: [{ id: yard, label: "Yard", withIt: 2 }] });
    expect(restoreRecord(p.desk_, yard).ok).toBe(true);
    expect([p.held("signs", "code"), p.held("signs", "site")]).toEqual([
      ["A", "B"],
      [yard, yard],
    ]);
    expect(
      p.file.db
        .prepare(`SELECT count(*) FROM "${p.now("signs").id}" WHERE company_id IS NULL`)
        .pluck()
        .get(),
    ).toBe(0);
  });

  it("what has been in the bin too long is gone for good; what cannot come back says why", () => {
    const p = new Shaped();
    const name = p.f("sites", "name");
    const yard = p.add("sites", { name: "Yard", company: p.company("Ash") });
    p.desk_.remove(p.now("sites"), yard);
    changeField(p.file, p.owner, name.id, { name: "Name", own: {}, unique: true }, seenOf(name));
    p.desk_.add(p.now("sites"), { [name.id]: "Yard", [p.f("sites", "company").id]: p.company("Ash") });
    expect(restoreRecord(p.desk_, yard)).toMatchObject({
      ok: false,
      error: { errors: [{ message: "Name must be unlike every other, and this one is taken." }] },
    });
    expect([emptyBin(p.file, "2000-01-01"), emptyBin(p.file, "2999-01-01"), restoreRecord(p.desk_, yard).ok]).toEqual([0, 1, false]);
  });
});
