/** What an archived table or field takes with it of the rules, and what comes back: never more than there was. */
import { describe, expect, it } from "vitest";
import type { Definition } from "@/core/definition/definition";
import { emptyDefinition } from "@/data/installation/portals";
import { grantsIn, listAgain, listedIn, readAwayRules, rulesAgain, rulesOf, withAwayRules } from "./away-rules";

type Grant = Definition["grants"][number];
const grant = (id: string, more: Partial<Grant> = {}): Grant => ({
  id,
  table: "t1",
  roles: ["client"],
  filter: null,
  actions: ["see"],
  fields: ["a", "b", "c"],
  changes: ["b"],
  ...more,
});
const base = emptyDefinition("Test");
const [role] = base.roles;
const definition = (grants: Grant[], more: Partial<Definition> = {}): Definition => ({
  ...base,
  grants: grants.map((g) => ({ ...g, roles: g.roles.map((r) => (r === "client" ? role!.id : r)) })),
  ...more,
});
const without = (d: Definition, field: string): Definition => ({
  ...d,
  grants: d.grants.map((g) => ({ ...g, fields: g.fields.filter((f) => f !== field), changes: g.changes.filter((f) => f !== field) })),
});

describe("a field", () => {
  const d = definition([grant("g1"), grant("g2", { fields: ["a"], changes: [] }), grant("g3", { fields: ["b"], namesOnly: ["b"] })]);
  it("comes back to each list where it stood, in its place", () => {
    for (const field of ["a", "b", "c"]) {
      const away = {
        ...without(d, field),
        grants: without(d, field).grants.map((g) => ({
          ...g,
          ...(g.namesOnly ? { namesOnly: g.namesOnly.filter((f) => f !== field) } : {}),
        })),
      };
      expect(listAgain(away, field, listedIn(d, field))).toEqual(d);
    }
  });
  it("is listed once, however often it comes back, and by no grant that never listed it", () => {
    const was = listedIn(d, "b");
    expect(listAgain(d, "b", was)).toEqual(d);
    expect(Object.keys(was)).toEqual(["g1", "g3"]);
    expect(listAgain(definition([grant("g9", { fields: [] })]), "b", was).grants[0]!.fields).toEqual([]);
  });
});

describe("a table", () => {
  const wall: Definition["walls"][string] = { kind: "owned", path: ["a"] };
  const d = definition([grant("g1"), grant("g2", { table: "t2" })], { walls: { ...base.walls, t1: wall } });
  const was = rulesOf(d, "t1");
  const { t1: _, ...walls } = d.walls;
  const gone: Definition = { ...d, walls, grants: d.grants.filter((g) => g.table !== "t1") };
  const all = new Set(["a", "b", "c"]);

  it("takes its own rules along and no others", () => expect([was.wall, was.grants]).toEqual([wall, [d.grants[0]]]));
  it("comes back with them", () => {
    const again = rulesAgain(gone, "t1", was, all);
    expect([again.walls, again.grants.map((g) => g.id)]).toEqual([d.walls, ["g2", "g1"]]);
    expect(again.grants[1]).toEqual(d.grants[0]);
  });
  it("keeps a wall that was made meanwhile, and no grant comes twice", () => {
    const other: Definition["walls"][string] = { kind: "shared" };
    expect(rulesAgain({ ...gone, walls: { ...walls, t1: other } }, "t1", was, all).walls.t1).toEqual(other);
    expect(rulesAgain(d, "t1", was, all).grants.map((g) => g.id)).toEqual(["g1", "g2"]);
  });
  it("opens no field that is gone", () => {
    const [, g1] = rulesAgain(gone, "t1", was, new Set(["a"])).grants;
    expect([g1!.fields, g1!.changes]).toEqual([["a"], []]);
  });
  it("opens nothing for roles that are gone, and nothing at all where none is left", () => {
    const two = rulesOf(definition([grant("g1", { roles: ["client", "left"] })]), "t1");
    expect(rulesAgain(gone, "t1", two, all).grants.at(-1)!.roles).toEqual([role!.id]);
    const none = rulesOf(definition([grant("g1", { roles: ["left"] })]), "t1");
    expect(rulesAgain(gone, "t1", none, all).grants.map((g) => g.id)).toEqual(["g2"]);
  });
  it("does not open for everybody what was paid for", () => {
    const paid = rulesOf(definition([grant("g1", { feature: "extra" })]), "t1");
    expect(rulesAgain(gone, "t1", paid, all).grants.map((g) => g.id)).toEqual(["g2"]);
  });
});

describe("what is stored", () => {
  const stored = (live: object): string => JSON.stringify({ version: 3, live, draft: live });
  it("is read back; what was archived before rules were kept has none", () => {
    const d = definition([grant("g1")]);
    const field = readAwayRules(stored({ field: listedIn(d, "a") }))!;
    const table = readAwayRules(stored({ table: rulesOf(d, "t1") }))!;
    expect([grantsIn(field.live), grantsIn(table.live)]).toEqual([1, 1]);
    expect(withAwayRules(without(d, "a"), "a", field.live, new Set()).grants[0]!.fields).toEqual(["a", "b", "c"]);
    expect(withAwayRules({ ...d, grants: [] }, "t1", table.live, new Set(["a", "b", "c"])).grants).toEqual(d.grants);
    expect([readAwayRules(null), readAwayRules("{}"), readAwayRules(stored({ other: 1 }))]).toEqual([null, null, null]);
  });
});
