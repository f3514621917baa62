import { describe, expect, it } from "vitest";
import type { Definition } from "@/core/definition/definition";
import { must, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { changeDraft, draftOf } from "../definition/draft";
import { published, storePublished } from "../definition/published";
import { bringFieldBack, bringTableBack, fieldsAway, putFieldAway, putTableAway } from "./put-away";

const portal = () =>
  testPortal({
    grants: [
      { roles: ["lead"], table: "signs", actions: ["see", "change"], fields: ["code", "size", "note"], changes: ["size"] },
      { roles: ["onlooker"], table: "signs", fields: ["code", "size"], namesOnly: [] },
      { roles: ["lead"], table: "sites" },
    ],
  });
const rules = (p: ReturnType<typeof portal>): Pick<Definition, "grants" | "walls" | "acts"> => {
  const { grants, walls, acts } = published(p.file).definition;
  return structuredClone({ grants, walls, acts });
};

describe("what the rules said of what is put away", () => {
  it("comes back with a field at once where nothing was published since: whoever read it reads it again, at its place", () => {
    const p = portal();
    const dana = p.person("Dana", "One", "lead");
    const sign = p.add("signs", { code: "N1", size: 7, project: p.project("One") });
    const before = rules(p);
    const size = p.field("signs", "size");
    must(putFieldAway(p.file, p.owner, size));
    expect(p.again(dana).read(p.table("signs"), sign)!.fields).not.toHaveProperty(size);
    expect(must(bringFieldBack(p.file, p.owner, size))).toEqual({ grants: 2, in: "live" });
    expect(rules(p)).toEqual(before);
    expect(p.again(dana).read(p.table("signs"), sign)!.fields[size]).toBe(7);
  });

  it("stands in the draft where something was published since: nobody sees more before the owner has seen the impact", () => {
    const p = portal();
    const size = p.field("signs", "size");
    must(putFieldAway(p.file, p.owner, size));
    storePublished(p.file, { ...published(p.file).definition, features: [{ id: "gold", name: "Gold" }] }, PUBLISHER);
    expect(must(bringFieldBack(p.file, p.owner, size))).toEqual({ grants: 2, in: "draft" });
    expect(published(p.file).definition.grants.some((g) => g.fields.includes(size))).toBe(false);
    const drafted = draftOf(p.file, p.owner).definition;
    expect(drafted.grants.map((g) => [g.fields.includes(size), g.changes.includes(size)])).toEqual([
      [true, true],
      [true, false],
      [false, false],
    ]);
  });

  it("a draft beside it keeps what it says of its own; a grant that is gone meanwhile stays gone", () => {
    const p = portal();
    const size = p.field("signs", "size");
    const draft = (edit: (d: Definition) => Definition): void =>
      void must(changeDraft(p.file, p.owner, draftOf(p.file, p.owner).revision, edit));
    draft((d) => ({ ...d, grants: d.grants.map((g) => (g.id === "g2" ? { ...g, fields: g.fields.filter((f) => f !== size) } : g)) }));
    must(putFieldAway(p.file, p.owner, size));
    draft((d) => ({ ...d, grants: d.grants.filter((g) => g.id !== "g1") }));
    must(bringFieldBack(p.file, p.owner, size));
    const has = (d: Definition): string[] => d.grants.filter((g) => g.fields.includes(size)).map((g) => g.id);
    expect([has(published(p.file).definition), has(draftOf(p.file, p.owner).definition)]).toEqual([["g1", "g2"], []]);
  });

  it("comes back with a table: wall, grants, and the relations that pointed to it; what is gone meanwhile is left out", () => {
    const p = portal();
    const before = rules(p);
    const signs = p.table("signs").id;
    must(putTableAway(p.file, p.owner, signs));
    expect(rules(p).grants).toHaveLength(1);
    expect(must(bringTableBack(p.file, p.owner, signs))).toEqual({ grants: 2, in: "live" });
    const sorted = (r: ReturnType<typeof rules>) => ({ ...r, grants: r.grants.toSorted((a, b) => (a.id < b.id ? -1 : 1)) });
    expect(sorted(rules(p))).toEqual(sorted(before));
    must(putTableAway(p.file, p.owner, signs));
    const d = published(p.file).definition;
    storePublished(p.file, { ...d, roles: d.roles.filter((r) => r.id !== "onlooker") }, PUBLISHER);
    expect(must(bringTableBack(p.file, p.owner, signs))).toMatchObject({ in: "draft" });
    expect(
      draftOf(p.file, p.owner)
        .definition.grants.filter((g) => g.table === signs)
        .map((g) => g.id),
    ).toEqual(["g1"]);
    expect(published(p.file).definition.grants.filter((g) => g.table === signs)).toEqual([]);
  });

  it("of what was put away before rules were kept nothing comes back, and that is no trouble", () => {
    const p = portal();
    const size = p.field("signs", "size");
    must(putFieldAway(p.file, p.owner, size));
    p.file.db.exec("UPDATE sys_fields SET away_rules = NULL");
    expect(fieldsAway(p.file, p.owner, p.table("signs").id)).toHaveLength(1);
    expect(must(bringFieldBack(p.file, p.owner, size))).toEqual({ grants: 0, in: "none", why: [] });
  });
});
