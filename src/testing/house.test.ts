/** The sizes of the house: files that can be read in one go, and folders whose list can be looked over. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { expect, it } from "vitest";

const ROOT = join(import.meta.dirname, "../..");
const MOST_LINES = 300;
const MOST_IN_ONE = 80;
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

/** Functions of a file with their lines, whatever they stand in. */
function functionsIn(path: string): { name: string; lines: number }[] {
  const text = readFileSync(join(ROOT, path), "utf8");
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, false, path.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS);
  const line = (at: number): number => file.getLineAndCharacterOfPosition(at).line;
  const found: { name: string; lines: number }[] = [];
  const look = (node: ts.Node): void => {
    if (ts.isFunctionLike(node) && "body" in node && node.body) {
      const name = node.name && ts.isIdentifier(node.name) ? node.name.text : "a function without a name";
      found.push({ name, lines: line(node.end) - line(node.getStart(file)) + 1 });
    }
    ts.forEachChild(node, look);
  };
  look(file);
  return found;
}

// What the demo is made of is listed in a few functions, which are looked up rather than read.
it(`no function has over ${MOST_IN_ONE} lines, the demo's lists aside`, { timeout: 60_000 }, () => {
  const files = here.filter(
    (x) =>
      x.isFile && /\.tsx?$/.test(x.name) && !/\.test\.tsx?$/.test(x.name) && x.folder.startsWith("src") && !x.folder.startsWith("src/demo"),
  );
  const all = files.flatMap(({ folder, name }) => functionsIn(`${folder}/${name}`).map((f) => ({ ...f, path: `${folder}/${name}` })));
  expect(all.filter((f) => f.lines > MOST_IN_ONE).map((f) => `${f.path} ${f.name}: ${f.lines}`)).toEqual([]);
  expect(all.length).toBeGreaterThan(5_000);
});

// Steps of a migration stay as they were when they were released.
it("names in SQL are quoted in one place", () => {
  const files = here.filter(
    (x) => x.isFile && /\.ts$/.test(x.name) && !/\.test\.ts$/.test(x.name) && /^src\/(?!data\/file\/steps)/.test(x.folder),
  );
  const QUOTED = /\b(?:SELECT|FROM|INTO|UPDATE|TABLE|INDEX|JOIN|EXISTS|COLUMN|WHERE|SET|ON|BY|AND|TO) (?:[a-z]+\.)?"\$\{/;
  const own = files.flatMap(({ folder, name }) =>
    readFileSync(join(ROOT, folder, name), "utf8")
      .split("\n")
      .flatMap((l, i) => (QUOTED.test(l) ? [`${folder}/${name}:${i + 1}`] : [])),
  );
  expect(own).toEqual([]);
  expect(QUOTED.test('UPDATE "$' + '{table}" SET x = 1')).toBe(true);
});
