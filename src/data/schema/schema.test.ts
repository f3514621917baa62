import { describe, expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Owner } from "@/core/access/who/viewer";
import { FIELD_TYPES } from "@/core/schema/types";
import { MADE, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import { explainRecords, explainTable, seenCounts } from "../records/query/explain";
import { addField, addTable } from "../tables/change";
import { readMeta } from "../tables/meta";
import { schemaOf } from "../tables/read";
import { insertRow } from "../tables/store";

describe("tables and fields", () => {
  it("are real STRICT tables; names that people choose never become column names", () => {
    const file = memoryPortal();
    makeTestSchema(file);
    const id = addTable(file, {
      slug: "odd",
      name: `Robert"); DROP TABLE t_people; --`,
      singular: "Odd",
      fields: [{ slug: "a", name: `"quoted" 😀`, type: "text" }],
    });
    const sql = file.db.prepare("SELECT sql FROM sqlite_master WHERE name = ?").pluck().get(id) as string;
    expect(sql).toContain("STRICT");
    expect(sql).not.toContain("Robert");
    expect(schemaOf(file).tableBySlug("odd")!.fields[0]!.name).toBe(`"quoted" 😀`);
    expect(file.db.prepare("SELECT count(*) FROM t_people").pluck().get()).toBe(0);
  });

  it("every type of field can be added to a table that has records; the schema is read anew", () => {
    const file = memoryPortal();
    const { t } = makeTestSchema(file);
    insertRow(file, schemaOf(file).table(t.sites), "s1", {}, MADE);
    const before = schemaOf(file);
    for (const type of FIELD_TYPES)
      addField(file, t.sites, { slug: `x-${type}`, name: type, type, options: type.startsWith("relation") ? { target: t.projects } : {} });
    const after = schemaOf(file);
    expect(after.version).toBeGreaterThan(before.version);
    expect(after.table(t.sites).fields).toHaveLength(before.table(t.sites).fields.length + FIELD_TYPES.length);
    expect(schemaOf(file)).toBe(after); // unchanged: not read again
  });

  it("a slug is one field's in its table, and a failed addition leaves nothing", () => {
    const file = memoryPortal();
    const { t } = makeTestSchema(file);
    const version = readMeta(file, "schema_version");
    expect(() => addField(file, t.sites, { slug: "name", name: "Again", type: "text" })).toThrow("UNIQUE");
    expect(() => addTable(file, { slug: "sites", name: "Again", singular: "x", fields: [{ slug: "a", name: "A", type: "text" }] })).toThrow(
      "UNIQUE",
    );
    expect(readMeta(file, "schema_version")).toBe(version);
  });

  it("a relation refuses what is not there (SQLite, foreign keys)", () => {
    const file = memoryPortal();
    const { t } = makeTestSchema(file);
    const company = schemaOf(file)
      .table(t.sites)
      .fields.find((f) => f.slug === "company")!.id;
    expect(() => insertRow(file, schemaOf(file).table(t.sites), "s1", { [company]: "never" }, MADE)).toThrow("FOREIGN KEY");
  });

  it("ids that are not there are a programmer's mistake, and say so", () => {
    const { schema } = makeTestSchema(memoryPortal());
    expect(() => schema.table("t_99")).toThrow("No table t_99");
    expect(() => schema.field("f_99")).toThrow("No field f_99");
    expect([schema.findTable("t_99"), schema.findField("f_99"), schema.tableBySlug("never")]).toEqual([undefined, undefined, undefined]);
  });
});

describe("explained to the owner", () => {
  it("counts and explanations are the person's, never the owner's", () => {
    const file = memoryPortal();
    const { schema, t } = makeTestSchema(file);
    const name = schema.table(t.sites).fields[0]!.id;
    const open = schema.table(t.sites).fields.find((f) => f.slug === "open")!.id;
    for (const [rid, lit] of [
      ["s1", true],
      ["s2", false],
    ] as const)
      insertRow(file, schema.table(t.sites), rid, { [name]: rid, [open]: lit }, MADE);
    const policy = new Policy(schema, {
      roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
      walls: { [t.sites]: { kind: "shared" } },
      grants: [
        {
          id: "g",
          roles: ["lead"],
          table: t.sites,
          actions: ["see"],
          filter: { kind: "test", path: [open], operator: "is", operands: [{ kind: "literal", value: true }] },
          fields: [name],
          changes: [],
        },
      ],
    });
    const owner = testViewer({ kind: "owner", company: null }) as Owner;
    const lead = testViewer({ roles: ["lead"] });
    expect(seenCounts({ file, policy, viewer: owner }, lead).find((c) => c.table === t.sites)).toEqual({ table: t.sites, seen: 1, all: 2 });
    const explained = explainRecords({ file, policy, viewer: owner }, lead, t.sites, { limit: 10, offset: 0, search: "", show: "all" });
    expect(explained.map((e) => [e.label, e.explanation.outcome, e.explanation.fields])).toEqual([
      ["s1", "allowed", [name]],
      ["s2", "refused", []],
    ]);
    expect(explainTable({ file, policy, viewer: owner }, lead, t.signs).steps.some((s) => s.step === "no-grant")).toBe(false); // the wall refuses first
    expect(explainTable({ file, policy, viewer: owner }, lead, t.signs).outcome).toBe("refused");
  });
});
