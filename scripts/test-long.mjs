// npm run test:long: every unit test, with all cases of the random ones, the stories that npm test leaves out, and what knows dates at every moment. Takes a quarter of an hour.

import { bin, build, installBrowser, installPackages, run } from "./prepare.mjs";
import { clockAt, DATED, MOMENTS } from "./testing/clock.mjs";

const env = { ...process.env, ELKHORN_LONG: "1" };
const vitest = (project) => run(bin("vitest"), ["run", "--project", project, ...process.argv.slice(2)], { env });

await installPackages();
const units = vitest("unit*");
await Promise.all([build(), installBrowser()]);
const stories = vitest("stories");
const dated = Object.keys(MOMENTS).map((name) => {
  console.log(`\nTests that know dates: ${name}`);
  return run(bin("vitest"), ["run", "--project", "unit*", ...DATED], { env: clockAt(name) });
});
process.exit(stories || units || Math.max(...dated));
