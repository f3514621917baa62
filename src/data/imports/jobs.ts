/** The imports of a portal: their states survive a restart; progress of a running one is in memory. */

import { rmSync } from "node:fs";
import { desc, eq } from "drizzle-orm";
import type { Owner } from "@/core/access/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import { newId } from "../file/ids";
import { once } from "../file/once";
import type { PortalFile } from "../file/open";
import { imports } from "../file/portal-tables";
import { transact } from "../file/transact";
import { whenFree } from "../file/when-free";
import { enqueue } from "../jobs/queue";
import { Never } from "../jobs/runner";
import { hasEnded } from "../threads";
import type { CheckResult } from "./check";
import { type Analysis, importPath, receiveFile, sweepUploads } from "./receive";
import { analyseTask, checkTask, commitTask } from "./tasks";

export type ImportState = "received" | "checking" | "checked" | "done" | "failed" | "given up";

/** What is stored of an import between its steps. */
interface Stored {
  analysis: Analysis;
  plan?: ImportPlan;
  result?: CheckResult;
}

export interface ImportJob extends Stored {
  readonly id: string;
  readonly fileName: string;
  readonly state: ImportState;
  readonly done: number;
  readonly total: number;
  readonly message: string | null;
  readonly tableId: string | null;
}

/** One thread at a time works with the rows of an import. */
const bringing = once("imports being brought in", () => new Set<string>());
const running = once("imports being checked", () => new Map<string, number>());

export async function beginImport(
  file: PortalFile,
  owner: Owner,
  fileName: string,
  body: ReadableStream<Uint8Array>,
): Promise<Result<{ id: string }, string>> {
  const id = newId();
  const received = await receiveFile(id, body);
  if (!received.ok) return received;
  const analysis = await analyseTask.do({ id }).catch(unreadable);
  if (!analysis.ok) {
    rmSync(importPath(id, "csv"), { force: true });
    return err(analysis.error);
  }
  const stored: Stored = { analysis: analysis.value };
  const row = {
    id,
    fileName: fileName.slice(0, 200),
    state: "received",
    plan: JSON.stringify(stored),
    total: analysis.value.rows,
    good: 0,
    bad: 0,
    createdAt: new Date(owner.now).toISOString(),
  };
  file.orm.insert(imports).values(row).run();
  return ok({ id });
}

function unreadable(e: unknown): Result<never, string> {
  if ((e as { code?: string }).code === "ERR_WORKER_OUT_OF_MEMORY")
    return err("This file takes more memory to read than one import may have. Split it and import the parts one after the other.");
  if (hasEnded(e)) return err("Elkhorn was stopped while it read the file. Drop the file again.");
  throw e;
}

export function importJob(file: PortalFile, _owner: Owner, id: string): ImportJob | undefined {
  const row = file.orm.select().from(imports).where(eq(imports.id, id)).get();
  if (!row?.plan) return undefined;
  return {
    id,
    fileName: row.fileName,
    state: row.state as ImportState,
    done: running.get(id) ?? 0,
    total: row.total,
    tableId: row.tableId,
    message: row.message,
    ...(JSON.parse(row.plan) as Stored),
  };
}

export function recentImports(file: PortalFile, owner: Owner, most = 5): ImportJob[] {
  const rows = file.orm.select({ id: imports.id }).from(imports).orderBy(desc(imports.createdAt)).limit(most).all();
  return rows.flatMap((r) => importJob(file, owner, r.id) ?? []);
}

/** Asks for the check: a job, which a process that is killed does not take along. Its progress is read by `importJob`. */
export function startCheck(file: PortalFile, owner: Owner, id: string, plan: ImportPlan): Result<null, string> {
  const job = importJob(file, owner, id);
  if (!job || job.state === "done" || job.state === "given up") return err("This import is over. Drop the file again.");
  if (job.state === "checking") return err("This import is being checked already.");
  transact(file, () => {
    store(file, id, "checking", { analysis: job.analysis, plan }, { message: null });
    enqueue(file, CHECK, { id }, owner.now);
  });
  return ok(null);
}

export const CHECK = "check import";

function store(
  file: PortalFile,
  id: string,
  state: ImportState,
  stored: Stored,
  more: { message?: string | null; good?: number; bad?: number } = {},
): void {
  file.orm
    .update(imports)
    .set({ state, plan: JSON.stringify(stored), ...more })
    .where(eq(imports.id, id))
    .run();
}

/** The check itself, from the beginning: what an earlier process had set aside of it is made anew. */
export async function checkReceived(file: PortalFile, id: string): Promise<void> {
  const row = file.orm.select().from(imports).where(eq(imports.id, id)).get();
  const { analysis, plan } = JSON.parse(row?.plan ?? "{}") as Partial<Stored>;
  if (row?.state !== "checking" || !analysis || !plan) return; // given up meanwhile
  running.set(id, 0);
  try {
    const result = await checkTask.do({ portal: file.slug, id, analysis, plan }, (done) => running.set(id, done));
    await whenFree(file);
    store(file, id, "checked", { analysis, plan, result }, { good: result.good, bad: result.bad });
  } catch (e) {
    if (hasEnded(e)) throw e; // the next process goes on
    const { code } = e as { code?: string };
    const full = code === "SQLITE_FULL" || code === "ENOSPC";
    const message = full
      ? "The disk is full. Nothing was imported; make room and check again."
      : "The check failed on our side. Nothing was imported.";
    store(file, id, "failed", { analysis, plan }, { message });
    if (!full) throw new Never(e instanceof Error ? e.message : String(e));
  } finally {
    running.delete(id);
  }
}

export type BroughtIn = Result<{ table: string; rows: number }, string>;

export async function bringInImport(file: PortalFile, owner: Owner, id: string): Promise<BroughtIn> {
  const job = importJob(file, owner, id);
  if (job?.state !== "checked" || !job.plan || !job.result) return err("Check the import first.");
  if (job.result.good === 0) return err("No row of this file can be brought in as it is mapped.");
  if (bringing.has(id)) return err("This import is being brought in already.");
  bringing.add(id);
  try {
    return await commitTask.do({ portal: file.slug, id, plan: job.plan, newCompanies: job.result.newCompanies }, owner);
  } finally {
    bringing.delete(id);
    file.meta.look(); // the thread wrote through a handle of its own
  }
}

export function giveUpImport(file: PortalFile, _owner: Owner, id: string): void {
  file.orm.update(imports).set({ state: "given up" }).where(eq(imports.id, id)).run();
  for (const ending of ["csv", "stage"] as const) rmSync(importPath(id, ending), { force: true });
}

/** Imports that nobody came back to since `before`, with their files; what earlier ones left; and uploads that belong to none. */
export function sweepImports(files: readonly PortalFile[], before: number): void {
  const held = new Set<string>();
  for (const file of files) {
    const { db } = file;
    db.prepare("UPDATE sys_imports SET state = 'given up' WHERE state NOT IN ('done', 'given up', 'checking') AND created_at < ?").run(
      new Date(before).toISOString(),
    );
    const kept = db.prepare("SELECT id FROM sys_imports WHERE state <> 'given up' AND NOT (state = 'done' AND created_at < ?)").pluck();
    for (const id of kept.all(new Date(before).toISOString())) held.add(id as string);
    file.rest?.();
  }
  sweepUploads(held, before);
}
