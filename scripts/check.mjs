// npm run check: lint, types, layers, unused code. All of them run, so that one look shows everything.
import { existsSync } from "node:fs";
import { join } from "node:path";
import { bin, installPackages, ROOT, run } from "./prepare.mjs";

installPackages();
const steps = [
  ["lint", "biome", ["lint", "--error-on-warnings", "."]],
  ["types", "tsc", ["--noEmit", "-p", "."]],
  ["layers", "depcruise", ["--config", ".dependency-cruiser.cjs", "src"]],
  ["unused code", "knip", []],
];
// Types of routes are generated; a fresh clone has none yet.
if (!existsSync(join(ROOT, "next-env.d.ts"))) run(bin("next"), ["typegen"], { stdio: ["ignore", "ignore", "inherit"] });
const failed = steps.filter(([name, command, args]) => {
  console.log(`\n== ${name}`);
  return run(bin(command), args) !== 0;
});
console.log(
  failed.length === 0
    ? "\nChecks: all passed (lint, types, layers, unused code)"
    : `\nChecks failed: ${failed.map(([name]) => name).join(", ")}`,
);
process.exit(failed.length === 0 ? 0 : 1);
