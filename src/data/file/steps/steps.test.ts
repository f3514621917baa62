/** A file as it stood before choices had ids, numbers were scaled, and drafts had parts: opened by this Elkhorn, it means the same. */

import { beforeAll, describe, expect, it } from "vitest";
import { readDefinition } from "@/core/definition/definition";
import { TestPortal } from "@/testing/portal";
import { migrate, PORTAL } from "../migrations";
import Database from "../sqlite";

const db = new Database(":memory:");
const json = JSON.stringify;
const filter = (field: string, operator: string, value: unknown) => ({
  kind: "test",
  path: ["f_3", field],
  operator,
  operands: [{ kind: "literal", value }],
});
const definition = (motto: string) => ({
  portal: { name: "Old", locale: "en-GB", timeZone: "Europe/Oslo", currency: "GBP" },
  roles: [{ id: "lead", name: "Lead", side: "client", includes: [] }],
  walls: {},
  grants: [
    {
      id: "g1",
      roles: ["lead"],
      table: "t_1",
      actions: ["see"],
      filter: { kind: "any", of: [filter("f_1", "any-of", ["Oak, oiled", "Slate"]), { kind: "not", of: filter("f_2", "at-least", 1.5) }] },
      fields: [],
      changes: [],
    },
  ],
  features: [],
  plans: [],
  offers: [],
  brand: { colour: "#224466", ground: "#ffffff", monogram: "O", motto, contact: "" },
});

beforeAll(() => {
  db.pragma("foreign_keys = ON");
  migrate(db, PORTAL.slice(0, 2));
  db.exec(`CREATE TABLE t_1 (id TEXT PRIMARY KEY, company_id TEXT, "f_1" TEXT, "f_2" REAL, "f_4" TEXT) STRICT;
    CREATE INDEX ix_size ON t_1 (company_id, "f_2");
    INSERT INTO sys_meta VALUES ('draft_revision', '7');
    INSERT INTO sys_tables VALUES ('t_1', 'signs', 'Signs', 'Sign', 'ordinary', 'f_1', 1);`);
  const field = db.prepare("INSERT INTO sys_fields VALUES (?, 't_1', ?, ?, ?, ?, 0, 1)");
  field.run(
    "f_1",
    "material",
    "Material",
    "choice",
    json({ choices: ["Oak, oiled", "Slate"], default: { kind: "literal", value: "Slate" } }),
  );
  field.run("f_2", "size", "Size", "number", "{}");
  field.run("f_4", "marks", "Marks", "choices", json({ choices: ["new", "worn"] }));
  const row = db.prepare("INSERT INTO t_1 VALUES (?, NULL, ?, ?, ?)");
  row.run("a", "Oak, oiled", 1.5, json(["worn"]));
  row.run("b", "Slate", 12, json(["new", "worn"]));
  row.run("c", null, 0.25, null);
  db.prepare("INSERT INTO sys_definitions VALUES (1, ?, '', 'r', '')").run(json(definition("live")));
  db.prepare("INSERT INTO sys_draft VALUES (1, ?, 7, '2026-01-01', 3)").run(json(definition("draft")));
  db.prepare("INSERT INTO sys_removed VALUES ('z', 't_1', ?, '')").run(json({ row: { values: { f_1: "Slate", f_2: 3.5 } }, pointed: [] }));
  db.exec(`INSERT INTO sys_audit VALUES (5, '2026-01-02T03:04:05.678Z', 'p1', 'added', 't_1', 'a', NULL);
    INSERT INTO sys_memberships VALUES ('m', 'p1', 'c1', '[]', '');
    INSERT INTO sys_subscriptions VALUES ('c1', 'basic', 'active', NULL);`);
  migrate(db, PORTAL);
});

