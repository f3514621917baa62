// npm run test:long: every unit test, with all cases of the random ones. Takes minutes; what `npm test` does a fifth of.
import { bin, installPackages, run } from "./prepare.mjs";

await installPackages();
process.exit(run(bin("vitest"), ["run", "--project", "unit*", ...process.argv.slice(2)], { env: { ...process.env, ELKHORN_LONG: "1" } }));
