/** `npm run bench`: one JSON line a figure. Smaller is better, but for Lighthouse. Names of parts after it run those alone. */
import { feedEvents } from "@/server/feeds";
import { benchBeside } from "./beside";
import { benchBilling } from "./billing";
import { benchBrowser } from "./browser";
import { benchConnect } from "./connect";
import { benchDesk } from "./desk";
import { benchDoor } from "./door";
import { benchExport } from "./exports";
import { benchGrowth } from "./growth";
import { benchHome } from "./home";
import { benchImport } from "./import";
import { benchMatrix } from "./matrix";
import { benchPages } from "./pages";
import { benchPolicy } from "./policy";
import { benchPortals } from "./portals";
import { benchPublish } from "./publish";
import { benchReads } from "./reads";
import { benchSources } from "./sources";

feedEvents();

const sizes = process.argv.includes("--small") ? [10_000, 100_000] : [10_000, 100_000, 1_000_000];
const PARTS: Readonly<Record<string, () => unknown>> = {
  reads: () =>
    benchReads(sizes, (w, rows) => {
      benchPolicy(w, rows);
      benchMatrix(w);
    }),
  growth: benchGrowth,
  export: benchExport,
  import: benchImport,
  desk: benchDesk,
  connect: benchConnect,
  sources: () => benchSources(100_000),
  million: () => (process.argv.includes("--small") ? undefined : benchSources(1_000_000)),
  door: benchDoor,
  portals: benchPortals,
  billing: benchBilling,
  publish: benchPublish,
  home: benchHome,
  pages: benchPages,
  beside: benchBeside,
  browser: benchBrowser,
};
const named = process.argv.slice(2).filter((a) => !a.startsWith("-"));
const unknown = named.filter((n) => !Object.hasOwn(PARTS, n));
if (unknown.length > 0) throw new Error(`There is no part ${unknown.join(", ")}; there are ${Object.keys(PARTS).join(", ")}.`);
for (const [name, part] of Object.entries(PARTS)) if (named.length === 0 || named.includes(name)) await part();
