// TypeScript of the project as plain modules, for what runs outside Next: a thread, a process of a test, the bench.
import { join } from "node:path";
import { build } from "esbuild";

const ROOT = join(import.meta.dirname, "..");

// What packages of the older kind ask for by name has to be had in a module, too.
const REQUIRE = 'import { createRequire as elkhornRequire } from "node:module"; const require = elkhornRequire(import.meta.url);';

// Next names its parts without their endings, which Node asks for in modules.
const NEXT = Object.fromEntries(["cache", "dynamic", "headers", "link", "navigation"].map((n) => [`next/${n}`, `next/${n}.js`]));

/**
 * @param {string[]} entries from the project's root
 * @param {string} outdir where packages are found upwards: all of them or, with `whole`, SQLite alone (a thread begins three times as fast); with
 *   `lazy`, what is imported when it is needed is a file of its own
 */
export const bundle = (entries, outdir, { whole = false, lazy = false } = {}) =>
  build({
    entryPoints: entries.map((e) => join(ROOT, e)),
    outdir,
    outExtension: { ".js": ".mjs" },
    bundle: true,
    platform: "node",
    format: "esm",
    splitting: lazy,
    target: "node20",
    ...(whole ? { external: ["better-sqlite3*"], banner: { js: REQUIRE } } : { packages: "external" }),
    alias: { "@": join(ROOT, "src"), ...NEXT },
    logLevel: "error",
  });
