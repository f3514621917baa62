// What every command needs: packages as the lock has them, and a production build of the sources as they are.
import { spawnSync } from "node:child_process";
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

/** Installs exactly what the lock says, once for each state of the lock. */
export function installPackages() {
  const lock = createHash("sha256")
    .update(readFileSync(join(ROOT, "package-lock.json")))
    .digest("hex");
  const stamp = join(ROOT, "node_modules", ".elkhorn-lock");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === lock) return false;
  console.log("Installing packages…");
  must("Installing packages", "npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"]);
  writeFileSync(stamp, lock);
  return true;
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
