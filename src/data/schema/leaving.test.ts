/** Tables and fields that are archived, with the rules that name them, and brought back. */
import { describe, expect, it } from "vitest";
import { message, Shaped } from "@/testing/shaped";
import { changeDraft, draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { schemaOf } from "../tables/read";
import { readRow } from "../tables/rows";
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
