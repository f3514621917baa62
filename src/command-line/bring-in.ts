/** A file brought into a table of the folder by the import's own way: nothing comes in while a row is wrong. */
import { createReadStream, existsSync } from "node:fs";
import { basename } from "node:path";
import { Readable } from "node:stream";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { fills, planProblems } from "@/core/exchange/import-plan";
import type { Table } from "@/core/schema/types";
import { beginImport, bringInImport, CHECK, checkReceived, giveUpImport, importJob, startCheck } from "@/data/imports/jobs";
import { suggestPlan } from "@/data/imports/proposing/suggest";
import { onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Refused } from "./asked";

const LOOK_AGAIN = 50;
const SHOWN = 20;

export interface BroughtIn {
  readonly table: Table;
  readonly added: number;
  readonly changed: number;
  readonly same: number;
}

export async function bringFileIn(p: OfficePortal, table: Table, path: string, by: string | null): Promise<BroughtIn> {
  if (!existsSync(path)) throw new Refused(`There is no file ${path}.`);
  const body = Readable.toWeb(createReadStream(path)) as ReadableStream<Uint8Array>;
  const begun = await beginImport(p.file, p.owner, basename(path), body);
  if (!begun.ok) throw new Refused(begun.error);
  const { id } = begun.value;
  const runner = new Runner({ [CHECK]: (file, job) => checkReceived(file, (job.body as { id: string }).id) });
  onNewJob(runner.wake);
  try {
    return await bring(p, table, id, by);
  } catch (e) {
    if (importJob(p.file, p.owner, id)?.state !== "done") giveUpImport(p.file, p.owner, id);
    throw e;
  } finally {
    await runner.stop();
  }
}

async function bring(p: OfficePortal, table: Table, id: string, by: string | null): Promise<BroughtIn> {
  const { analysis, fileName } = importJob(p.file, p.owner, id)!;
  const plan = planFor(table, analysis.header, suggestPlan({ file: p.file, owner: p.owner, analysis, fileName }, table.id), by);
  const problems = planProblems(plan, analysis.header, p.live.policy.schema, p.live.definition.roles);
  if (problems.length > 0)
    throw new Refused(
      "The file does not fit the table.",
      problems.map((x) => (x.at === -1 ? x.message : `${analysis.header[x.at]}: ${x.message}`)),
    );
  const started = startCheck(p.file, p.owner, id, plan);
  if (!started.ok) throw new Refused(started.error);
  for (;;) {
    const job = importJob(p.file, p.owner, id)!;
    if (job.state === "checking") {
      await new Promise((r) => setTimeout(r, LOOK_AGAIN));
      continue;
    }
    const { result } = job;
    if (job.state !== "checked" || !result) throw new Refused(job.message ?? "The rows could not be read.");
    if (result.bad > 0) {
      const lines = result.problems.slice(0, SHOWN).map((x) => `line ${x.line}, ${x.column}: ${x.reason}`);
      throw new Refused(`${result.bad} rows cannot come in, so none did.`, lines);
    }
    if (result.fresh + result.changed === 0) return { table, added: 0, changed: 0, same: result.same };
    const done = await bringInImport(p.file, p.owner, id);
    if (!done.ok) throw new Refused(done.error);
    return { table, added: done.value.added, changed: done.value.changed, same: result.same };
  }
}

/** What would make fields or choices is for a person to decide: a script brings in what there is a place for. */
function planFor(table: Table, header: readonly string[], plan: ImportPlan, by: string | null): ImportPlan {
  const strange = plan.columns.flatMap((c, at) => (c.to === "skip" || c.to === "new" ? [header[at]!] : []));
  if (strange.length > 0)
    throw new Refused(
      `${table.name} has no field for ${strange.map((s) => `“${s}”`).join(", ")}. Bring the file in once in the back office: its mapping is remembered.`,
    );
  if (by === null) return { ...plan, key: null };
  const key = header.findIndex((h) => h.trim().toLowerCase() === by.trim().toLowerCase());
  if (key === -1 || !fills(plan.columns[key])) throw new Refused(`There is no column “${by}” in the file that goes to a field.`);
  return { ...plan, key };
}
