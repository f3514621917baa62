import { join } from "node:path";
import { expect, it } from "vitest";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { openDatabase } from "../file/open";
import { shrink } from "./shrink";

const folder = ownFolder();

function filled() {
  const { file } = testPortal({ grants: [] });
  file.db.exec("CREATE TABLE much (x TEXT) STRICT");
  const fill = (): void =>
    void file.db.exec(
      "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 4000) INSERT INTO much SELECT hex(randomblob(500)) FROM n",
    );
  const pages = (): number => file.db.pragma("page_count", { simple: true }) as number;
  return { file, fill, pages };
}

it("room that is not used any more is given back; what is little is kept for what comes", () => {
  const { file, fill, pages } = filled();
  fill();
  const full = pages();
  expect(shrink(file)).toBe(0);
  file.db.exec("DELETE FROM much");
  const back = shrink(file);
  expect(pages()).toBeLessThan(full / 2);
  expect(back).toBe((full - pages()) * 4096);
  expect(shrink(file)).toBe(0);
  expect(file.db.pragma("integrity_check", { simple: true })).toBe("ok");
});

it("a file of an older Elkhorn is written anew once, and then a little at a time", () => {
  const { file, fill, pages } = filled();
  file.db.pragma("auto_vacuum = NONE");
  file.db.exec("VACUUM");
  expect(file.db.pragma("auto_vacuum", { simple: true })).toBe(0);
  fill();
  const full = pages();
  file.db.exec("DELETE FROM much");
  expect(shrink(file)).toBeGreaterThan(0);
  expect(pages()).toBeLessThan(full / 2);
  expect(file.db.pragma("auto_vacuum", { simple: true })).toBe(2);
});

it("a file that somebody is writing to is opened all the same", () => {
  const path = join(folder, "written.db");
  const one = openDatabase(path);
  one.exec("CREATE TABLE t (x TEXT) STRICT");
  one.exec("BEGIN IMMEDIATE; INSERT INTO t VALUES ('on its way')");
  const other = openDatabase(path);
  expect(other.prepare("SELECT count(*) FROM t").pluck().get()).toBe(0);
  one.exec("COMMIT");
  expect(other.prepare("SELECT count(*) FROM t").pluck().get()).toBe(1);
  for (const db of [one, other]) db.close();
});

it("a new file knows its free pages from the start", () => {
  const db = openDatabase(":memory:");
  expect(db.pragma("auto_vacuum", { simple: true })).toBe(2);
  db.close();
});
