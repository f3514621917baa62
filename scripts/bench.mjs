// npm run bench: one JSON line a figure, as ratios taken in one run. Bundled first, so that what runs is what production runs.

import { join } from "node:path";
import { build, installPackages, ROOT, run } from "./prepare.mjs";

process.env.ELKHORN_BENCH = "1";
await installPackages();
if (!process.env.ELKHORN_BENCH_BUILT) await build();
const { bundle } = await import("./bundle.mjs");
await bundle(["bench/main.ts"], join(ROOT, ".tmp", "bench"));
process.exit(run(process.execPath, [join(ROOT, ".tmp", "bench", "main.mjs"), ...process.argv.slice(2)]));
