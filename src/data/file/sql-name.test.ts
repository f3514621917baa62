/** Names in statements: any that SQLite allows name what they should, and nothing in them is read as SQL. */
import Database from "better-sqlite3";
import fc from "fast-check";
import { expect, it } from "vitest";
import { sqlName } from "@/core/text/sql-name";

it("any name makes one table, called as it was named, with nothing else done", () => {
  fc.assert(
    fc.property(fc.string({ unit: "binary", minLength: 1, maxLength: 30 }), (name) => {
      fc.pre(!name.includes("\0") && !/^sqlite_/i.test(name));
      const db = new Database(":memory:");
      db.exec(`CREATE TABLE kept (x); CREATE TABLE ${sqlName(`t_${name}`)} (${sqlName(name)})`);
      const names = db.prepare("SELECT name FROM sqlite_schema ORDER BY rowid").pluck().all();
      const columns = db.prepare("SELECT name FROM pragma_table_info(?)").pluck().all(`t_${name}`);
      db.close();
      // A lone surrogate has no UTF-8, which SQLite stores: it comes back as U+FFFD (Unicode 3.9, D92).
      expect([names, columns]).toEqual([["kept", `t_${name}`.toWellFormed()], [name.toWellFormed()]]);
    }),
  );
});

it("a name that would end the statement is refused or stays a name", () => {
  expect(sqlName('a" (x); DROP TABLE kept; --')).toBe('"a"" (x); DROP TABLE kept; --"');
  expect(() => sqlName("a\0b")).toThrow("cannot name");
});
