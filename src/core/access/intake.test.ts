/** An intake form: a visitor's adding, and nothing else of theirs or anybody else's, passes the wall of a table that is the agency's alone. */
import { beforeEach, describe, expect, it } from "vitest";
import { published, storePublished } from "@/data/definition/published";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import type { Act } from "./act";

let p: TestPortal;
const report = (x: TestPortal): Act => ({
  id: "report",
  name: "Report",
  table: x.table("signs").id,
  on: "add",
  sets: [{ field: x.field("signs", "type"), to: { kind: "literal", value: "Door" } }],
});

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["visitor", "lead"], table: "signs", actions: ["see", "add", "change", "remove", "export"], changes: ["code", "note"] },
      { roles: ["visitor"], table: "signs", actions: [], acts: ["report"], changes: ["code"] },
    ],
    acts: (x) => [report(x)],
  });
  const { definition } = published(p.file);
  storePublished(p.file, { ...definition, walls: { ...definition.walls, [p.table("signs").id]: { kind: "agency-only" } } }, PUBLISHER);
});
const signs = () => p.table("signs");

describe("a table of the agency's alone, granted to visitors and to a client's lead in every way", () => {
  it("takes what a visitor adds, by hand or by an act with fixed values, and shows them nothing of it", () => {
    const visitor = p.visitor();
    const made = must(visitor.add(signs(), p.values("signs", { code: "From outside", note: "Help" }))).id;
    const acted = must(visitor.act(report(p), null, p.values("signs", { code: "Reported" }))).id;
    expect(p.owners.read(signs(), acted)!.fields[p.field("signs", "type")]).toBe("Door");
    expect([
      visitor.count(signs()),
      visitor.read(signs(), made),
      visitor.list(signs(), { limit: 9 }).records,
      visitor.history(signs(), made),
    ]).toEqual([0, undefined, [], []]);
    expect([visitor.may(signs(), "see"), visitor.may(signs(), "add")]).toEqual([false, true]);
    for (const done of [visitor.change(signs(), made, p.values("signs", { note: "x" }), null), visitor.remove(signs(), made)])
      expect(done.ok).toBe(false);
  });
  it("is closed to clients, adding too", () => {
    const dana = p.person("Dana", "One", "lead");
    expect([dana.count(signs()), dana.add(signs(), p.values("signs", { code: "X" })).ok]).toEqual([0, false]);
  });
});
