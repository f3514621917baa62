// What every command needs: packages as the lock has them, and a production build of the sources as they are.
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";

export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), "..");

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: ROOT, stdio: "inherit", ...options });
  if (done.error) throw done.error;
  return done.status ?? 1;
}

function must(what, command, args, options) {
  const status = run(command, args, options);
  if (status !== 0) {
    console.error(`\n${what} failed (exit code ${status}). The lines above say why.`);
    process.exit(status);
  }
}

const major = Number(process.versions.node.split(".")[0]);
if (major !== 20) {
  console.error(`Elkhorn runs on Node 20; this is ${process.version}.`);
  process.exit(1);
}

const NPM_QUIET = ["--no-audit", "--no-fund", "--loglevel=error"];

/** The stamp of an installation, and whether it is of the lock as it is. */
function installed() {
  const lock = createHash("sha256")
    .update(readFileSync(join(ROOT, "package-lock.json")))
    .digest("hex");
  const stamp = join(ROOT, "node_modules", ".elkhorn-lock");
  return { is: existsSync(stamp) && readFileSync(stamp, "utf8") === lock, keep: () => writeFileSync(stamp, lock) };
}

/** Installs exactly what the lock says, once for each state of the lock. */
export function installPackages() {
  const { is, keep } = installed();
  if (is) return;
  console.log("Installing packages…");
  must("Installing packages", "npm", ["ci", ...NPM_QUIET]);
  keep();
}

/**
 * The same for those who need no compiled package yet: SQLite, which takes minutes where no ready one can be had, is compiled beside
 * what they do. They wait for the promise before they end; only then is the installation whole.
 */
export function installPackagesBeside() {
  const { is, keep } = installed();
  if (is) return Promise.resolve();
  console.log("Installing packages…");
  must("Installing packages", "npm", ["ci", "--ignore-scripts", ...NPM_QUIET]);
  return told("npm", ["rebuild", "better-sqlite3", ...NPM_QUIET]).then(({ status, output }) => {
    if (status === 0) return keep();
    console.error(`${output}\nCompiling SQLite failed (exit code ${status}). The lines above say why.`);
    process.exit(status);
  });
}

/** Runs beside others; what it says is kept until it ends, so that lines do not mix. */
export function told(command, args) {
  return new Promise((done, fail) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: ["ignore", "pipe", "pipe"] });
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

/** Builds for production unless the build there is of these very sources. */
export function build() {
  const hash = createHash("sha256");
  for (const f of [...files(join(ROOT, "src"))].sort()) hash.update(f.slice(ROOT.length)).update(readFileSync(f));
  for (const f of ["package-lock.json", "next.config.ts", "tsconfig.json", "postcss.config.mjs"]) hash.update(readFileSync(join(ROOT, f)));
  const wanted = hash.digest("hex");
  const stamp = join(ROOT, ".next", "elkhorn-build");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return false;
  console.log("Building…");
  must("The build", process.execPath, [join(ROOT, "node_modules/next/dist/bin/next"), "build"], {
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" },
  });
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, wanted);
  return true;
}

/** Chromium and its driver from Debian's packages, where they are missing. */
export function installBrowser() {
  if (existsSync("/usr/bin/chromium") && existsSync("/usr/bin/chromedriver")) return;
  console.log("Installing Chromium and ChromeDriver from Debian's packages…");
  const sudo = process.getuid?.() === 0 ? [] : ["sudo"];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, "apt-get", ...args];
    must("Installing the browser", command, rest, {
      env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
      stdio: ["ignore", "ignore", "inherit"],
    });
  };
  apt("update", "-q");
  apt("install", "-y", "-q", "--no-install-recommends", "chromium", "chromium-driver");
}

export const bin = (name) => join(ROOT, "node_modules", ".bin", name);
export const isFile = (path) => existsSync(path) && statSync(path).isFile();
