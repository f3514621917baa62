// npm run check: lint, types, layers, unused code. All of them run, so that one look shows everything.
import { existsSync } from "node:fs";
import { join } from "node:path";
import { beginInstalling, bin, build, installBrowser, ROOT, run, told } from "./prepare.mjs";

// On a clean checkout what the tests need is made meanwhile: npm, and the compiler of SQLite, keep one processor alone busy.
const ahead = process.env.ELKHORN_AHEAD === "1";
const browser = ahead ? installBrowser() : undefined;
const { sqlite } = await beginInstalling();
const steps = [
  ["lint and format", "biome", ["ci", "--error-on-warnings", "."]],
  ["types", "tsc", ["--noEmit", "-p", "."]],
  ["layers", "depcruise", ["--config", ".dependency-cruiser.cjs", "src"]],
  ["unused code", "knip", []],
];
// Types of routes are generated; a fresh clone has none yet.
if (!existsSync(join(ROOT, "next-env.d.ts"))) run(bin("next"), ["typegen"], { stdio: ["ignore", "ignore", "inherit"] });
const looking = steps.map(([, command, args]) => told(bin(command), args));
// The build writes types of routes anew, so it waits for those who read them.
const building = ahead ? looking[1].then(build) : undefined;
const ended = await Promise.all(looking);
for (const [i, { output }] of ended.entries()) console.log(`\n== ${steps[i][0]}\n${output.trimEnd()}`);
const failed = steps.filter((_, i) => ended[i].status !== 0);
await Promise.all([sqlite, browser, building]);
console.log(
  failed.length === 0
    ? "\nChecks: all passed (lint and format, types, layers, unused code)"
    : `\nChecks failed: ${failed.map(([name]) => name).join(", ")}`,
);
process.exit(failed.length === 0 ? 0 : 1);
