/**
 * Installations of every format that there has been, opened by this version: what an owner reads is what it was, value by value. A new
 * migration adds one (`npx tsx src/testing/keep-format.ts NAME`), or the last test fails.
 */
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliDecompressSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { CONTROL, PORTAL } from "@/data/file/migrations";
import { closeFiles } from "@/data/file/open";
import { ownFolder } from "./folder";
import { controlValues, installationValues } from "./formats";

const FORMATS = join(import.meta.dirname, "formats");
const folder = ownFolder();
type Values = ReturnType<typeof installationValues>;
interface Line {
  readonly via: string;
  readonly says: string;
}

const kept = (name: string, file: string): Buffer => brotliDecompressSync(readFileSync(join(FORMATS, name, `${file}.br`)));
const portalsOf = (name: string): string[] =>
  readdirSync(join(FORMATS, name))
    .filter((f) => /^[0-9a-f-]{36}\.db\.br$/.test(f))
    .map((f) => f.slice(0, -".br".length));

/** Steps that a database file has had: its user version, big-endian at offset 60 (SQLite file format, section 1.3). */
const stepsOf = (bytes: Buffer): number => bytes.readUInt32BE(60);

describe.each(readdirSync(FORMATS))("%s", (name) => {
  it("opened, it holds what it held", { timeout: 120_000 }, () => {
    const home = join(folder, name);
    mkdirSync(join(home, "portals"), { recursive: true });
    writeFileSync(join(home, "elkhorn.db"), kept(name, "elkhorn.db"));
    for (const f of portalsOf(name)) writeFileSync(join(home, "portals", f), kept(name, f));
    closeFiles();
    process.env.ELKHORN_DATA = home;
    const was = JSON.parse(kept(name, "values.json").toString()) as Values;
    const is = installationValues();
    // What the installation itself holds is kept since staff-kinds.
    if (existsSync(join(FORMATS, name, "installation.json.br")))
      expect(controlValues()).toEqual(JSON.parse(kept(name, "installation.json").toString()));
    closeFiles();
    expect(Object.keys(is)).toEqual(Object.keys(was));
    for (const [slug, values] of Object.entries(was)) {
      const now = is[slug]!;
      for (const part of ["definition", "draft", "tables"]) expect([slug, part, now[part]]).toEqual([slug, part, values[part]]);
      for (const [table, rows] of Object.entries(values.records as Record<string, unknown[]>)) {
        const there = (now.records as Record<string, unknown[]>)[table] ?? [];
        expect([slug, table, there.length]).toEqual([slug, table, rows.length]);
        rows.forEach((row, i) => {
          expect([slug, table, there[i]]).toEqual([slug, table, row]);
        });
      }
      // Acts of the agency's own were logged by their ids once; they are called by their names now.
      const inWords = (log: unknown): unknown[] => (log as Line[]).map((l) => (l.via === "act" ? { ...l, says: "" } : l));
      expect([slug, inWords(now.log)]).toEqual([slug, inWords(values.log)]);
    }
  });
});

it("the latest format is kept", () => {
  const latest = (steps: number[]): number => Math.max(...steps);
  const names = readdirSync(FORMATS);
  expect([
    latest(names.map((n) => stepsOf(kept(n, "elkhorn.db")))),
    latest(names.flatMap((n) => portalsOf(n).map((f) => stepsOf(kept(n, f))))),
  ]).toEqual([CONTROL.length, PORTAL.length]);
});
