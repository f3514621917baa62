// npm run bench: one JSON line a figure, as ratios taken in one run. Bundled first, so that what runs is what production runs.

import { join } from "node:path";
import { build as bundle } from "esbuild";
import { build, installPackages, ROOT, run } from "./prepare.mjs";

process.env.ELKHORN_BENCH = "1";
await installPackages();
await build();
const outfile = join(ROOT, ".tmp", "bench.mjs");
await bundle({
  entryPoints: [join(ROOT, "bench/main.ts")],
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  packages: "external",
  alias: { "@": join(ROOT, "src") },
  outfile,
  logLevel: "error",
});
process.exit(run(process.execPath, [outfile, ...process.argv.slice(2)]));
