import { getTableColumns, getTableName } from "drizzle-orm";
import type { SQLiteColumn } from "drizzle-orm/sqlite-core";
import { describe, expect, it } from "vitest";
import * as control from "./control-tables";
import { CONTROL, migrate, PORTAL } from "./migrations";
import * as portal from "./portal-tables";
import Database from "./sqlite";

describe.each([
  ["control", CONTROL, control.ALL],
  ["portal", PORTAL, portal.ALL],
] as const)("%s file", (_, steps, tables) => {
  const db = new Database(":memory:");
  migrate(db, steps);
  it.each(Object.values(tables).map((t) => [getTableName(t), t] as const))("%s has the columns that the queries expect", (name, table) => {
    const found = db.prepare(`PRAGMA table_info("${name}")`).all() as { name: string; notnull: number; pk: number }[];
    const wanted = Object.values(getTableColumns(table)) as SQLiteColumn[];
    expect(found.map((c) => c.name).sort()).toEqual(wanted.map((c) => c.name).sort());
    // A primary key is never null, though SQLite does not report a text one so.
    for (const w of wanted.filter((c) => !c.primary))
      expect([w.name, found.find((c) => c.name === w.name)!.notnull === 1]).toEqual([w.name, w.notNull]);
  });
  it("is made once, and a file of a newer Elkhorn is refused with a sentence", () => {
    migrate(db, steps);
    expect(db.pragma("user_version", { simple: true })).toBe(steps.length);
    db.pragma(`user_version = ${steps.length + 1}`);
    expect(() => migrate(db, steps)).toThrow("made by a newer Elkhorn");
  });
});
