// npm run test:node -- 24: the checks, the unit tests and one story under another release of Node, whose binary comes from the registry.
import { spawnSync } from "node:child_process";
import { cpSync, existsSync, mkdirSync, readdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import { NODES, ROOT } from "./prepare.mjs";

const wanted = Number(process.argv[2]);
if (!NODES.includes(wanted)) {
  console.log(`npm run test:node -- ${NODES.join(" | ")}`);
  process.exit(1);
}
const run = (command, args, options = {}) => {
  const done = spawnSync(command, args, { stdio: "inherit", ...options });
  if (done.error) throw done.error;
  return done.status ?? 1;
};
const must = (...of) => {
  const status = run(...of);
  if (status !== 0) process.exit(status);
};

// The registry's package of that release holds the binary; npm and npx are those at hand, run by it.
const home = join(ROOT, ".tmp", `node-${wanted}`);
const name = `node-${process.platform}-${process.arch}`;
const folder = join(home, "node_modules", name);
if (!existsSync(join(folder, "bin", "node"))) {
  mkdirSync(home, { recursive: true });
  must("npm", ["install", "--prefix", home, "--no-audit", "--no-fund", "--no-save", "--loglevel=error", `${name}@${wanted}`]);
}
// A copy of the sources, so that packages and builds for one release are nothing to another.
const copy = join(ROOT, ".tmp", `tree-${wanted}`);
const KEPT = new Set(["node_modules", ".next"]);
mkdirSync(copy, { recursive: true });
for (const entry of readdirSync(copy)) if (!KEPT.has(entry)) rmSync(join(copy, entry), { recursive: true });
const LEFT_OUT = new Set([".git", ".tmp", "node_modules", ".next", ".next-bench", ".demo-data", "data", "tsconfig.tsbuildinfo"]);
for (const entry of readdirSync(ROOT)) if (!LEFT_OUT.has(entry)) cpSync(join(ROOT, entry), join(copy, entry), { recursive: true });

const env = { ...process.env, PATH: `${join(folder, "bin")}:${process.env.PATH}`, npm_config_nodedir: folder };
const under = (script, ...args) => run(join(folder, "bin", "node"), [join("scripts", script), ...args], { cwd: copy, env });
const version = spawnSync(join(folder, "bin", "node"), ["--version"], { encoding: "utf8" }).stdout.trim();
console.log(`Under Node ${version}`);
const checks = under("check.mjs");
const units = under("test.mjs", "--only", "unit");
const story = under("test-one.mjs", "lists search, sort, filter and page, all in the address");
console.log(`Node ${version}: checks exit ${checks}, units exit ${units}, a story exit ${story}`);
process.exit(checks || units || story);
