/** Records of one company put under another: tried, done, refused and undone as a whole, with who sees what. */
import { describe, expect, it } from "vitest";
import { published } from "@/data/definition/published";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { testPortal } from "@/testing/portal";
import { moveRecords, ownerRelation } from "./moving";

function two() {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "projects" },
      { roles: ["lead"], table: "signs" },
    ],
  });
  for (const [company, n] of [
    ["Ash", 3],
    ["Birch", 1],
  ] as const)
    for (let i = 0; i < n; i++) p.add("projects", { title: `${company} ${i}`, company: p.company(company) });
  const projects = p.table("projects");
  const ask = { table: projects.id, from: p.company("Ash"), to: p.company("Birch") };
  const lee = p.person("Lee", "Ash", "lead");
  const bo = p.person("Bo", "Birch", "lead");
  const seen = () => [p.desk(lee.viewer).count(projects), p.desk(bo.viewer).count(projects)];
  return { p, projects, ask, seen };
}

describe("moved under another company", () => {
  it("a trial says who would see how many, and changes nothing; done, they see as many; undone, as before", () => {
    const { p, projects, ask, seen } = two();
    expect(ownerRelation(published(p.file).policy, projects)?.id).toBe(p.field("projects", "company"));
    const [ash, birch] = seen();
    const tried = moveRecords(p.file, p.owner, ask, false);
    expect(tried).toMatchObject({
      ok: true,
      value: {
        more: 0,
        people: [
          { name: "Lee", company: "Ash", before: ash, after: 0 },
          { name: "Bo", company: "Birch", before: birch, after: birch! + ash! },
        ],
        strangers: [],
      },
    });
    expect(seen()).toEqual([ash, birch]);
    const done = moveRecords(p.file, p.owner, ask, true);
    expect(seen()).toEqual([0, ash! + birch!]);
    if (!done.ok) throw new Error(done.error);
    const back = moveRecords(p.file, p.owner, { table: ask.table, from: ask.to, to: ask.from, ids: done.value.ids }, true);
    expect(back).toMatchObject({ ok: true });
    expect(seen()).toEqual([ash, birch]);
  });

  it("what belongs to a company through them goes along; what names somebody of the old one is told", () => {
    const { p, projects, ask } = two();
    const contact = addField(p.file, projects.id, { slug: "contact", name: "Contact", type: "relation", options: { target: "t_people" } });
    p.add("signs", { code: "S1", project: p.project("Ash") });
    const person = p.file.db.prepare("SELECT id FROM t_people WHERE f_person_name = 'Lee'").pluck().get() as string;
    p.file.db.prepare(`UPDATE "${projects.id}" SET "${contact}" = ? WHERE company_id = ?`).run(person, ask.from);
    const n = p.file.db.prepare(`SELECT count(*) FROM "${projects.id}" WHERE company_id = ?`).pluck().get(ask.from);
    const done = moveRecords(p.file, p.owner, ask, true);
    expect(done).toMatchObject({ ok: true, value: { strangers: [{ field: "Contact", records: n }] } });
    const signs = p.table("signs");
    expect(p.file.db.prepare(`SELECT DISTINCT company_id FROM "${signs.id}"`).pluck().all()).toEqual([ask.to]);
    expect(ownerRelation(published(p.file).policy, signs)).toBeNull();
    expect(moveRecords(p.file, p.owner, { ...ask, table: signs.id }, true)).toMatchObject({ ok: false });
  });

  it("is refused as a whole where one could not stand there, and where nothing fits", () => {
    const { p, ask, seen } = two();
    const title = p.field("projects", "title");
    p.file.db.prepare("UPDATE sys_fields SET options = json_set(options, '$.unique', json('true')) WHERE id = ?").run(title);
    p.file.db.prepare("UPDATE sys_meta SET value = value + 1 WHERE key = 'schema_version'").run();
    p.file.meta.look();
    expect(schemaOf(p.file).field(title).options.unique).toBe(true);
    p.add("projects", { title: "Ash 2", company: ask.to });
    const before = seen();
    expect(moveRecords(p.file, p.owner, ask, true)).toMatchObject({ ok: false, error: expect.stringMatching(/^Ash 2 cannot be moved\./) });
    expect(seen()).toEqual(before);
    const same = { ...ask, to: ask.from };
    expect(moveRecords(p.file, p.owner, same, true)).toEqual({ ok: false, error: "Choose another company than the one they belong to." });
    expect(moveRecords(p.file, p.owner, { ...ask, to: "nobody" }, true)).toMatchObject({ ok: false });
    expect(moveRecords(p.file, p.owner, { ...ask, ids: [] }, true)).toMatchObject({ ok: false, error: "No projects belong to Ash." });
  });
});
