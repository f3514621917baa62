/** A field of all records filled at once, and relations to several turned round. */
import { describe, expect, it } from "vitest";
import type { Viewer } from "@/core/access/who/viewer";
import { message, Shaped } from "@/testing/shaped";
import { PUBLISHER } from "@/testing/world";
import { published, storePublished } from "../definition/published";
import type { Desk } from "../records/desk";
import { addField } from "../tables/change";
import { schemaOf } from "../tables/read";
import { readRow } from "../tables/rows";
import { fillAutomatic, fillField } from "./fill";
import { fieldsAway } from "./put-away";
import { turning, turnRound } from "./turn";

describe("filled at once", () => {
  it("with a value, by a rule, from another field; only where it is empty", () => {
    const p = new Shaped();
    for (const [code, size] of [
      ["A", 1],
      ["B", 9],
      ["C", null],
    ] as const)
      p.add("signs", { code, size, project: p.project("Ash") });
    const when = {
      kind: "test" as const,
      path: [p.f("signs", "size").id],
      operator: "more-than" as const,
      operands: [{ kind: "literal" as const, value: 5 }],
    };
    expect(fillField(p.file, p.owner, p.f("signs", "type").id, { kind: "rule", when, value: "Totem" })).toEqual({
      ok: true,
      value: { filled: 1, unfit: [] },
    });
    expect(fillField(p.file, p.owner, p.f("signs", "type").id, { kind: "value", value: "Door" })).toMatchObject({ value: { filled: 2 } });
    expect(p.held("signs", "type")).toEqual(["Door", "Totem", "Door"]);
    expect(fillField(p.file, p.owner, p.f("signs", "note").id, { kind: "field", from: p.f("signs", "code").id })).toMatchObject({
      value: { filled: 3 },
    });
    expect(fillField(p.file, p.owner, p.f("signs", "cost").id, { kind: "field", from: p.f("signs", "code").id })).toMatchObject({
      value: { filled: 0, unfit: ["A", "B", "C"] },
    });
  });

  it("what must be unlike others is filled where it stays so: within each company, however it is written", () => {
    const p = new Shaped();
    const made = (code: string, note: string, company: string) => p.add("signs", { code, note, project: p.project(company) });
    for (const [code, note, company] of [
      ["A", "x1", "Ash"],
      ["B", "X1", "Ash"],
      ["C", "x1", "Birch"],
      ["D", "x2", "Ash"],
    ] as const)
      made(code, note, company);
    const signs = p.now("signs");
    const word = addField(p.file, signs.id, { slug: "word", name: "Word", type: "text", options: { unique: true } });
    const last = made("E", "x9", "Ash");
    p.desk_.change(p.now("signs"), last, { [word]: "X2" }, null);
    expect(fillField(p.file, p.owner, word, { kind: "field", from: p.f("signs", "note").id })).toEqual({
      ok: true,
      value: { filled: 2, unfit: ["X1", "x2"] },
    });
    expect(p.held("signs", "word")).toEqual(["x1", null, "x1", null, "X2"]);
  });

  it("numbers in order without gaps, per table or per company; readable addresses with -1 and -2, and what they were before", () => {
    const p = new Shaped();
    const make = (name: string, company: string) =>
      p.desk_.add(p.now("sites"), { [p.f("sites", "name").id]: name, [p.f("sites", "company").id]: p.company(company) });
    for (const [name, company] of [
      ["Nörth Yard!", "Ash"],
      ["North yard", "Ash"],
      ["North Yard", "Birch"],
    ] as const)
      make(name, company);
    const no = addField(p.file, p.now("sites").id, {
      slug: "no",
      name: "No",
      type: "serial",
      options: { prefix: "S-", digits: 3, perCompany: true },
    });
    const at = addField(p.file, p.now("sites").id, {
      slug: "at",
      name: "Address",
      type: "readable-address",
      options: { madeFrom: p.f("sites", "name").id },
    });
    expect([fillAutomatic(p.file, p.owner, no), fillAutomatic(p.file, p.owner, at)]).toEqual([3, 3]);
    expect([p.held("sites", "no"), p.held("sites", "at")]).toEqual([
      ["S-001", "S-002", "S-001"],
      ["noerth-yard", "north-yard", "north-yard"],
    ]);
    expect(p.desk_.add(p.now("sites"), { [p.f("sites", "company").id]: "nobody" }).ok).toBe(false); // and no number is lost by it
    const added = make("North Yard", "Ash");
    if (!added.ok) throw new Error("not added");
    const row = () => readRow(p.file, schemaOf(p.file), p.now("sites"), added.value.id)!.values;
    expect([row()[no], row()[at]]).toEqual(["S-003", "north-yard-1"]);
    p.desk_.change(p.now("sites"), added.value.id, { [p.f("sites", "name").id]: "South" }, null);
    expect([row()[no], row()[at]]).toEqual(["S-003", "south"]);
    expect(p.file.db.prepare("SELECT slug FROM sys_old_slugs").pluck().all()).toEqual(["north-yard-1"]);

    const sites = p.now("sites");
    const found = (d: Desk, address: string) => d.readByAddress(sites, address)?.id;
    expect([found(p.desk_, "south"), found(p.desk_, "north-yard-1")]).toEqual([added.value.id, added.value.id]);
    expect(found(p.desk_, "north-yard")).toBeUndefined(); // Ash and Birch both have one, and the agency sees both
    expect(p.desk_.addressOf(sites, p.desk_.read(sites, added.value.id)!)).toBe("south");
    const [dana, bo] = [p.person("Dana", "Ash", "lead").viewer, p.person("Bo", "Birch", "lead").viewer];
    const asked = (v: Viewer) => ["south", "north-yard-1"].map((x) => found(p.desk(v), x));
    expect([asked(dana), asked(bo), asked(p.visitor().viewer)].flat()).toEqual(Array(6).fill(undefined)); // no grant shows the address
    const d = published(p.file).definition;
    const grants = d.grants.map((g) => (g.table === sites.id ? { ...g, fields: [...g.fields, at] } : g));
    storePublished(p.file, { ...d, grants }, PUBLISHER);
    expect(asked(dana)).toEqual([added.value.id, added.value.id]);
    expect([asked(bo), asked(p.visitor().viewer)].flat()).toEqual(Array(4).fill(undefined));
    expect(found(p.desk(dana), "north-yard")).not.toBe(found(p.desk(bo), "north-yard")); // each their own
  });
});

