#!/usr/bin/env node
// elkhorn COMMAND …: import, export, back up, check, publish and find addresses, for scripts and schedules. `elkhorn help` says how.

import { build, installPackages, ROOT, run } from "./prepare.mjs";

const made = `${ROOT}/.next/command-line/main.mjs`;
// Standard output is for what the command says.
console.log = console.error;
await installPackages();
await build();
process.exit(run(process.execPath, [made, ...process.argv.slice(2)], { env: { ...process.env, ELKHORN_FROM: process.cwd() } }));
