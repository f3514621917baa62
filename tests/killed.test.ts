/** The process killed (SIGKILL) during an import: afterwards the import is whole or absent, and its state says which. */
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, expect, it } from "vitest";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-killed-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const ROOT = join(import.meta.dirname, "..");

function run(data: string, script: string, killAfter?: { word: string; ms: number }): Promise<{ killed: boolean; heard: string }> {
  return new Promise((done) => {
    const child = spawn(join(ROOT, "node_modules/.bin/tsx"), [script], {
      cwd: ROOT,
      env: { ...process.env, ELKHORN_DATA: data },
      detached: true,
      stdio: ["ignore", "pipe", "inherit"],
    });
    let heard = "";
    child.stdout.on("data", (d: Buffer) => {
      heard += d.toString();
      if (killAfter && heard.includes(killAfter.word)) setTimeout(() => process.kill(-child.pid!, "SIGKILL"), killAfter.ms);
    });
    child.on("exit", (_, signal) => done({ killed: signal === "SIGKILL", heard }));
  });
}

it.each([
  ["checking", 60, "interrupted"],
  ["bringing in", 5, "absent"],
  ["bringing in", 60, "absent"],
  ["bringing in", 150, "absent"],
] as const)(
  "killed %s, after %i ms",
  async (word, ms, expected) => {
    const data = mkdtempSync(join(folder, "d-"));
    await run(data, "tests/support/make-killed.ts");
    const { killed, heard } = await run(data, "tests/support/import-child.ts", { word, ms });
    const db = new Database(join(data, "portals", "killed.db"));
    try {
      expect(db.pragma("integrity_check", { simple: true })).toBe("ok");
      const table = db.prepare("SELECT id FROM sys_tables WHERE slug = 'things'").pluck().get() as string | undefined;
      const state = db.prepare("SELECT state FROM sys_imports").pluck().get();
      const companies = db.prepare("SELECT count(*) FROM t_companies").pluck().get();
      if (table) {
        // It got through before the kill: then all of it is there, and it says so.
        expect([db.prepare(`SELECT count(*) FROM "${table}"`).pluck().get(), companies, state]).toEqual([60_000, 40, "done"]);
      } else {
        expect(killed).toBe(true);
        expect([companies, heard.includes("done")]).toEqual([0, false]);
        expect(state).toBe(expected === "interrupted" ? "checking" : "checked"); // read as interrupted, or ready to bring in again
      }
    } finally {
      db.close();
    }
  },
  60_000,
);
