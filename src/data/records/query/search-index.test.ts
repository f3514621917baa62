import fc from "fast-check";
import { beforeEach, describe, expect, it } from "vitest";
import { Policy } from "@/core/access/policy";
import type { Viewer } from "@/core/access/who/viewer";
import type { Condition } from "@/core/schema/condition";
import type { Schema } from "@/core/schema/types";
import { runs } from "@/testing/random";
import { MADE, makeTestSchema, memoryPortal, testViewer } from "@/testing/world";
import type { PortalFile } from "../../file/open";
import { transact } from "../../file/transact";
import { storeCompanies } from "../../tables/company";
import { insertRow, updateRow } from "../../tables/store";
import { Desk } from "../desk";
import { grant } from "./follow";
import { indexWords, isIndexed, searchHint } from "./search-index";

let file: PortalFile;
let schema: Schema;
let t: ReturnType<typeof makeTestSchema>["t"];
let policy: Policy;
const field = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
const owner = testViewer({ kind: "owner", company: null });
const staff = testViewer({ roles: ["staff"], company: null });
const lead = testViewer({ roles: ["lead"] });
const WORDS = ["Atrium", "north", "STRASSE", "straße", 'say "hi"', "☃️ snow", "a-b*c", "ünïcode", "NEAR(x)", "lift"];

function fill(n: number): void {
  for (let i = 0; i < n; i++) {
    const site = `s${i % 5}`;
    if (i < 5)
      insertRow(
        file,
        schema.table(t.sites),
        site,
        { [field("sites", "name")]: `Site ${WORDS[i]}`, [field("sites", "company")]: i % 2 ? "c1" : "c2" },
        MADE,
      );
    const values = {
      [field("signs", "code")]: `${WORDS[i % 7]} ${i}`,
      [field("signs", "note")]: `note ${WORDS[(i * 3) % 10]}`,
      [field("signs", "site")]: i % 11 ? site : null,
    };
    insertRow(file, schema.table(t.signs), `n${String(i).padStart(4, "0")}`, values, MADE);
  }
}

beforeEach(() => {
  file = memoryPortal();
  ({ schema, t } = makeTestSchema(file));
  for (const c of ["c1", "c2"]) insertRow(file, schema.companies, c, { f_company_name: c }, MADE);
  const all = (slug: string) => schema.tableBySlug(slug)!.fields.map((f) => f.id);
  policy = new Policy(schema, {
    roles: [
      { id: "staff", name: "Staff", side: "agency", includes: [] },
      { id: "lead", name: "Lead", side: "client", includes: [] },
    ],
    walls: {
      [t.sites]: { kind: "owned", path: [field("sites", "company")] },
      [t.signs]: { kind: "owned", path: [field("signs", "site"), field("sites", "company")] },
    },
    grants: [
      // The agency's people do not see notes, and of sites only those that one company has.
      {
        id: "g1",
        roles: ["staff"],
        table: t.signs,
        actions: ["see"],
        filter: null,
        fields: all("signs").filter((f) => f !== field("signs", "note")),
        changes: [],
      },
      {
        id: "g2",
        roles: ["staff"],
        table: t.sites,
        actions: ["see"],
        filter: { kind: "test", path: [field("sites", "company")], operator: "is", operands: [{ kind: "literal", value: "c1" }] },
        fields: all("sites"),
        changes: [],
      },
      { id: "g3", roles: ["lead"], table: t.signs, actions: ["see"], filter: null, fields: all("signs"), changes: [] },
    ],
  });
  fill(400);
  for (const table of schema.tables) storeCompanies(file, policy, table.id);
});

const found = (who: Viewer, search: string): unknown => {
  const desk = new Desk(file, policy, who);
  const table = schema.table(t.signs);
  return [desk.page(table, { search, page: 1, size: 1_000 }).records.map((r) => r.id), desk.count(table, { search })];
};
/** As though there were no index. */
function plainly<T>(what: () => T): T {
  const kept = file.db.prepare("SELECT table_id, columns FROM sys_search").all() as { table_id: string; columns: string }[];
  file.db.exec("DELETE FROM sys_search");
  try {
    return what();
  } finally {
    for (const k of kept) file.db.prepare("INSERT INTO sys_search VALUES (?, ?)").run(k.table_id, k.columns);
  }
}
const used = (who: Viewer, search: string): boolean => searchHint(new Desk(file, policy, who), t.signs, search) !== null;

