import { expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Grant } from "@/core/access/rules";
import type { Operand } from "@/core/schema/condition";
import { makeTestSchema, memoryPortal } from "@/testing/world";
import { makePolicyIndexes } from "./indexes";

it("what grants compare with the viewer has an index that begins with it, and loses it when they no longer do", () => {
  const file = memoryPortal();
  const { schema, t } = makeTestSchema(file);
  const id = (slug: string): string => schema.table(t.signs).fields.find((f) => f.slug === slug)!.id;
  const grant = (slug: string, operand: Operand): Grant => ({
    id: slug,
    roles: ["lead"],
    table: t.signs,
    actions: ["see"],
    filter: { kind: "test", path: [id(slug)], operator: "is", operands: [operand] },
    fields: [],
    changes: [],
  });
  const indexes = (): string[] =>
    file.db
      .prepare("SELECT name FROM sqlite_master WHERE type = 'index' AND tbl_name = ? AND name LIKE 'ix_%_by_%' ORDER BY 1")
      .pluck()
      .all(t.signs) as string[];
  const policy = (...grants: Grant[]): Policy => new Policy(schema, { roles: [], walls: {}, grants });
  const mine: Operand = { kind: "viewer", of: "person", field: "f_person_name" };
  makePolicyIndexes(file, policy(grant("site", mine), grant("type", { kind: "literal", value: "Door" })), t.signs);
  expect(indexes()).toEqual([`ix_${t.signs}_by_${id("site")}`]);
  // Sites with their companies, and what else is tested, come from the index alone.
  const plan = file.db
    .prepare(`EXPLAIN QUERY PLAN SELECT company_id, count(*) FROM "${t.signs}" WHERE "${id("site")}" = 's' AND "${id("type")}" = 'Door'`)
    .all();
  expect(JSON.stringify(plan)).toContain("COVERING INDEX");
  makePolicyIndexes(file, policy(grant("type", { kind: "literal", value: "Door" })), t.signs);
  expect(indexes()).toEqual([]);
  const many = ["site", "code", "type", "fitted", "project"].map((s) => grant(s, mine));
  makePolicyIndexes(file, policy(...many), t.signs);
  expect(indexes()).toHaveLength(3);
});
