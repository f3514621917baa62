/** `tsx src/demo/main.ts PORT SCALE`, with ELKHORN_DATA set: makes the demo there. Called by scripts/demo.mjs. */
import { setFeeds } from "@/data/events/feeds";
import { makeDemo } from "./make";

// The demo has a past, which nobody is written about today.
setFeeds([]);

const [port = "3000", scale = "1"] = process.argv.slice(2);
await makeDemo(Number(port), Number(scale), (line) => console.log(`  ${line}`));
