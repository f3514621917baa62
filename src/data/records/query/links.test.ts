/** Labels of related records, many-relations and counts that must not tell what is out of sight. */
import { beforeEach, describe, expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Grant } from "@/core/access/rules";
import type { Viewer } from "@/core/access/who/viewer";
import type { Schema, Value } from "@/core/schema/types";
import { fill, makeTestSchema, memoryPortal, type TestRecord, testViewer } from "@/testing/world";
import type { PortalFile } from "../../file/open";
import { countRecords } from "../counting/count";
import { changeableFields } from "../write/write";
import { listRecords, readRecord } from "./read";
import { searchCondition } from "./where";

let file: PortalFile;
let schema: Schema;
let t: ReturnType<typeof makeTestSchema>["t"];
const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
const lead = testViewer({ roles: ["lead"] });

beforeEach(() => {
  file = memoryPortal();
  ({ schema, t } = makeTestSchema(file));
});

function policyOf(more: Partial<Record<"sites" | "signs", Partial<Grant>[]>>): Policy {
  const grants = (["sites", "signs"] as const).flatMap((slug) =>
    (more[slug] ?? []).map((g, i): Grant => {
      const table = schema.tableBySlug(slug)!;
      return {
        id: `${slug}${i}`,
        roles: ["lead"],
        table: table.id,
        actions: ["see"],
        filter: null,
        fields: table.fields.map((f) => f.id),
        changes: [],
        ...g,
      };
    }),
  );
  return new Policy(schema, {
    roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
    walls: { [t.sites]: { kind: "owned", path: [id("sites", "company")] }, [t.signs]: { kind: "shared" } },
    grants,
  });
}

function world(): void {
  const record = (table: string, rid: string, companyId: string | null, values: Record<string, Value>): TestRecord => ({
    table,
    id: rid,
    companyId,
    values,
  });
  fill(file, schema, [
    record(t.sites, "s1", "c1", { [id("sites", "name")]: "North" }),
    record(t.sites, "s2", "c2", { [id("sites", "name")]: "South" }),
    record(t.sites, "s3", "c2", { [id("sites", "name")]: "East" }),
    record(t.signs, "n1", null, {
      [id("signs", "code")]: "A",
      [id("signs", "site")]: "s1",
      [id("signs", "also")]: ["s1", "s2", "s3"],
      [id("signs", "type")]: "Door",
    }),
    record(t.signs, "n2", null, {
      [id("signs", "code")]: "B",
      [id("signs", "site")]: "s2",
      [id("signs", "also")]: ["s2"],
      [id("signs", "type")]: "Totem",
    }),
    record(t.signs, "n3", null, {
      [id("signs", "code")]: "C",
      [id("signs", "site")]: null,
      [id("signs", "also")]: [],
      [id("signs", "type")]: null,
    }),
  ]);
}

const one = (p: Policy, rid: string, who: Viewer = lead) => readRecord({ file, policy: p, viewer: who }, t.signs, rid)?.fields ?? {};

describe("related records", () => {
  it("show their label only if they are visible; out of sight they carry no id, and how many is not told", () => {
    world();
    const p = policyOf({ signs: [{}], sites: [{}] });
    expect(one(p, "n1")[id("signs", "site")]).toEqual({ id: "s1", label: "North" });
    expect(one(p, "n2")[id("signs", "site")]).toEqual({ withheld: true });
    expect(one(p, "n3")[id("signs", "site")]).toBeNull();
    expect(one(p, "n1")[id("signs", "also")]).toEqual([{ id: "s1", label: "North" }, { withheld: true }]);
    expect(one(p, "n2")[id("signs", "also")]).toEqual([{ withheld: true }]);
    expect(JSON.stringify(one(p, "n1"))).not.toContain("s2");
  });

  it("have no label where the naming field is hidden", () => {
    world();
    const p = policyOf({ signs: [{}], sites: [{ fields: [id("sites", "company")] }] });
    expect(one(p, "n1")[id("signs", "site")]).toEqual({ id: "s1", label: "" });
  });

  it("are withheld altogether without a grant on their table", () => {
    world();
    expect(one(policyOf({ signs: [{}] }), "n1")[id("signs", "site")]).toEqual({ withheld: true });
  });

  it("sort by their label where it may be read; the rest sorts as empty", () => {
    world();
    const order = (p: Policy, descending: boolean): string[] =>
      listRecords({ file, policy: p, viewer: lead }, t.signs, {
        sort: [{ field: id("signs", "site"), descending }],
        limit: 10,
      }).records.map((r) => r.id);
    const p = policyOf({ signs: [{}], sites: [{}] });
    expect(order(p, false)).toEqual(["n2", "n3", "n1"]); // n2's site is out of sight: it stands with the empty ones
    expect(order(p, true)).toEqual(["n1", "n3", "n2"]);
    expect(order(policyOf({ signs: [{}] }), false)).toEqual(["n1", "n2", "n3"]);
  });

  it("are found by a search of their name only where it may be read", () => {
    world();
    const found = (p: Policy, search: string): number => countRecords({ file, policy: p, viewer: lead }, t.signs, { search });
    const p = policyOf({ signs: [{}], sites: [{}] });
    expect([found(p, "north"), found(p, "south"), found(p, "DOOR")]).toEqual([1, 0, 1]);
    expect(found(policyOf({ signs: [{}] }), "north")).toBe(0);
    expect(searchCondition(policyOf({}), lead, t.signs, "x")).toEqual({ kind: "any", of: [] });
  });
});

