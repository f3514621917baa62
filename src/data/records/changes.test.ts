/** The feed of changes: applied to a copy it makes what a viewer sees now, and it tells nothing of what they do not see. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { record } from "@/data/events/record";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { runs, said, seed } from "@/testing/random";
import { changesSince, type Mark, markNow } from "./changes";
import type { Desk } from "./desk";

const world = () => testPortal({ grants: [{ roles: ["lead"], table: "signs", fields: ["code", "project"] }] });
const all = (d: Desk, p: TestPortal) => d.list(p.table("signs"), { limit: 200, search: "" }).records;

/** Follows the feed to its end, as a program that keeps a copy does. */
function follow(d: Desk, p: TestPortal, copy: Map<string, string>, from: Mark, most = 3): Mark {
  for (;;) {
    const page = changesSince(d, p.table("signs"), from, most)!;
    for (const c of page.changes)
      if (c.kind === "seen") copy.set(c.record.id, JSON.stringify(c.record.fields));
      else if (c.kind === "left") copy.delete(c.id);
      else {
        copy.clear();
        for (const r of all(d, p)) copy.set(r.id, JSON.stringify(r.fields));
      }
    from = page.to;
    if (!page.more) return from;
  }
}

describe("followed", () => {
  it(`a copy is what its viewer sees, after any acts of others (${said(60)} runs, seed ${seed})`, () => {
    const act = fc.record({
      kind: fc.constantFrom("add", "change", "move", "remove", "project"),
      which: fc.nat(5),
      to: fc.constantFrom("One", "Two"),
    });
    fc.assert(
      fc.property(fc.array(fc.array(act, { maxLength: 6 }), { maxLength: 4 }), (rounds) => {
        const p = world();
        const dana = p.person("Dana", "One", "lead");
        const signs = p.table("signs");
        const projects = { One: p.project("One"), Two: p.project("Two") };
        const ids: string[] = [];
        const copy = new Map<string, string>();
        let mark = markNow(dana);
        let n = 0;
        for (const acts of rounds) {
          for (const a of acts) {
            const id = ids[a.which];
            if (a.kind === "add" || !id) ids.push(p.add("signs", { code: `N${n++}`, project: projects[a.to] }));
            // A project that goes to another company takes its signs along, which have no event of their own.
            else if (a.kind === "project")
              must(p.owners.change(p.table("projects"), projects.One, p.values("projects", { company: p.company(a.to) }), null));
            else if (a.kind === "remove") must(p.owners.remove(signs, ids.splice(a.which, 1)[0]!));
            else
              must(
                p.owners.change(signs, id, p.values("signs", a.kind === "move" ? { project: projects[a.to] } : { code: `N${n++}` }), null),
              );
          }
          mark = follow(dana, p, copy, mark);
          expect(copy).toEqual(new Map(all(dana, p).map((r) => [r.id, JSON.stringify(r.fields)])));
        }
      }),
      { numRuns: runs(60), seed },
    );
  });
});

it("tells nothing of another company, not even an id", () => {
  const p = world();
  const dana = p.person("Dana", "One", "lead");
  const mark = markNow(dana);
  const id = p.add("signs", { code: "N1", project: p.project("Two") });
  must(p.owners.change(p.table("signs"), id, p.values("signs", { code: "N2" }), null));
  must(p.owners.remove(p.table("signs"), id));
  expect(changesSince(dana, p.table("signs"), mark, 50)!.changes).toEqual([]);
});

it("says that the table is to be read anew after an act on very many, and that a mark of another past is none", () => {
  const p = world();
  const dana = p.person("Dana", "One", "lead");
  p.add("signs", { code: "N1", project: p.project("One") });
  const mark = markNow(dana);
  p.add("signs", { code: "N2", project: p.project("One") });
  const at = p.owner.now;
  record(p.file, { actor: { kind: "system", id: "test" }, via: "import", at, kind: "imported", table: p.table("signs").id });
  const last = p.add("signs", { code: "N3", project: p.project("One") });
  const found = changesSince(dana, p.table("signs"), mark, 50)!;
  expect(found.changes.map((c) => (c.kind === "seen" ? c.record.id : c.kind))).toEqual(["many", last]);
  expect(changesSince(dana, p.table("signs"), { ...mark, at: mark.at + 1 }, 50)).toBeNull();
  expect(changesSince(dana, p.table("signs"), { event: 1_000_000, at: 1 }, 50)).toBeNull();
});
