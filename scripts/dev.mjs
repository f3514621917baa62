// npm run dev: Next's development server on the demo's data (npm run demo makes it).
import { resolve } from "node:path";
import { installPackages, NEXT, ROOT, run } from "./prepare.mjs";

await installPackages();
process.exit(
  run(process.execPath, [NEXT, "dev", "-H", "localhost"], {
    env: { ELKHORN_DATA: resolve(ROOT, ".demo-data"), ...process.env },
  }),
);