it("a relation to several is turned round where each of the others has one; else it is said who has more", () => {
  const p = new Shaped();
  const [a, b] = ["Yard", "Mill"].map((name) => p.add("sites", { name, company: p.company("Ash") }));
  p.add("signs", { code: "A", also: [a!, b!], project: p.project("Ash") });
  const second = p.add("signs", { code: "B", also: [b!], project: p.project("Ash") });
  const also = p.f("signs", "also");
  expect(turning(p.file, also.id)).toEqual({ links: 3, shared: 1, examples: ["Mill"] });
  expect(message(turnRound(p.file, p.owner, also.id, "Sign"))).toContain("pointed to by several, and could say one of them only: Mill.");
  p.desk_.change(p.now("signs"), second, { [also.id]: [] }, null);
  expect(message(turnRound(p.file, p.owner, also.id, " "))).not.toBe("done");
  expect(turnRound(p.file, p.owner, also.id, "Sign").ok).toBe(true);
  expect(
    p.desk_.list(p.now("sites"), { limit: 5 }).records.map((r) => (r.fields[p.f("sites", "sign").id] as { label: string }).label),
  ).toEqual(["A", "A"]);
  expect(fieldsAway(p.file, p.owner, also.tableId)).toMatchObject([{ name: "Also at" }]);
});
