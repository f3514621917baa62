import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, it } from "vitest";
import { openDatabase } from "./open";
import { isBusy, whenFree } from "./when-free";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-free-"));
afterAll(() => rmSync(folder, { recursive: true }));

it("a busy file is an error at once, and whoever waits for it lets others go on", async () => {
  const [ours, theirs] = [openDatabase(join(folder, "a.db")), openDatabase(join(folder, "a.db"))];
  ours.exec("CREATE TABLE t (n)");
  theirs.exec("BEGIN IMMEDIATE; INSERT INTO t VALUES (1)");
  expect(() => ours.exec("INSERT INTO t VALUES (2)")).toThrow(expect.objectContaining({ code: "SQLITE_BUSY" }));
  const order: string[] = [];
  const waiting = whenFree({ db: ours }).then(() => order.push("free"));
  await new Promise((next) => setImmediate(next)); // other work of this thread, meanwhile
  order.push("other");
  theirs.exec("COMMIT");
  await waiting;
  expect(order).toEqual(["other", "free"]);
  ours.exec("INSERT INTO t VALUES (2)");
  expect(ours.prepare("SELECT count(*) FROM t").pluck().get()).toBe(2);
  expect(isBusy(new Error("other"))).toBe(false);
});
