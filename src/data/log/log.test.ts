/** What happened, as the office reads it: by whom, to what, of whom; narrowed; with names of what is gone. */
import { expect, it } from "vitest";
import { testPortal } from "@/testing/portal";
import { kindsSoFar, readLog } from "./log";

function told() {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects", actions: ["see", "change"], changes: ["title"] }] });
  const projects = p.table("projects");
  const mine = p.add("projects", { title: "Harbour", company: p.company("Ash") });
  const other = p.add("projects", { title: "Mill", company: p.company("Birch") });
  const lee = p.person("Lee", "Ash", "lead");
  expect(lee.change(projects, mine, { [p.field("projects", "title")]: "Harbour front" }, null).ok).toBe(true);
  return { p, projects, mine, other, lee };
}

it("tells who did what to which record of whom, with what was there before", () => {
  const { p, mine, lee } = told();
  const [last] = readLog(p.file, p.owner, { limit: 1 });
  expect(last).toMatchObject({
    who: "Lee",
    actor: `person:${lee.viewer.person!.id}`,
    via: "page",
    kind: "record-changed",
    table: { name: "Projects" },
    record: { id: mine, name: "Harbour front" },
    company: { name: "Ash" },
    changes: [{ field: "Title", before: "Harbour", after: "Harbour front" }],
  });
  expect(kindsSoFar(p.file, p.owner)).toEqual(
    expect.arrayContaining([
      { kind: "record-added", says: "added" },
      { kind: "record-changed", says: "changed" },
    ]),
  );
});

it("is narrowed by person, company, act, record and words, and goes on where it ended", () => {
  const { p, projects, mine, other, lee } = told();
  const ids = (more: object) => readLog(p.file, p.owner, { limit: 100, ...more }).map((r) => [r.kind, r.record?.id]);
  expect(ids({ who: `person:${lee.viewer.person!.id}` })).toEqual([["record-changed", mine]]);
  expect(ids({ record: other })).toEqual([["record-added", other]]);
  expect(ids({ record: mine, kind: "record-added" })).toEqual([["record-added", mine]]);
  expect(ids({ company: p.company("Birch"), table: projects.id })).toEqual([["record-added", other]]);
  expect(ids({ words: "HARBOUR", table: projects.id }).map((x) => x[1])).toEqual([mine, mine]);
  expect(ids({ words: "nothing like it" })).toEqual([]);
  // By what happened: in the words of the log, and in a sentence that an older version left.
  expect(ids({ words: "Changed", record: mine })).toEqual([["record-changed", mine]]);
  p.file.db.prepare("INSERT INTO sys_events (at, actor_kind, via, act, record_id) VALUES (1, 'staff', 'page', 'Tidied up', ?)").run(mine);
  expect(ids({ words: "tidied", record: mine })).toEqual([["Tidied up", undefined]]);
  expect(ids({ words: "record-changed", record: mine })).toEqual([]);
  const all = readLog(p.file, p.owner, { limit: 100 });
  const [first, ...rest] = all;
  expect(readLog(p.file, p.owner, { limit: 100, before: first!.id })).toEqual(rest);
});

it("what is removed keeps its name, and values that look like SQL are values", () => {
  const { p, projects, mine } = told();
  p.owners.remove(projects, mine);
  expect(readLog(p.file, p.owner, { limit: 1 })[0]).toMatchObject({ kind: "record-removed", record: { name: "Harbour front" } });
  expect(readLog(p.file, p.owner, { limit: 5, words: "' OR 1=1 --", who: "x' --", kind: '"' })).toEqual([]);
});
