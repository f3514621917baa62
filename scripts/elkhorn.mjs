#!/usr/bin/env node
// elkhorn COMMAND …: import, export, back up, check, publish and find addresses, for scripts and schedules. `elkhorn help` says how.

import { bin, installPackages, ROOT, run } from "./prepare.mjs";

await installPackages();
const env = { ...process.env, ELKHORN_FROM: process.cwd() };
process.exit(run(bin("tsx"), [`${ROOT}/src/command-line/main.ts`, ...process.argv.slice(2)], { env }));
