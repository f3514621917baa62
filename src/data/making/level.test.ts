/** A level below the company: a branch's manager sees the branch and what belongs to it, and nothing of the company's other branches. */
import { describe, expect, it } from "vitest";
import { must, testPortal } from "@/testing/portal";
import { draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { publish, uphold } from "../publishing/publish";
import { schemaOf } from "../tables/read";
import { updateRow } from "../tables/store";
import { levelBelow, levelSees, tieTo } from "./level";

function branches() {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "sites" }] });
  const { file, owner } = p;
  const at = p.field("signs", "site");
  const [yard, quay, other] = [
    p.add("sites", { name: "Yard", company: p.company("Ash") }),
    p.add("sites", { name: "Quay", company: p.company("Ash") }),
    p.add("sites", { name: "Mill", company: p.company("Birch") }),
  ];
  const sign = (code: string, site: string, company: string): string => {
    const id = p.add("signs", { code, project: p.project(company) });
    updateRow(
      file,
      schemaOf(file),
      schemaOf(file).table(p.table("signs").id),
      id,
      { [at]: site },
      { by: "owner", at: "2026-01-01T00:00:00Z" },
    );
    return id;
  };
  return { p, file, owner, yard, quay, other, sign };
}

describe("a level below the company", () => {
  it("ties people to it, and drafts a role that sees its own; published, it sees no more", () => {
    const { p, file, owner, yard, quay, other, sign } = branches();
    const sites = schemaOf(file).table(p.table("sites").id);
    expect(levelSees(schemaOf(file), sites)).toEqual(["Sites", "Signs"]);
    const { field, role } = must(levelBelow(file, owner, { table: sites.id, role: "Site manager" }));
    expect(tieTo(schemaOf(file), sites)?.id).toBe(field);
    expect(published(file).definition.roles.some((r) => r.id === role)).toBe(false);
    const draft = draftOf(file, owner);
    // Of what no client reads yet, the name alone.
    const opened = draft.definition.grants.filter((g) => g.roles.includes(role));
    expect(opened.map((g) => g.fields)).toEqual([sites.fields.map((f) => f.id), [p.field("signs", "code")]]);
    expect(draft.definition.roles.find((r) => r.id === role)).toMatchObject({ name: "Site manager", side: "client" });
    must(publish(file, owner, uphold(draft, new Set())!));

    const mine = sign("Y1", yard, "Ash");
    sign("Q1", quay, "Ash");
    sign("M1", other, "Birch");
    const pat = p.person("Pat", "Ash", role);
    const schema = schemaOf(file);
    expect(pat.list(schema.table(sites.id), { limit: 9 }).records).toEqual([]);
    // Tied to one of another company as well, by mistake: the wall holds.
    updateRow(file, schema, schema.people, pat.viewer.person!.id, { [field]: [yard, other] }, { by: "owner", at: "2026-01-01T00:00:00Z" });
    const again = p.again(pat);
    expect(again.list(schema.table(sites.id), { limit: 9 }).records.map((r) => r.id)).toEqual([yard]);
    expect(again.list(schema.table(p.table("signs").id), { limit: 9 }).records.map((r) => r.id)).toEqual([mine]);
  });

  it("refuses what is no such level, a role that is there, and none", () => {
    const { p, file, owner } = branches();
    const sites = p.table("sites").id;
    const refused = (table: string, role: string): string => {
      const r = levelBelow(file, owner, { table, role });
      return r.ok ? "done" : r.error;
    };
    expect(refused("t_people", "X")).toMatch(/no level/);
    expect(refused(p.table("signs").id, "X")).toMatch(/must belong to a company each/);
    expect(refused(sites, "lead")).toMatch(/role called lead/);
    expect(refused(sites, " ")).toMatch(/name/);
    expect(refused("t_99", "X")).toMatch(/gone/);
    expect(tieTo(schemaOf(file), schemaOf(file).table(sites))).toBeUndefined();
  });
});
