/**
 * The process killed (SIGKILL) during an import, at points that the work names: afterwards the import is whole or absent, its state says
 * which, and the next process goes on and ends it.
 */
import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import Database from "@/data/file/sqlite";
import { bundle } from "../../scripts/bundle.mjs";

const ROOT = join(import.meta.dirname, "../..");
const ROWS = 24_000;
const folder = mkdtempSync(join(tmpdir(), "elkhorn-killed-"));
// Beside the packages that they use.
const bundled = join(ROOT, ".tmp", `killed-${process.pid}`);
afterAll(() => {
  for (const f of [folder, bundled]) rmSync(f, { recursive: true, force: true });
});

const empty = join(folder, "empty");

function run(data: string, script: string, dieAt = "", then = ""): Promise<{ killed: boolean; heard: string }> {
  return new Promise((done) => {
    const child = spawn(process.execPath, [join(bundled, script)], {
      cwd: ROOT,
      env: { ...process.env, ELKHORN_DATA: data, ELKHORN_DIE_AT: dieAt, ELKHORN_THEN: then },
      stdio: ["ignore", "pipe", "inherit"],
    });
    let heard = "";
    child.stdout.on("data", (d: Buffer) => (heard += d.toString()));
    child.on("exit", (_, signal) => done({ killed: signal === "SIGKILL", heard }));
  });
}

beforeAll(async () => {
  await bundle(["tests/support/make-killed.ts", "tests/support/import-child.ts"], bundled);
  await run(empty, "make-killed.mjs");
});

const fileIn = (data: string): string => join(data, "portals", readdirSync(join(data, "portals")).find((f) => f.endsWith(".db"))!);

it.each([
  ["import: a piece is set aside x3", "checking", 0],
  ["import: companies are added", "checked", 0],
  ["import: rows are copied", "checked", 0],
  ["import: it is in", "done", ROWS],
] as const)(
  "killed at “%s”",
  async (point, wanted, there) => {
    const data = mkdtempSync(join(folder, "d-"));
    cpSync(empty, data, { recursive: true });
    expect(await run(data, "import-child.mjs", point)).toEqual({ killed: true, heard: "" });
    const db = new Database(fileIn(data));
    const table = (): string | undefined =>
      db.prepare("SELECT id FROM sys_tables WHERE slug = 'things'").pluck().get() as string | undefined;
    const count = (of: string | undefined): unknown => (of ? db.prepare(`SELECT count(*) FROM "${of}"`).pluck().get() : 0);
    const state = (): unknown => db.prepare("SELECT state FROM sys_imports").pluck().get();
    try {
      expect(db.pragma("integrity_check", { simple: true })).toBe("ok");
      expect([state(), count(table()), count("t_companies")]).toEqual([wanted, there, there ? 40 : 0]);
      // The next process ends what this one had begun.
      expect(await run(data, "import-child.mjs")).toMatchObject({ killed: false, heard: "done\n" });
      expect([state(), count(table()), count("t_companies")]).toEqual(["done", ROWS, 40]);
    } finally {
      db.close();
    }
  },
  60_000,
);

/** Whole or absent: what stands after the process was killed in the middle is what stood before, or all that was meant. */
it.each([
  ["undo", "undo: rows are removed", "before"],
  ["undo", "undo: rows are back", "before"],
  ["retype", "retype: the column is exchanged", "before"],
  ["retype", "retype: it is done", "after"],
  ["remove", "removal: one is in the bin", "before"],
] as const)(
  "%s, killed at “%s”: all is as %s",
  async (act, point, wanted) => {
    const data = mkdtempSync(join(folder, "d-"));
    cpSync(empty, data, { recursive: true });
    await run(data, "import-child.mjs");
    const db = new Database(fileIn(data));
    const id = db.prepare("SELECT id FROM sys_tables WHERE slug = 'things'").pluck().get() as string;
    const note = () => db.prepare("SELECT type FROM sys_fields WHERE slug = 'note'").pluck().get();
    const state = () => [
      db.prepare(`SELECT count(*) FROM "${id}"`).pluck().get(),
      db.prepare("SELECT count(*) FROM t_companies").pluck().get(),
      note(),
    ];
    const values = () =>
      db
        .prepare(
          `SELECT count(*) FROM "${id}" WHERE "${db.prepare("SELECT id FROM sys_fields WHERE slug = 'note'").pluck().get()}" IS NOT NULL`,
        )
        .pluck()
        .get();
    try {
      const before = state();
      expect([before, values()]).toEqual([[ROWS, 40, "text"], ROWS]);
      // So few different values that they may become choices.
      if (act === "retype") {
        const f = db.prepare("SELECT id FROM sys_fields WHERE slug = 'note'").pluck().get() as string;
        db.exec(`UPDATE "${id}" SET "${f}" = 'note ' || (rowid % 7), "${f}_k" = 'note ' || (rowid % 7)`);
      }
      expect(await run(data, "import-child.mjs", point, act)).toMatchObject({ killed: true });
      expect(db.pragma("integrity_check", { simple: true })).toBe("ok");
      expect([state(), values()]).toEqual([wanted === "before" ? before : [ROWS, 40, "choice"], ROWS]);
      expect(await run(data, "import-child.mjs", "", act)).toMatchObject({ killed: false });
      if (act === "undo") expect(db.prepare("SELECT count(*) FROM sys_tables WHERE slug = 'things'").pluck().get()).toBe(0);
      if (act === "remove") expect([state()[0], db.prepare("SELECT count(*) FROM sys_removed").pluck().get()]).toEqual([ROWS - 1, 1]);
    } finally {
      db.close();
    }
  },
  60_000,
);
