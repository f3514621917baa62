/** Another type for a field: tried first, and done to all records or to none. */
import { describe, expect, it } from "vitest";
import { type FieldType, kindOf, type Value } from "@/core/schema/types";
import { whole } from "@/testing/random";
import { message, Shaped } from "@/testing/shaped";
import { changeDraft, draftOf } from "../definition/draft";
import { published } from "../definition/published";
import type { Desk } from "../records/desk";
import { addField, addTable } from "../tables/change";
import { hasColumn } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { retype, tryRetype } from "./retype";
import type { RetypeAsk } from "./retype-convert";
import { changeField, seenOf } from "./shape";

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
