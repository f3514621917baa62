/** What tests of imports stand on: a folder of their own, somebody who works on the checks, and an empty portal to bring files into. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { fieldBySlug } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { beginImport, bringInImport, CHECK, checkReceived, type ImportJob, importJob, startCheck } from "@/data/imports/jobs";
import { suggestPlan } from "@/data/imports/proposing/suggest";
import { createPortal } from "@/data/installation/portals";
import { onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { Desk } from "@/data/records/desk";
import { schemaOf } from "@/data/tables/read";
import { PUBLISHER, testViewer } from "./world";

/** For all tests of the file that calls it. */
export function importFolder(): void {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-imports-"));
  const runner = new Runner({ [CHECK]: (f, job) => checkReceived(f, (job.body as { id: string }).id) });
  beforeAll(() => {
    process.env.ELKHORN_DATA = folder;
    onNewJob(runner.wake);
  });
  afterAll(async () => {
    await runner.stop();
    rmSync(folder, { recursive: true, force: true });
  });
}

export const owner = testViewer({ kind: "owner", company: null }) as Owner;
let n = 0;

export class ImportTrial {
  readonly file: PortalFile;
  constructor() {
    const made = createPortal(`into${++n}`, "P", PUBLISHER);
    if ("problem" in made) throw new Error(made.problem);
    this.file = made.file;
  }
  async drop(text: string | Uint8Array<ArrayBuffer>, name = "things.csv"): Promise<ImportJob> {
    const begun = await beginImport(this.file, owner, name, new Blob([text]).stream());
    if (!begun.ok) throw new Error(begun.error);
    return importJob(this.file, owner, begun.value.id)!;
  }
  suggest = (job: ImportJob, into?: string | null): ImportPlan =>
    suggestPlan({ file: this.file, owner, analysis: job.analysis, fileName: job.fileName }, into);
  async check(job: ImportJob, plan: ImportPlan): Promise<ImportJob> {
    const started = startCheck(this.file, owner, job.id, plan);
    if (!started.ok) throw new Error(started.error);
    while (importJob(this.file, owner, job.id)!.state === "checking") await new Promise((r) => setTimeout(r, 3));
    return importJob(this.file, owner, job.id)!;
  }
  async bring(text: string | Uint8Array<ArrayBuffer>, plan?: (job: ImportJob) => ImportPlan, name?: string) {
    const job = await this.drop(text, name);
    const checked = await this.check(job, plan ? plan(job) : this.suggest(job));
    const done = await bringInImport(this.file, owner, job.id);
    return { job: checked, done };
  }
  table = (slug: string) => schemaOf(this.file).tableBySlug(slug)!;
  field = (table: string, slug: string) => fieldBySlug(this.table(table), slug)!.id;
  get desk(): Desk<Owner> {
    return new Desk(this.file, published(this.file).policy, owner);
  }
  records = (slug: string) => this.desk.list(this.table(slug), { limit: 100 }).records;
  named = (slug: string, name: string) => this.records(slug).find((r) => r.fields[this.table(slug).labelFieldId] === name)!;
}
