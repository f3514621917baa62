// npm run test:one FILE... | NAME [--at MOMENT]: the test files so called, or the tests whose name has these words, alone.

import { bin, build, installBrowser, installPackages, ROOT, run } from "./prepare.mjs";
import { chooseTests, readAt, testFiles } from "./testing/choose-tests.mjs";
import { clockAt, MOMENTS } from "./testing/clock.mjs";

const given = process.argv.slice(2);
const at = given.indexOf("--at");
const [, moment] = at < 0 ? [] : given.splice(at, 2);
if (given.length === 0) {
  console.log(
    `npm run test:one FILE... | NAME [-- --at MOMENT]\n  FILE    a part of a test file's path, such as tests/plans\n  NAME    a part of a test's name\n  MOMENT  ISO 8601, or one of: ${Object.keys(MOMENTS).join(", ")}`,
  );
  process.exit(1);
}
const { files, name } = chooseTests(given, testFiles(ROOT), readAt(ROOT));
if (files.length === 0) {
  console.error(`No test file or test is called "${given.join(" ")}". Name a part of a file's path, or of a test's name.`);
  process.exit(1);
}
const env = { ...(moment ? clockAt(moment) : process.env), ELKHORN_NAMED: "1" };
await installPackages();
if (files.some((f) => f.startsWith("tests"))) await Promise.all([build(), installBrowser()]);
const only = name === null ? [] : ["-t", name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")];
process.exit(run(bin("vitest"), ["run", ...only, ...files], { env }));
