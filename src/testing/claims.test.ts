/** What the pages on standards say is held by a test: the file is there, and the words of the test stand in it. */
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";

const ROOT = join(import.meta.dirname, "../..");
const DOCS = readdirSync(join(ROOT, "docs")).filter((x) => x.startsWith("asvs-"));

/** Paths are told from `src/` or from the root; `I` is `src/identity`. */
function found(path: string): string | undefined {
  const told = path.replace(/^I\//, "identity/");
  return [join(ROOT, "src", told), join(ROOT, told)].find((x) => existsSync(x));
}
const isPath = (text: string): boolean => /^[\w.-]+\/|\.(?:ts|tsx|mjs)$/.test(text);
const holds = (file: string, words: string): boolean =>
  statSync(file).isFile() && words.split(" ... ").every((part) => readFileSync(file, "utf8").replaceAll("\\", "").includes(part));

it.each(DOCS)("%s", (name) => {
  const wrong: string[] = [];
  let lines = 0;
  // "The same" is what the line before names.
  let last: string | undefined;
  for (const line of readFileSync(join(ROOT, "docs", name), "utf8").split("\n")) {
    const cells = line.split("|").map((c) => c.trim());
    if (cells.length < 5 || /^-+$/.test(cells[1]!)) continue;
    lines++;
    for (const [, path, words] of cells.at(-2)!.matchAll(/`([^`]+)`|"([^"]+)"/g)) {
      if (path !== undefined && isPath(path)) {
        last = found(path);
        if (!last) wrong.push(`${cells[1]}: there is no ${path}`);
      } else if (words !== undefined && !(last && holds(last, words))) wrong.push(`${cells[1]}: “${words}” stands in no test of its file`);
    }
  }
  expect(wrong).toEqual([]);
  expect(lines).toBeGreaterThan(5);
});
