/** `tsx src/demo/main.ts PORT SCALE`, with ELKHORN_DATA set: makes the demo there. Called by scripts/demo.mjs. */
import { makeDemo } from "./make";

const [port = "3000", scale = "1"] = process.argv.slice(2);
await makeDemo(Number(port), Number(scale), (line) => console.log(`  ${line}`));
