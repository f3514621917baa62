/**
 * A process to be killed: imports a large file into the portal of ELKHORN_DATA, and kills itself (SIGKILL) where ELKHORN_DIE_AT says.
 * Begun again without that, it goes on where it was.
 */
import { viewerFrom } from "@/core/access/make-viewer";
import type { Owner } from "@/core/access/viewer";
import { portalFile } from "@/data/file/open";
import { atPoints } from "@/data/file/points";
import { beginImport, bringInImport, CHECK, checkReceived, importJob, recentImports, startCheck } from "@/data/imports/jobs";
import { onNewJob, releaseLeases } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";

const owner = viewerFrom({
  kind: "owner",
  person: null,
  company: null,
  membershipId: null,
  roles: [],
  features: new Set(),
  now: Date.now(),
  timeZone: "UTC",
  mode: "live",
}) as Owner;
const file = portalFile("killed")!;
const [where = "", times = "1"] = (process.env.ELKHORN_DIE_AT ?? "").split(" x");
let left = Number(times);
atPoints((point) => {
  if (point === where && --left === 0) process.kill(process.pid, "SIGKILL");
});
const runner = new Runner({ [CHECK]: (f, job) => checkReceived(f, (job.body as { id: string }).id) });
onNewJob(runner.wake);
releaseLeases(file, Date.now());

let [job] = recentImports(file, owner, 1);
if (!job) {
  const csv = `Name,Client,Note\n${Array.from({ length: 24_000 }, (_, i) => `Thing ${i},Client ${i % 40},note ${i}`).join("\n")}\n`;
  const begun = await beginImport(file, owner, "things.csv", new Blob([csv]).stream());
  if (!begun.ok) throw new Error(begun.error);
  const columns = ["Name", "Client", "Note"].map((name) => ({ to: "new" as const, name, type: "text" as const, order: "iso" as const }));
  const plan = { table: { name: "Things" }, columns, companyColumn: 1, addCompanies: true, currency: "GBP" };
  startCheck(file, owner, begun.value.id, plan);
  [job] = recentImports(file, owner, 1);
} else runner.wake(file);
const { id } = job!;
while (importJob(file, owner, id)!.state === "checking") await new Promise((r) => setTimeout(r, 5));
if (importJob(file, owner, id)!.state === "checked") await bringInImport(file, owner, id);
console.log(importJob(file, owner, id)!.state);
process.exit(0);
