/** A process to be killed: imports a large file into the portal of ELKHORN_DATA and says where it is. */

import { viewerFrom } from "@/core/access/make-viewer";
import type { Owner } from "@/core/access/viewer";
import { portalFile } from "@/data/file/open";
import { beginImport, bringInImport, importJob, startCheck } from "@/data/imports/jobs";

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
const csv = `Name,Client,Note\n${Array.from({ length: 60_000 }, (_, i) => `Thing ${i},Client ${i % 40},note ${i}`).join("\n")}\n`;
const begun = await beginImport(file, owner, "things.csv", new Blob([csv]).stream());
if (!begun.ok) throw new Error(begun.error);
const { id } = begun.value;
const columns = ["Name", "Client", "Note"].map((name) => ({ to: "new" as const, name, type: "text" as const, order: "iso" as const }));
startCheck(file, owner, id, { table: { name: "Things" }, columns, companyColumn: 1, addCompanies: true, currency: "GBP" });
console.log("checking");
while (importJob(file, owner, id)!.state === "checking") await new Promise((r) => setTimeout(r, 5));
console.log("bringing in");
bringInImport(file, owner, id);
console.log("done");
