/** The sizes of the house: files that can be read in one go, and folders whose list can be looked over. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";

const ROOT = join(import.meta.dirname, "../..");
const MOST_LINES = 300;
const MOST_FILES = 25;
/** A catalogue of words and the list of system tables: read by looking one thing up. */
const LISTS = ["src/core/words/english.ts", "src/data/file/portal-tables.ts"];

const here = ["src", "scripts", "bench"].flatMap((top) =>
  readdirSync(join(ROOT, top), { recursive: true, withFileTypes: true }).map((entry) => ({
    folder: entry.parentPath.slice(ROOT.length + 1),
    name: entry.name,
    isFile: entry.isFile(),
  })),
);

it(`no file of code has over ${MOST_LINES} lines`, () => {
  const files = here.filter((x) => x.isFile && /\.(?:tsx?|mjs)$/.test(x.name) && !/\.test\.tsx?$/.test(x.name));
  const long = files.flatMap(({ folder, name }) => {
    const path = `${folder}/${name}`;
    const lines = readFileSync(join(ROOT, path), "utf8").split("\n").length - 1;
    return lines > MOST_LINES && !LISTS.includes(path) ? [`${path}: ${lines}`] : [];
  });
  expect(long).toEqual([]);
  expect(files.length).toBeGreaterThan(500);
});

it(`no folder has over ${MOST_FILES} files`, () => {
  const counts = new Map<string, number>();
  for (const { folder, isFile } of here) if (isFile) counts.set(folder, (counts.get(folder) ?? 0) + 1);
  expect([...counts].filter(([, n]) => n > MOST_FILES)).toEqual([]);
});
