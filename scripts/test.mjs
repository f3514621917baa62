// npm test [-- vitest's own arguments]: unit and differential tests beside the production build, then stories in Chromium against it.
import { spawn } from "node:child_process";
import { beginInstalling, bin, build, installBrowser, ROOT } from "./prepare.mjs";

const given = process.argv.slice(2);
const vitest = (project) =>
  new Promise((done) => {
    spawn(bin("vitest"), ["run", "--project", project, ...given], { cwd: ROOT, stdio: "inherit" }).on("exit", (code) => done(code ?? 1));
  });

const { sqlite } = await beginInstalling();
const [units] = await Promise.all([sqlite.then(() => vitest("unit")), build(), installBrowser()]);
const stories = await vitest("stories");
process.exit(units || stories);
