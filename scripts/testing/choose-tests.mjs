// Which test files somebody means who names a file or a part of a test's name.
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";

/** The words of a name that is made of parts, such as `it(`${n} rows of a table`)`: those that stand still. */
const STILL = 8;

/** All test files under `root`, by path from there. */
export function testFiles(root) {
  return ["src", "tests"].flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true })
      .filter((f) => f.endsWith(".test.ts"))
      .map((f) => join(folder, f))
      .sort(),
  );
}

/**
 * `given`: what was typed after the command. Returns `{ files, name }`: the files to run, and the part of a test's name, or none where all
 * tests of the files are meant. Files are none where nothing is called so.
 */
export function chooseTests(given, files, read) {
  const named = given.map((g) => files.filter((f) => f.includes(g.replace(/^\.\//, ""))));
  if (given.length > 0 && named.every((found) => found.length > 0)) return { files: [...new Set(named.flat())], name: null };
  // A name as the runner prints it begins with its file and its groups.
  const name = given.join(" ").split(" > ").at(-1).trim();
  if (name === "") return { files: [], name };
  const having = files.filter((f) => {
    const text = read(f);
    if (text.includes(name)) return true;
    const made = text.matchAll(/\b(?:it|test|describe)(?:\.\w+)*\(\s*`((?:[^`\\]|\\.)*)`/g);
    return [...made].some(([, words]) =>
      words.split(/\$\{[^}]*\}/).some((part) => part.trim().length >= STILL && name.includes(part.trim())),
    );
  });
  return { files: having, name };
}

export const readAt = (root) => (f) => readFileSync(join(root, f), "utf8");
