/** Writes of somebody in one company beside records of another: nothing of theirs is taken, named or told. */
import { expect, it } from "vitest";
import { type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { published, storePublished } from "../../definition/published";
import { changeField, seenOf } from "../../schema/shape";
import { addField } from "../../tables/change";
import { schemaOf } from "../../tables/read";
import type { Desk } from "../desk";

const removing = (onRemoval: "refuse" | "remove") => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "sites", actions: ["see", "remove"] }] });
  const site = schemaOf(p.file).field(p.field("signs", "site"));
  expect(changeField(p.file, p.owner, site.id, { name: "Site", own: {}, onRemoval }, seenOf(site)).ok).toBe(true);
  return { p, yard: p.add("sites", { name: "Yard", company: p.company("Ash") }), dana: p.person("Dana", "Ash", "lead") };
};
const remove = (d: Desk, id: string) => d.remove(d.schema.tableBySlug("sites")!, id);
const signs = (p: TestPortal) => p.owners.count(p.table("signs"));
const stays = (who: string) => ({ ok: false, error: { errors: [{ message: `It stays as long as ${who} point to it.` }] } });

it("what goes with a record never reaches into another company, except for the owner", () => {
  const { p, yard, dana } = removing("remove");
  p.add("signs", { code: "A", site: yard, project: p.project("Birch") });
  expect(remove(dana, yard)).toMatchObject(stays("other records"));
  expect(signs(p)).toBe(1);
  expect(remove(p.owners, yard).ok).toBe(true);
  expect(signs(p)).toBe(0);
});

it("records of one's own company go with it; who does not know the table that keeps a record is not told of it", () => {
  const own = removing("remove");
  own.p.add("signs", { code: "A", site: own.yard, project: own.p.project("Ash") });
  expect(remove(own.dana, own.yard).ok).toBe(true);
  expect(signs(own.p)).toBe(0);
  const kept = removing("refuse");
  kept.p.add("signs", { code: "A", site: kept.yard, project: kept.p.project("Ash") });
  expect(remove(kept.dana, kept.yard)).toMatchObject(stays("other records"));
  expect(remove(kept.p.owners, kept.yard)).toMatchObject(stays("Signs"));
});

it("people never go with a record", () => {
  const { p, yard } = removing("remove");
  const id = addField(p.file, "t_people", { slug: "yard", name: "Yard", type: "relation", options: { target: p.table("sites").id } });
  const field = schemaOf(p.file).field(id);
  changeField(p.file, p.owner, id, { name: "Yard", own: {}, onRemoval: "remove" }, seenOf(field));
  const eve = p.person("Eve", "Ash", "lead").viewer.person!.id;
  expect(p.owners.change(schemaOf(p.file).people, eve, { [id]: yard }, null).ok).toBe(true);
  expect(remove(p.owners, yard)).toMatchObject(stays("People"));
});

it("a refusal of what must be unlike tells a client nothing of another company's people", () => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "people", actions: ["see", "change"] }] });
  const badge = addField(p.file, "t_people", { slug: "badge", name: "Badge", type: "text", options: { unique: true } });
  const d = published(p.file).definition;
  storePublished(p.file, { ...d, grants: d.grants.map((g) => ({ ...g, fields: [...g.fields, badge], changes: [badge] })) }, PUBLISHER);
  const [dana, mate, other] = [p.person("Dana", "Ash", "lead"), p.person("Mo", "Ash", "lead"), p.person("Bo", "Birch", "lead")].map(
    (x) => x.viewer.person!.id,
  );
  const people = schemaOf(p.file).people;
  const set = (by: Desk, who: string, to: string) => by.change(people, who, { [badge]: to }, null).ok;
  expect([set(p.owners, mate!, "7"), set(p.owners, other!, "8"), set(p.owners, dana!, "8")]).toEqual([true, true, false]);
  const asDana = p.desk(p.person("Ada", "Ash", "lead").viewer);
  expect([set(asDana, dana!, "7"), set(asDana, dana!, "8"), set(asDana, other!, "9")]).toEqual([false, true, false]);
});
