/** What publishing walks, and what it leaves as it is. */
import { expect, it } from "vitest";
import type { Definition } from "@/core/definition/definition";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { changeDraft, draftOf } from "../definition/draft";
import { keepPageAddresses, movedPage } from "../definition/page-addresses";
import { published } from "../definition/published";
import { publish, uphold } from "./publish";

const world = (): TestPortal => {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "signs" }] });
  p.add("signs", { code: "A1", project: p.project("One") });
  return p;
};
const draft = (p: TestPortal, change: (d: Definition) => Definition): void =>
  void must(changeDraft(p.file, p.owner, draftOf(p.file, p.owner).revision, change, "a change"));
const publishes = (p: TestPortal): number => must(publish(p.file, p.owner, uphold(draftOf(p.file, p.owner), new Set())!)).version;
/** Where an index begins in the file: another place once it was made anew. */
const places = (p: TestPortal): unknown[] =>
  p.file.db.prepare("SELECT name, rootpage FROM sqlite_master WHERE type = 'index' AND name LIKE 'ix_%' ORDER BY 1").raw().all();

it("with nothing changed there is no version and nothing in the log", () => {
  const p = world();
  const before = [published(p.file).version, p.file.db.prepare("SELECT count(*) FROM sys_events").pluck().get()];
  expect(publishes(p)).toBe(before[0]);
  expect([published(p.file).version, p.file.db.prepare("SELECT count(*) FROM sys_events").pluck().get()]).toEqual(before);
});

it("walks no table whose wall stays, and makes no index anew; a table with another wall is walked", () => {
  const p = world();
  const signs = p.table("signs").id;
  const whose = (): unknown => p.file.db.prepare(`SELECT company_id FROM "${signs}"`).pluck().get();
  const right = whose();
  expect(right).toBe(p.company("One"));
  // A mark that only a walk would wipe out.
  p.file.db.prepare(`UPDATE "${signs}" SET company_id = 'not walked'`).run();
  const made = places(p);
  draft(p, (d) => ({ ...d, brand: { ...d.brand, motto: "other words" } }));
  publishes(p);
  expect([whose(), places(p)]).toEqual(["not walked", made]);
  draft(p, (d) => ({ ...d, walls: { ...d.walls, [signs]: { kind: "shared" } as never } }));
  publishes(p);
  draft(p, (d) => ({
    ...d,
    walls: { ...d.walls, [signs]: { kind: "owned", path: [p.field("signs", "project"), p.field("projects", "company")] } },
  }));
  publishes(p);
  expect(whose()).toBe(right);
});

it("an address that a page had leads to it, until another page takes it", () => {
  const { file } = testPortal({ grants: [] });
  const pages = (...all: [string, string][]) => ({ pages: all.map(([id, address]) => ({ id, address })) }) as unknown as Definition;
  keepPageAddresses(file, pages(["p1", "old"]), pages(["p1", "new"]));
  keepPageAddresses(file, pages(["p1", "new"]), pages(["p1", "newer"]));
  expect(["old", "new", "newer", "never"].map((a) => movedPage(file, a))).toEqual(["p1", "p1", undefined, undefined]);
  keepPageAddresses(file, pages(["p1", "newer"]), pages(["p1", "newer"], ["p2", "old"]));
  expect([movedPage(file, "old"), movedPage(file, "new")]).toEqual([undefined, "p1"]);
});