describe("with an index of words", () => {
  it.each([false, true])("the same records are found as without, whoever looks, also after writing (sites indexed: %s)", (sites) => {
    indexWords(file, schema, t.signs);
    if (sites) indexWords(file, schema, t.sites);
    expect([isIndexed(file, schema, t.signs), isIndexed(file, schema, t.sites)]).toEqual([true, sites]);
    expect([used(owner, "atri"), used(staff, "atri"), used(lead, "atri"), used(owner, "at")]).toEqual([true, true, false, false]);
    const part = fc.tuple(fc.constantFrom(...WORDS), fc.nat(6), fc.integer({ min: 1, max: 9 })).map(([w, from, n]) =>
      [...w]
        .slice(from % w.length)
        .slice(0, n)
        .join(""),
    );
    let turn = 0;
    fc.assert(
      fc.property(
        fc.oneof(part, fc.string({ minLength: 1, maxLength: 6 })),
        fc.constantFrom(owner, staff, lead),
        fc.nat(3),
        (words, who, change) => {
          const id = `n${String(++turn % 400).padStart(4, "0")}`;
          if (change === 0) updateRow(file, schema, schema.table(t.signs), id, { [field("signs", "code")]: `${words} again` }, MADE);
          if (change === 1) file.db.prepare(`DELETE FROM "${t.signs}" WHERE id = ?`).run(id);
          if (change === 2) indexWords(file, schema, t.signs); // what was written since is indexed too
          expect(found(who, words)).toEqual(plainly(() => found(who, words)));
        },
      ),
      { numRuns: runs(600) },
    );
  });
  it("a hidden field is not found by, though it is indexed", () => {
    indexWords(file, schema, t.signs);
    insertRow(file, schema.table(t.signs), "secret", { [field("signs", "code")]: "plain", [field("signs", "note")]: "whispered" }, MADE);
    indexWords(file, schema, t.signs);
    expect([found(owner, "whisper"), found(staff, "whisper")]).toEqual([
      [["secret"], 1],
      [[], 0],
    ]);
  });
  it("is of the fields that there are: with another text field it is made anew", () => {
    indexWords(file, schema, t.signs);
    file.db.prepare("UPDATE sys_search SET columns = 'other'").run();
    expect(used(owner, "atrium")).toBe(false);
    indexWords(file, schema, t.signs);
    expect(found(owner, "atrium")).toEqual(plainly(() => found(owner, "atrium")));
  });
});

