/** `npx tsx src/testing/keep-format.ts NAME` keeps an installation of this version's format, the demo's smaller portal, for later ones to open. */
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";

const [name] = process.argv.slice(2);
if (!name || !/^[a-z0-9-]+$/.test(name)) throw new Error("Name the format by what came with it, such as event-kinds.");
const folder = mkdtempSync(join(tmpdir(), "elkhorn-format-"));
process.env.ELKHORN_DATA = folder;

const { setFeeds } = await import("../data/events/feeds");
const { makeDemo } = await import("../demo/make");
const { closeFiles, control, portalFile } = await import("../data/file/open");
const { controlValues, installationValues } = await import("./formats");

setFeeds([]);
await makeDemo(3000, 1, () => {});
const { id } = portalFile("library")!;
control().db.prepare("DELETE FROM portals WHERE slug <> 'library'").run();
const values = installationValues();
const own = controlValues();
closeFiles();

const to = join(import.meta.dirname, "formats", name);
mkdirSync(to);
const keep = (file: string, bytes: Buffer): void => writeFileSync(join(to, `${file}.br`), brotliCompressSync(bytes));
keep("elkhorn.db", readFileSync(join(folder, "elkhorn.db")));
for (const f of readdirSync(join(folder, "portals"))) if (f === `${id}.db`) keep(f, readFileSync(join(folder, "portals", f)));
keep("values.json", Buffer.from(JSON.stringify(values)));
keep("installation.json", Buffer.from(JSON.stringify(own)));
rmSync(folder, { recursive: true });
console.log(`Kept as ${to}`);
