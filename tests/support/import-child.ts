/**
 * A process to be killed: imports a large file into the portal of ELKHORN_DATA, and kills itself (SIGKILL) where ELKHORN_DIE_AT says.
 * Begun again without that, it goes on where it was.
 */
import { viewerFrom } from "@/core/access/who/make-viewer";
import type { Owner } from "@/core/access/who/viewer";
import { published } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { atPoints } from "@/data/file/points";
import {
  beginImport,
  bringInImport,
  CHECK,
  checkReceived,
  importJob,
  recentImports,
  startCheck,
  takeBackImport,
} from "@/data/imports/jobs";
import { onNewJob, releaseLeases } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { Desk } from "@/data/records/desk";
import { retype } from "@/data/schema/retype";
import { schemaOf } from "@/data/tables/read";
import { feedEvents } from "@/server/feeds";
import { planOf, textColumn } from "@/testing/imports";

feedEvents();

const owner = viewerFrom({
  kind: "owner",
  person: null,
  company: null,
  membershipId: null,
  roles: [],
  features: new Set(),
  bought: [],
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
  const plan = planOf({ columns: ["Name", "Client", "Note"].map(textColumn), company: 1 });
  startCheck(file, owner, begun.value.id, plan);
  [job] = recentImports(file, owner, 1);
} else runner.wake(file);
const { id } = job!;
while (importJob(file, owner, id)!.state === "checking") await new Promise((r) => setTimeout(r, 5));
if (importJob(file, owner, id)!.state === "checked") await bringInImport(file, owner, id);
const act = process.env.ELKHORN_THEN;
const table = schemaOf(file).tableBySlug("things");
if (act === "undo" && table) await takeBackImport(file, owner, id, false);
if (act === "retype" && table) {
  const note = table.fields.find((f) => f.slug === "note")!;
  retype(file, owner, { field: note.id, type: "choice", options: {}, reading: {}, by: null, add: false, rest: "empty" });
}
if (act === "remove" && table) {
  const desk = new Desk(file, published(file).policy, owner);
  const first = desk.list(table, { limit: 1 }).records[0];
  if (first) desk.remove(table, first.id);
}
console.log(importJob(file, owner, id)!.state);
process.exit(0);
