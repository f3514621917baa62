// npm run test:long: every unit test, with all cases of the random ones, and the stories that npm test leaves out. Takes a quarter of an hour.
import { bin, build, installBrowser, installPackages, run } from "./prepare.mjs";

const env = { ...process.env, ELKHORN_LONG: "1" };
const vitest = (project) => run(bin("vitest"), ["run", "--project", project, ...process.argv.slice(2)], { env });

await installPackages();
const units = vitest("unit*");
await Promise.all([build(), installBrowser()]);
process.exit(vitest("stories") || units);