describe("indexes that follow from use", () => {
  const jobs = (): unknown[] => (file.db.prepare("SELECT body FROM sys_jobs").pluck().all() as string[]).map((b) => JSON.parse(b));
  it("a large table is indexed by what somebody who sees all companies' sorts by or searches; once, and for nobody else", () => {
    const ask = (who: Viewer) => {
      const desk = new Desk(file, policy, who);
      desk.list(schema.table(t.signs), { limit: 1, search: "atrium", sort: [{ field: field("signs", "fitted"), descending: true }] });
    };
    ask(owner);
    expect(jobs()).toEqual([]); // 400 records are read in no time
    insertRow(file, schema.table(t.signs), "last", { [field("signs", "code")]: "last" }, MADE);
    file.db.prepare(`UPDATE "${t.signs}" SET rowid = 100000 WHERE id = 'last'`).run();
    ask(lead);
    expect(jobs()).toEqual([]);
    ask(owner);
    ask(owner);
    expect(jobs()).toEqual([
      { table: t.signs, field: null },
      { table: t.signs, field: field("signs", "fitted") },
    ]);
    for (const w of jobs() as Parameters<typeof grant>[1][]) grant(file, w);
    expect(isIndexed(file, schema, t.signs)).toBe(true);
    const plan = file.db.prepare(`EXPLAIN QUERY PLAN SELECT id FROM "${t.signs}" ORDER BY "${field("signs", "fitted")}", id LIMIT 5`).all();
    // What is indexed is not asked for again, nor when a minute has passed.
    ask(testViewer({ kind: "owner", company: null, now: owner.now + 120_000 }));
    expect(jobs()).toHaveLength(2);
    expect(JSON.stringify(plan)).toContain(`ix_${t.signs}_sort_${field("signs", "fitted")}`);
  });
  it.each([0, 260])("the order of names that records point to is the same along their index, from either end (%i more names)", (more) => {
    for (let i = 0; i < more; i++) {
      const name = `Aisle ${String(i >> 1).padStart(3, "0")}`; // each two have one name
      insertRow(file, schema.table(t.sites), `x${i}`, { [field("sites", "name")]: name, [field("sites", "company")]: "c1" }, MADE);
      if (i % 9 === 0)
        insertRow(file, schema.table(t.signs), `m${i}`, { [field("signs", "code")]: `t ${i}`, [field("signs", "site")]: `x${i}` }, MADE);
    }
    storeCompanies(file, policy, t.sites);
    updateRow(file, schema, schema.table(t.sites), "s3", { [field("sites", "name")]: null }, MADE);
    updateRow(file, schema, schema.table(t.sites), "s2", { [field("sites", "name")]: "site ATRIUM" }, MADE); // two of one name
    const table = schema.table(t.signs);
    const some: Condition = {
      kind: "test",
      path: [field("signs", "code")],
      operator: "contains",
      operands: [{ kind: "literal", value: "t" }],
    };
    for (const who of [owner, staff])
      for (const descending of [false, true])
        for (const condition of [null, some]) {
          const desk = new Desk(file, policy, who);
          const sort = [{ field: field("signs", "site"), descending }];
          // With a second key, which never decides, it is sorted as ever.
          const plain = desk
            .list(table, { limit: 1_000, condition, sort: [...sort, { field: field("signs", "lit"), descending }] })
            .records.map((r) => r.id);
          for (const size of [3, 50, 399])
            for (let page = 1; page <= Math.ceil(plain.length / size); page++)
              expect(desk.page(table, { page, size, sort, condition }).records.map((r) => r.id)).toEqual(
                plain.slice((page - 1) * size, page * size),
              );
        }
  });
  it("a count of very many is counted again when something has happened, and within a transaction", () => {
    const desk = new Desk(file, policy, owner);
    const table = schema.table(t.signs);
    const insert = (i: number) => insertRow(file, table, `many${i}`, { [field("signs", "code")]: "x" }, MADE);
    for (let i = 0; i < 6_000; i++) insert(i);
    expect([desk.count(table), desk.count(table)]).toEqual([6_400, 6_400]);
    expect(() =>
      transact(file, () => {
        desk.add(table, { [field("signs", "code")]: "undone" });
        expect(desk.count(table)).toBe(6_401);
        throw new Error("undone");
      }),
    ).toThrow("undone");
    expect(desk.count(table)).toBe(6_400);
    desk.add(table, { [field("signs", "code")]: "kept" });
    expect(desk.count(table)).toBe(6_401);
    desk.remove(table, "many7");
    expect(desk.count(table)).toBe(6_400);
  });
  it("pages of the second half are read from the end, and are the same", () => {
    const desk = new Desk(file, policy, owner);
    const table = schema.table(t.signs);
    for (const sort of [
      [],
      [{ field: field("signs", "site"), descending: true }],
      [
        { field: field("signs", "note"), descending: false },
        { field: field("signs", "code"), descending: true },
      ],
    ]) {
      const all = desk.list(table, { limit: 1_000, sort }).records.map((r) => r.id);
      for (const size of [7, 50, 399, 400])
        for (let page = 1; page <= Math.ceil(400 / size); page++)
          expect(desk.page(table, { page, size, sort }).records.map((r) => r.id)).toEqual(all.slice((page - 1) * size, page * size));
    }
  });
});
