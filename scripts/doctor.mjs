// npm run doctor [-- --data FOLDER] [--mail ADDRESS]: says what is missing or wrong; with --mail, a message is sent there.

import { resolve } from "node:path";
import { parseArgs } from "node:util";
import { bin, installPackages, ROOT, run } from "./prepare.mjs";

const { values } = parseArgs({ options: { data: { type: "string" }, mail: { type: "string" } } });
await installPackages();
const env = { ...process.env, ELKHORN_DATA: resolve(ROOT, values.data || process.env.ELKHORN_DATA || "data") };
process.exit(run(bin("tsx"), ["src/server/doctor.ts", ...(values.mail ? [values.mail] : [])], { env }));