describe("fields by grant and record", () => {
  const type = (value: string): Grant["filter"] => ({
    kind: "test",
    path: [id("signs", "type")],
    operator: "is",
    operands: [{ kind: "literal", value }],
  });

  it("a field may be visible on one row and hidden on the next: absent, not null", () => {
    world();
    const [code, site] = [id("signs", "code"), id("signs", "site")];
    const p = policyOf({ signs: [{ fields: [code] }, { filter: type("Door"), fields: [site] }], sites: [{}] });
    expect(Object.keys(one(p, "n1")).sort()).toEqual([code, site].sort());
    expect(Object.keys(one(p, "n2"))).toEqual([code]);
    const list = listRecords({ file, policy: p, viewer: lead }, t.signs, { limit: 10 }).records;
    expect(list.map((r) => Object.keys(r.fields).length)).toEqual([2, 1, 1]);
  });

  it("a filter on a hidden field finds nothing, and its absence finds nothing out", () => {
    world();
    const [code, kind] = [id("signs", "code"), id("signs", "type")];
    const p = policyOf({ signs: [{ fields: [code] }, { filter: type("Door"), fields: [kind] }] });
    const count = (operator: "is" | "is-not" | "is-empty", value?: string): number =>
      countRecords({ file, policy: p, viewer: lead }, t.signs, {
        condition: { kind: "test", path: [kind], operator, operands: value ? [{ kind: "literal", value }] : [] },
      });
    // Visible on n1 alone: n2's Totem and n3's emptiness read the same.
    expect([count("is", "Door"), count("is", "Totem"), count("is-not", "Totem"), count("is-empty")]).toEqual([1, 0, 3, 2]);
  });

  it("an export needs rows and fields of both grants", () => {
    world();
    const [code, kind, size] = [id("signs", "code"), id("signs", "type"), id("signs", "size")];
    const p = policyOf({ signs: [{ fields: [code, kind] }, { actions: ["export"], filter: type("Door"), fields: [code, size] }] });
    const rows = listRecords({ file, policy: p, viewer: lead }, t.signs, { limit: 10, forExport: true }).records;
    expect(rows.map((r) => [r.id, Object.keys(r.fields)])).toEqual([["n1", [code]]]);
    expect(listRecords({ file, policy: policyOf({ signs: [{}] }), viewer: lead }, t.signs, { limit: 10, forExport: true }).records).toEqual(
      [],
    );
  });

  it("what may be changed on a record follows its own grants", () => {
    world();
    const code = id("signs", "code");
    const p = policyOf({ signs: [{}, { actions: ["change"], filter: type("Door"), changes: [code] }] });
    expect(changeableFields({ file, policy: p, viewer: lead }, t.signs, "n1")).toEqual([code]);
    expect(changeableFields({ file, policy: p, viewer: lead }, t.signs, "n2")).toEqual([]);
    expect(changeableFields({ file, policy: p, viewer: lead }, t.signs, "never")).toEqual([]);
  });
});

describe("validity and features", () => {
  it.each([
    [{ validFrom: "2026-06-16" }, 0],
    [{ validFrom: "2026-06-15" }, 3],
    [{ validUntil: "2026-06-14" }, 0],
    [{ validUntil: "2026-06-15" }, 3],
    [{ feature: "reports" }, 0],
  ] as [Partial<Grant>, number][])("%j on 2026-06-15: %i", (more, n) => {
    world();
    expect(countRecords({ file, policy: policyOf({ signs: [more] }), viewer: lead }, t.signs)).toBe(n);
  });
  it("a feature opens at once when the company has it", () => {
    world();
    const p = policyOf({ signs: [{ feature: "reports" }] });
    expect(countRecords({ file, policy: p, viewer: lead }, t.signs)).toBe(0);
    expect(countRecords({ file, policy: p, viewer: testViewer({ roles: ["lead"], features: new Set(["reports"]) }) }, t.signs)).toBe(3);
    expect(countRecords({ file, policy: p, viewer: lead }, t.signs)).toBe(0);
  });
});
