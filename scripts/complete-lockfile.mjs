// After a change of dependencies: adds lock entries for optional packages of other platforms that the registry at hand does
// not carry, without which `npm ci` refuses the lock. Nothing is installed for them here; their names say which platform.
import { readFileSync, writeFileSync } from "node:fs";

const SYSTEMS = ["darwin", "win32", "linux", "freebsd", "openbsd", "netbsd", "android", "sunos", "aix", "openharmony"];
const PROCESSORS = ["arm64", "x64", "ia32", "arm", "riscv64", "ppc64", "s390x", "loong64", "mips64el", "wasm32"];
const path = process.argv[2] ?? "package-lock.json";
const lock = JSON.parse(readFileSync(path, "utf8"));
const { packages } = lock;

/** Where `name` would be found from a package, walking up as Node does. */
function resolves(from, name) {
  for (let at = from; ; ) {
    const key = `${at ? `${at}/` : ""}node_modules/${name}`;
    if (packages[key]) return true;
    if (!at) return false;
    const up = at.lastIndexOf("/node_modules/");
    at = up < 0 ? "" : at.slice(0, up);
  }
}

let added = 0;
for (const [from, entry] of Object.entries(packages)) {
  for (const [name, range] of Object.entries(entry.optionalDependencies ?? {})) {
    if (resolves(from, name)) continue;
    const words = name.split("/").pop().split(/[-_]/);
    const os = SYSTEMS.filter((s) => words.includes(s) || (s === "win32" && words.includes("windows")));
    const cpu = PROCESSORS.filter((p) => words.includes(p));
    packages[`node_modules/${name}`] = {
      version: range.replace(/^[~^]/, ""),
      ...(cpu.length ? { cpu } : {}),
      ...(entry.dev ? { dev: true } : {}),
      optional: true,
      ...(os.length ? { os } : {}),
      ...(words.includes("musl") ? { libc: ["musl"] } : {}),
    };
    added++;
  }
}
const [root, ...rest] = Object.entries(packages);
lock.packages = Object.fromEntries([root, ...rest.sort(([a], [b]) => a.localeCompare(b, "en"))]);
writeFileSync(path, `${JSON.stringify(lock, null, 2)}\n`);
console.log(`${added} entries added`);
