/** What is noted of changes brings back exactly what was there. */
import fc from "fast-check";
import { beforeEach, describe, expect, it } from "vitest";
import Database from "../file/sqlite";
import { Journal, takeBack } from "./journal";

let db: InstanceType<typeof Database>;
beforeEach(() => {
  db = new Database(":memory:");
  db.exec(`CREATE TABLE t_1 (id TEXT PRIMARY KEY, role TEXT, "a ""name""" TEXT, version INTEGER NOT NULL DEFAULT 1);
    CREATE TABLE links (a TEXT, b TEXT, PRIMARY KEY (a, b));`);
});
const rows = (): unknown[] => [
  db.prepare(`SELECT id, role, "a ""name""" FROM t_1 ORDER BY id`).raw().all(),
  db.prepare("SELECT a, b FROM links ORDER BY a, b").raw().all(),
];
const version = (id: string): unknown => db.prepare("SELECT version FROM t_1 WHERE id = ?").pluck().get(id);

describe("taking back", () => {
  it("leaves the file as it was, whatever was done in whatever order", () => {
    const cell = fc.constantFrom("x", "y", null);
    const one = fc.oneof(
      fc.record({ do: fc.constant("set" as const), id: fc.constantFrom("1", "2", "3"), to: cell }),
      fc.record({ do: fc.constant("remove" as const), id: fc.constantFrom("1", "2", "3") }),
      fc.record({ do: fc.constant("insert" as const), a: fc.constantFrom("p", "q"), b: fc.constantFrom("r", "s") }),
    );
    fc.assert(
      fc.property(fc.array(one, { maxLength: 12 }), (steps) => {
        db.exec("DELETE FROM t_1; DELETE FROM links");
        for (const id of ["1", "2", "3"]) db.prepare("INSERT INTO t_1 (id, role) VALUES (?, 'x')").run(id);
        db.exec("INSERT INTO links VALUES ('p', 'r')");
        const before = rows();
        const j = new Journal(db);
        for (const s of steps)
          if (s.do === "set") {
            const was = db.prepare("SELECT role FROM t_1 WHERE id = ?").pluck().get(s.id) as string | null | undefined;
            if (was !== undefined) j.set("t_1", "role", [s.id], was, s.to);
          } else if (s.do === "remove") j.remove("t_1", "id", s.id);
          else j.insert("links", { a: s.a, b: s.b });
        takeBack(db, j.noted);
        expect(rows()).toEqual(before);
      }),
    );
  });
  it("leaves alone what somebody has changed since", () => {
    db.exec("INSERT INTO t_1 (id, role) VALUES ('1', 'x'), ('2', 'x')");
    const j = new Journal(db);
    j.set("t_1", "role", ["1", "2"], "x", "y");
    db.exec("UPDATE t_1 SET role = 'mine' WHERE id = '1'");
    takeBack(db, j.noted);
    expect(rows()[0]).toEqual([
      ["1", "mine", null],
      ["2", "x", null],
    ]);
  });
  it("passes over tables and columns that are gone since", () => {
    db.exec("INSERT INTO t_1 (id, role) VALUES ('1', 'x'), ('2', 'x')");
    const j = new Journal(db);
    j.set("t_1", "role", ["1"], "x", "y");
    j.remove("t_1", "id", "2");
    j.insert("links", { a: "p", b: "q" });
    db.exec("ALTER TABLE t_1 DROP COLUMN role; DROP TABLE links");
    takeBack(db, j.noted);
    expect(db.prepare("SELECT id FROM t_1 ORDER BY id").pluck().all()).toEqual(["1", "2"]);
  });
});

describe("noting", () => {
  it("notes nothing where nothing changes", () => {
    const j = new Journal(db);
    j.set("t_1", "role", [], "x", "y");
    j.set("t_1", "role", ["1"], "x", "x");
    expect(j.insert("links", { a: "p", b: "q" })).toBe(true);
    expect(j.insert("links", { a: "p", b: "q" })).toBe(false);
    expect(j.noted).toHaveLength(1);
  });
  it("counts a change of a record by its number, on the way back, too; names may hold quotes", () => {
    db.exec("INSERT INTO t_1 (id) VALUES ('1')");
    const j = new Journal(db);
    j.set("t_1", 'a "name"', ["1"], null, "v");
    expect([version("1"), rows()[0]]).toEqual([2, [["1", null, "v"]]]);
    takeBack(db, j.noted);
    expect([version("1"), rows()[0]]).toEqual([3, [["1", null, null]]]);
  });
});
