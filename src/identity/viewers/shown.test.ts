/** Whom clients see of the agency: only who is marked, only to be seen, and only what a grant lists. */
import { describe, expect, it } from "vitest";
import { setShown } from "@/data/people/people";
import { testPortal } from "@/testing/portal";
import { personViewer } from "./viewer";

function world() {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "people", fields: ["name"], actions: ["see", "change", "remove", "export"], changes: ["name"] },
      { roles: ["lead"], table: "projects" },
    ],
  });
  const dana = p.person("Dana", "One", "lead").viewer;
  const abel = p.person("Abel", "One", "lead").viewer;
  const olga = p.person("Olga", "Two", "lead").viewer;
  const lead = p.person("Ines", null, "staff").viewer.person!.id;
  const people = p.table("people");
  const project = p.add("projects", { title: "Ours", company: p.company("One"), lead });
  const desk = () => p.desk(personViewer(p.file, dana.person!.id, null, p.owner.now)!);
  const names = () =>
    desk()
      .list(people, { limit: 50 })
      .records.map((r) => String(r.fields.f_person_name))
      .sort();
  const leadOf = () => desk().read(p.table("projects"), project)!.fields[p.field("projects", "lead")];
  return { p, lead, olga, abel, people, desk, names, leadOf };
}

describe("people of the agency", () => {
  it("are nobody's to see until they are marked, and then by the fields that a grant lists", () => {
    const w = world();
    expect([w.names(), w.leadOf()]).toEqual([["Abel", "Dana"], { withheld: true }]);
    expect(setShown(w.p.file, w.p.owner, w.lead, true).ok).toBe(true);
    expect([w.names(), w.leadOf()]).toEqual([["Abel", "Dana", "Ines"], { id: w.lead, label: "Ines" }]);
    expect(Object.keys(w.desk().read(w.people, w.lead)!.fields)).toEqual(["f_person_name"]);
    setShown(w.p.file, w.p.owner, w.lead, false);
    expect([w.names(), w.desk().read(w.people, w.lead)]).toEqual([["Abel", "Dana"], undefined]);
  });
  it("are only seen: not changed, removed or exported by a grant that opens that on one's own", () => {
    const w = world();
    setShown(w.p.file, w.p.owner, w.lead, true);
    expect(w.desk().change(w.people, w.lead, { f_person_name: "Mine" }, null).ok).toBe(false);
    expect(w.desk().changeable(w.people, w.lead)).toEqual([]);
    expect(w.desk().change(w.people, w.abel.person!.id, { f_person_name: "Abel B" }, null).ok).toBe(true);
  });
  it("a mark on somebody of a company shows them to no other: neither set, nor when it is there", () => {
    const w = world();
    expect(setShown(w.p.file, w.p.owner, w.olga.person!.id, true).ok).toBe(false);
    w.p.file.db.prepare('UPDATE t_people SET "f_person_shown" = 1').run();
    expect(w.names()).toEqual(["Abel", "Dana", "Ines"]);
  });
});
