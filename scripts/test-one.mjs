// npm run test:one NAME: the unit test or story whose name has these words, alone.
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { bin, build, installBrowser, installPackages, ROOT, run } from "./prepare.mjs";

const words = process.argv.slice(2).join(" ");
if (!words) {
  console.log("npm run test:one NAME, where NAME is a part of a test's name");
  process.exit(1);
}
const files = ["src", "tests"].flatMap((folder) =>
  readdirSync(join(ROOT, folder), { recursive: true })
    .filter((f) => f.endsWith(".test.ts"))
    .map((f) => join(folder, f)),
);
// A name may be made of parts, so a file counts where it has the first words; where none has, all are asked.
const having = files.filter((f) => readFileSync(join(ROOT, f), "utf8").includes(words));
const chosen = having.length > 0 ? having : files;
await installPackages();
if (chosen.some((f) => f.startsWith("tests"))) await Promise.all([build(), installBrowser()]);
process.exit(run(bin("vitest"), ["run", "-t", words.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"), ...chosen]));
