// npm run dev: Next's development server on the demo's data (npm run demo makes it).
import { join, resolve } from "node:path";
import { installPackages, ROOT, run } from "./prepare.mjs";

await installPackages();
process.exit(
  run(process.execPath, [join(ROOT, "node_modules/next/dist/bin/next"), "dev", "-H", "localhost"], {
    env: { ELKHORN_DATA: resolve(ROOT, ".demo-data"), ...process.env },
  }),
);
