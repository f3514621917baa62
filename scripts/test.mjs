// npm test [-- vitest's own arguments]: unit and differential tests beside the production build, then stories in Chromium against it.
// --at MOMENT: all of it with another clock (scripts/testing/clock.mjs).
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beginInstalling, bin, build, installBrowser, ROOT } from "./prepare.mjs";
import { clockAt, SHORT, SHORTLY } from "./testing/clock.mjs";

// --only unit: the unit tests alone, without a build.
const [only] = process.argv[2] === "--only" ? process.argv.splice(2, 2).slice(1) : [];
const at = process.argv.indexOf("--at");
const [, moment] = at < 0 ? [] : process.argv.splice(at, 2);
const given = process.argv.slice(2);
const kept = mkdtempSync(join(tmpdir(), "elkhorn-failed-"));
const failed = join(kept, "list.txt");
writeFileSync(failed, "");
const env = { ...(moment ? clockAt(moment) : process.env), ELKHORN_FAILED: failed };
// One for all that follows, so that what fails can be had once more.
env.ELKHORN_SEED ??= String(Date.now() % 1_000_000_007);
console.log(`What is random begins with ELKHORN_SEED=${env.ELKHORN_SEED}`);
const reporters = given.some((a) => a.startsWith("--reporter"))
  ? []
  : ["--reporter=default", "--reporter=./scripts/testing/closing-line.mjs"];
const vitest = (project, at = env, files = []) =>
  new Promise((done) => {
    spawn(bin("vitest"), ["run", "--project", project, ...reporters, ...given, ...files], { cwd: ROOT, env: at, stdio: "inherit" }).on(
      "exit",
      (code) => done(code ?? 1),
    );
  });

/** All of them now, then at two more moments those that know dates, where nothing else was asked. */
async function allUnits() {
  let code = await vitest("unit*");
  for (const name of moment || given.length > 0 ? [] : SHORT) {
    console.log(`\nTests that know dates: ${name}`);
    code = (await vitest("unit*", clockAt(name, env), SHORTLY)) || code;
  }
  return code;
}

/** Ends, and says once more what failed: the units' failures have scrolled away by then. */
function end(code) {
  const list = readFileSync(failed, "utf8");
  rmSync(kept, { recursive: true });
  if (list !== "") console.log(`\nFailed:\n${list}`);
  process.exit(code);
}

const { sqlite } = await beginInstalling();
const [units] = await Promise.all([sqlite.then(allUnits), ...(only === "unit" ? [] : [build(), installBrowser()])]);
if (only === "unit") end(units);
const stories = await vitest("stories");
end(units || stories);
