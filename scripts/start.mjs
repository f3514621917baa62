// npm start [-- --port 3000] [--data FOLDER]: the production server, on what is in the data folder; an empty one begins with an account.

import { resolve } from "node:path";
import { parseArgs } from "node:util";
import { build, installPackages, ROOT } from "./prepare.mjs";

let values;
try {
  ({ values } = parseArgs({ options: { port: { type: "string" }, data: { type: "string" }, help: { type: "boolean" } } }));
} catch (e) {
  console.error(e.message);
  values = { help: true };
}
if (values.help) {
  console.log("npm start -- [--port 3000] [--data FOLDER]     other settings: README.md, Settings");
  process.exit(1);
}
if (values.port) process.env.ELKHORN_PORT = values.port;
process.env.ELKHORN_DATA = resolve(ROOT, values.data || process.env.ELKHORN_DATA || "data");
await installPackages();
await build();
await import("./serve.mjs");
