// npm test [-- vitest's own arguments]: unit and differential tests beside the production build, then stories in Chromium against it.
import { spawn } from "node:child_process";
import { beginInstalling, bin, build, installBrowser, ROOT } from "./prepare.mjs";

// --only unit: the unit tests alone, without a build.
const [only] = process.argv[2] === "--only" ? process.argv.splice(2, 2).slice(1) : [];
const given = process.argv.slice(2);
const vitest = (project) =>
  new Promise((done) => {
    spawn(bin("vitest"), ["run", "--project", project, ...given], { cwd: ROOT, stdio: "inherit" }).on("exit", (code) => done(code ?? 1));
  });

const { sqlite } = await beginInstalling();
const [units] = await Promise.all([sqlite.then(() => vitest("unit*")), ...(only === "unit" ? [] : [build(), installBrowser()])]);
if (only === "unit") process.exit(units);
const stories = await vitest("stories");
process.exit(units || stories);
