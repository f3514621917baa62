/** `npm run bench`: one JSON line a figure. Smaller is better. */
import { benchDesk } from "./desk";
import { benchDoor } from "./door";
import { benchExport } from "./exports";
import { benchGrowth } from "./growth";
import { benchImport } from "./import";
import { benchMatrix } from "./matrix";
import { benchPages } from "./pages";
import { benchPolicy } from "./policy";
import { benchPortals } from "./portals";
import { benchReads } from "./reads";

const sizes = process.argv.includes("--small") ? [10_000, 100_000] : [10_000, 100_000, 1_000_000];
benchReads(sizes, (w, rows) => {
  benchPolicy(w, rows);
  benchMatrix(w);
});
benchGrowth();
await benchExport();
await benchImport();
await benchDesk();
await benchDoor();
await benchPortals();
await benchPages();
