/** `npm run bench`: one JSON line a figure. Smaller is better. */
import { benchImport } from "./import";
import { benchPages } from "./pages";
import { benchReads } from "./reads";

const sizes = process.argv.includes("--small") ? [10_000, 100_000] : [10_000, 100_000, 1_000_000];
benchReads(sizes);
await benchImport();
await benchPages();
