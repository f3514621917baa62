/** Shaping by hand: what is named, put away, brought back, retyped, filled and turned round, and what refuses for the rules' sake. */
import { describe, expect, it } from "vitest";
import { FIELD_TYPES, fieldBySlug } from "@/core/schema/types";
import { message, Shaped } from "@/testing/shaped";
import { published } from "../definition/published";
import { binned, emptyBin, restoreRecord } from "../records/write/bin";
import { pointingTo, removeRecord } from "../records/write/remove";
import { schemaOf } from "../tables/read";
import { changeField, changeTable, moveField, newField, newTable, seenOf } from "./shape";

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
