// npm test [-- vitest's own arguments]: unit and differential tests, then stories in Chromium against a production build.
import { bin, build, installBrowser, installPackages, run } from "./prepare.mjs";

installPackages();
installBrowser();
build();
process.exit(run(bin("vitest"), ["run", ...process.argv.slice(2)]));
