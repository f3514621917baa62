// What every command needs: packages as the lock has them, and a production build of the sources as they are.
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";

export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), "..");

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: ROOT, stdio: "inherit", ...options });
  if (done.error) throw done.error;
  return done.status ?? 1;
}

export const NODES = [20, 22, 24, 26];
const major = Number(process.versions.node.split(".")[0]);
if (major < 20 || major % 2 === 1) {
  console.error(`Elkhorn runs on the even-numbered releases of Node from 20 on (${NODES.join(", ")}); this is ${process.version}.`);
  process.exit(1);
}

const NPM_QUIET = ["--no-audit", "--no-fund", "--loglevel=error"];

/** The stamp of an installation, and whether it is of the lock as it is, for this release of Node. */
function installed() {
  const lock = createHash("sha256")
    .update(readFileSync(join(ROOT, "package-lock.json")))
    .digest("hex");
  const wanted = `${lock} ${major}`;
  const stamp = join(ROOT, "node_modules", ".elkhorn-lock");
  return { is: existsSync(stamp) && readFileSync(stamp, "utf8") === wanted, keep: () => writeFileSync(stamp, wanted) };
}

/**
 * Installs exactly what the lock says, once for each state of the lock. SQLite comes compiled in its package, except for Node 20: there
 * it is compiled, which takes a minute, beside whatever needs no database. `sqlite` is fulfilled when it is there.
 */
export async function beginInstalling() {
  const { is, keep } = installed();
  if (is) return { sqlite: Promise.resolve() };
  console.log("Installing packages…");
  const { status, output } = await told("npm", ["ci", "--ignore-scripts", ...NPM_QUIET]);
  if (status !== 0) {
    console.error(`${output}\nInstalling packages failed (exit code ${status}). The lines above say why.`);
    process.exit(status);
  }
  if (major !== 20) {
    keep();
    return { sqlite: Promise.resolve() };
  }
  const compiling = told("npm", ["rebuild", "better-sqlite3", ...NPM_QUIET]).then(({ status, output }) => {
    if (status === 0) return keep();
    console.error(`${output}\nCompiling SQLite failed (exit code ${status}). The lines above say why.`);
    process.exit(status);
  });
  return { sqlite: compiling };
}

export async function installPackages() {
  await (await beginInstalling()).sqlite;
}

/** Runs beside others; what it says is kept until it ends, so that lines do not mix. */
export function told(command, args, env = process.env) {
  return new Promise((done, fail) => {
    const child = spawn(command, args, { cwd: ROOT, env, stdio: ["ignore", "pipe", "pipe"] });
    let output = "";
    for (const stream of [child.stdout, child.stderr]) stream.setEncoding("utf8").on("data", (text) => (output += text));
    child.on("error", fail);
    child.on("close", (status) => done({ status: status ?? 1, output }));
  });
}

function* files(folder) {
  for (const e of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, e.name);
    if (e.isDirectory()) yield* files(path);
    else if (!e.name.endsWith(".test.ts")) yield path;
  }
}

/** Builds for production unless the build there is of these very sources. It needs no database, so it may run while SQLite is compiled. */
export async function build() {
  const hash = createHash("sha256");
  for (const f of [...files(join(ROOT, "src"))].sort()) hash.update(f.slice(ROOT.length)).update(readFileSync(f));
  for (const f of ["scripts/bundle.mjs", "package-lock.json", "next.config.ts", "tsconfig.json", "postcss.config.mjs"])
    hash.update(readFileSync(join(ROOT, f)));
  const wanted = hash.digest("hex");
  const stamp = join(ROOT, process.env.ELKHORN_BENCH === "1" ? ".next-bench" : ".next", "elkhorn-build");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  console.log("Building…");
  const { status, output } = await told(process.execPath, [NEXT, "build"], {
    ...process.env,
    NEXT_TELEMETRY_DISABLED: "1",
    ELKHORN_TYPES: "checked",
  });
  if (status !== 0) {
    console.error(`${output}\nThe build failed (exit code ${status}). The lines above say why.`);
    process.exit(status);
  }
  // Loaded only here: the packages may have been installed a moment ago.
  const { bundle } = await import("./bundle.mjs");
  await bundle(["src/server/threads/worker.ts"], join(dirname(stamp), "threads"), { whole: true });
  await bundle(["src/command-line/main.ts"], join(dirname(stamp), "command-line"), { lazy: true });
  writeFileSync(stamp, wanted);
}

/**
 * Chromium, its shell without windows (half the work for a processor) and its driver, and servers for stories about other systems
 * (PostgreSQL, MariaDB, contacts and calendars), from Debian's packages, where they are missing.
 */
export async function installBrowser() {
  const there = (path) => existsSync(`/usr/${path}`);
  const browser = ["bin/chromium", "lib/chromium/chromium-headless-shell", "bin/chromedriver"].every(there);
  const packages = [
    ...(browser ? [] : ["chromium", "chromium-headless-shell", "chromium-driver"]),
    ...(there("lib/postgresql") ? [] : ["postgresql"]),
    // Its first tables are made by a program that is among those of the client.
    ...(there("sbin/mariadbd") && there("bin/my_print_defaults") ? [] : ["mariadb-server-core", "mariadb-client-core"]),
    ...(there("bin/radicale") ? [] : ["radicale"]),
  ];
  if (packages.length === 0) return;
  console.log(`Installing ${packages.join(", ")} from Debian's packages…`);
  const sudo = process.getuid?.() === 0 ? [] : ["sudo"];
  for (const args of [
    ["update", "-q"],
    ["install", "-y", "-q", "--no-install-recommends", ...packages],
  ]) {
    const [command, ...rest] = [...sudo, "apt-get", ...args];
    const { status, output } = await told(command, rest, { ...process.env, DEBIAN_FRONTEND: "noninteractive" });
    if (status === 0) continue;
    console.error(`${output}\nInstalling them failed (exit code ${status}). The lines above say why.`);
    process.exit(status);
  }
}

export const NEXT = join(ROOT, "node_modules/next/dist/bin/next");
export const bin = (name) => join(ROOT, "node_modules", ".bin", name);
export const isFile = (path) => existsSync(path) && statSync(path).isFile();