describe("an older file, opened", () => {
  it("its rows hold the ids of choices, and numbers as integers of the decimals that they need", () => {
    const options = Object.fromEntries(
      (db.prepare("SELECT id, options FROM sys_fields").raw().all() as [string, string][]).map(([id, o]) => [id, JSON.parse(o)]),
    );
    expect(options.f_1).toEqual({
      choices: [
        { id: "c_1", name: "Oak, oiled" },
        { id: "c_2", name: "Slate" },
      ],
      default: { kind: "literal", value: "c_2" },
    });
    expect(options.f_2).toEqual({ decimals: 2 });
    expect(db.prepare('SELECT "f_1", "f_2", "f_4" FROM t_1 ORDER BY id').raw().all()).toEqual([
      ["c_1", 150, '["c_4"]'],
      ["c_2", 1200, '["c_3","c_4"]'],
      [null, 25, null],
    ]);
    expect(db.prepare("SELECT type FROM pragma_table_info('t_1') WHERE name = 'f_2'").pluck().get()).toBe("INTEGER");
    expect(db.prepare("SELECT count(*) FROM sqlite_master WHERE name = 'ix_size'").pluck().get()).toBe(1);
  });
  it("its filters mean the same, in the versions and in the draft", () => {
    const read = readDefinition(db.prepare("SELECT body FROM sys_definitions").pluck().get() as string);
    const [choice, size] = [["c_1", "c_2"], 150];
    expect(read.ok && read.value.grants[0]!.filter).toEqual({
      kind: "any",
      of: [filter("f_1", "any-of", choice), { kind: "not", of: filter("f_2", "at-least", size) }],
    });
  });
  it("its draft stands in parts, of which only those that differ are drafted", () => {
    const parts = db.prepare("SELECT part, revision, step FROM sys_draft_parts").all();
    expect(parts).toEqual([{ part: "brand", revision: 9, step: 1 }]);
    expect(db.prepare("SELECT part, n, what FROM sys_draft_steps ORDER BY n").raw().all()).toEqual([
      ["brand", 0, ""],
      ["brand", 1, "earlier changes"],
    ]);
  });
  it("what was removed comes back as it would be stored now; the log has its actors; subscriptions have their zone", () => {
    expect(JSON.parse(db.prepare("SELECT body FROM sys_removed").pluck().get() as string).row.values).toEqual({ f_1: "c_2", f_2: 350 });
    expect(db.prepare("SELECT id, at, actor_kind, actor_id, via, act FROM sys_events").raw().all()).toEqual([
      [5, Date.UTC(2026, 0, 2, 3, 4, 5, 678), "person", "p1", "page", "record-added"],
    ]);
    expect(db.prepare("SELECT time_zone FROM sys_subscriptions").pluck().get()).toBe("Europe/Oslo");
  });
});

describe("people of an older file", () => {
  it("get a picture beside a field of their own that is called so", () => {
    const old = new Database(":memory:");
    const shown = PORTAL.findIndex((s) => typeof s === "function" && s.name === "accounts");
    migrate(old, PORTAL.slice(0, shown));
    old.exec(`CREATE TABLE t_people (id TEXT PRIMARY KEY, "f_9" TEXT) STRICT;
      INSERT INTO sys_tables (id, slug, name, singular, kind, label_field, position) VALUES ('t_people', 'people', 'People', 'Person', 'people', 'f_9', 1);
      INSERT INTO sys_fields (id, table_id, slug, name, type, options, system, position) VALUES ('f_9', 't_people', 'picture', 'Picture', 'text', '{}', 0, 1);
      INSERT INTO t_people VALUES ('p', 'Dana');`);
    migrate(old, PORTAL);
    expect(old.prepare("SELECT slug, name, type FROM sys_fields WHERE id = 'f_person_picture'").get()).toEqual({
      slug: "picture-1",
      name: "Picture of them",
      type: "pictures",
    });
    expect(old.prepare("SELECT * FROM t_people").get()).toEqual({ id: "p", f_9: "Dana", f_person_picture: null });
    expect(old.prepare("SELECT count(*) FROM sys_accounts").pluck().get()).toBe(0);
  });

  it("who was added is not called invited; a field of one's own that says so keeps its words", () => {
    const p = new TestPortal([], () => []);
    const words = (id: string) => (p.file.db.prepare("SELECT options FROM sys_fields WHERE id = ?").pluck().get(id) as string) ?? "";
    const now = words("f_person_status");
    expect(JSON.parse(now).choices[0]).toEqual({ id: "invited", name: "not in yet" });
    const before = now.replace("not in yet", "invited");
    p.file.db.prepare("UPDATE sys_fields SET options = ? WHERE id IN ('f_person_status', 'f_person_name')").run(before);
    const step = PORTAL.findIndex((x) => typeof x === "string" && x.includes("not in yet"));
    p.file.db.pragma(`user_version = ${step}`);
    migrate(p.file.db, PORTAL.slice(0, step + 1));
    expect([words("f_person_status"), words("f_person_name")]).toEqual([now, before]);
  });
});
