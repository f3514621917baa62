/** The imports of a portal: their states survive a restart; progress of a running one is in memory. */

import { rmSync } from "node:fs";
import { desc, eq, sql } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import { draftOf } from "../definition/draft";
import { isFull } from "../file/full";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { once } from "../file/per-process";
import { imports } from "../file/portal-tables";
import { transact } from "../file/transact";
import { whenFree } from "../file/when-free";
import { enqueue } from "../jobs/queue";
import { Never } from "../jobs/runner";
import { hasEnded } from "../threads";
import type { CheckResult } from "./checking/check";
import type { BroughtRows } from "./commit";
import { type Archive, removeArchive } from "./reading/archive";
import { type Prepared, prepareFiles } from "./reading/beside";
import { importPath } from "./reading/paths";
import { type Analysis, type Asked, receiveFile, sweepUploads } from "./reading/receive";
import { removeUpload } from "./reading/sources";
import { analyseTask, checkTask, commitTask, namesTask, undoTask } from "./tasks";

/** A ZIP of files is put beside the table, or taken away (null); what was found without it is found anew. */
export function putBeside(file: PortalFile, owner: Owner, id: string, archive: Archive | null): void {
  const job = importJob(file, owner, id);
  if (!job) return;
  const { analysis, plan } = job;
  store(file, id, "received", { analysis, ...(plan ? { plan } : {}) }, { message: null });
  file.db.prepare("UPDATE sys_imports SET plan = json_set(plan, '$.archive', json(?)) WHERE id = ?").run(JSON.stringify(archive), id);
}

export type ImportState = "received" | "checking" | "checked" | "done" | "failed" | "given up";

/** What is stored of an import between its steps. */
interface Stored {
  analysis: Analysis;
  plan?: ImportPlan;
  /** See `ToCheck`. */
  way?: readonly string[] | null;
  result?: CheckResult;
  /** When the check was asked for. */
  asked?: number;
  archive?: Archive | null;
}

export interface ImportJob extends Stored {
  readonly id: string;
  readonly fileName: string;
  readonly state: ImportState;
  readonly done: number;
  /** Files that are being taken out of the archive, before the rows are checked. */
  readonly files: { readonly done: number; readonly total: number } | null;
  readonly total: number;
  readonly message: string | null;
  readonly tableId: string | null;
  readonly doneAt: string | null;
}

/** Imports whose rows a thread is working with: one thread at a time for each. */
const bringing = once("imports being brought in", () => new Set<string>());
const takingOut = once("imports whose files are taken out", () => new Map<string, { done: number; total: number }>());
const running = once("imports being checked", () => new Map<string, number>());

/** Takes a file of at most so many bytes in, 50 MB unless said otherwise, and begins to read it. Its id, or a sentence where it cannot be taken. */
export async function beginImport(
  file: PortalFile,
  owner: Owner,
  fileName: string,
  body: ReadableStream<Uint8Array>,
  most?: number,
): Promise<Result<{ id: string }, string>> {
  const id = newId();
  const received = await receiveFile(id, body, most);
  if (!received.ok) return received;
  const analysis = await analyseTask.do({ id }).catch(unreadable);
  if (!analysis.ok) {
    removeUpload(id);
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

/** An import with its state and counts; undefined where there is none. */
export function importJob(file: PortalFile, _owner: Owner, id: string): ImportJob | undefined {
  const row = file.orm.select().from(imports).where(eq(imports.id, id)).get();
  if (!row?.plan) return undefined;
  return {
    id,
    fileName: row.fileName,
    state: row.state as ImportState,
    done: running.get(id) ?? 0,
    files: takingOut.get(id) ?? null,
    total: row.total,
    tableId: row.tableId,
    message: row.message,
    doneAt: row.doneAt,
    ...(JSON.parse(row.plan) as Stored),
  };
}

/** The latest first. */
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
    const wall = "id" in plan.table ? draftOf(file, owner).definition.walls[plan.table.id] : undefined;
    const way = wall?.kind === "owned" ? wall.path : null;
    store(file, id, "checking", { analysis: job.analysis, plan, way, asked: owner.now }, { message: null });
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
    // The archive beside the table is kept whatever becomes of the mapping.
    .set({ state, plan: sql`json_set(${JSON.stringify(stored)}, '$.archive', json_extract(plan, '$.archive'))`, ...more })
    .where(eq(imports.id, id))
    .run();
}

/** The check itself, from the beginning: what an earlier process had set aside of it is made anew. */
export async function checkReceived(file: PortalFile, id: string): Promise<void> {
  const row = file.orm.select().from(imports).where(eq(imports.id, id)).get();
  const { analysis, plan, way = null, archive, asked = 0 } = JSON.parse(row?.plan ?? "{}") as Partial<Stored>;
  if (row?.state !== "checking" || !analysis || !plan) return; // given up meanwhile
  running.set(id, 0);
  try {
    const files = await filesFor(file, id, analysis, plan, archive ?? null, asked);
    if (files && !files.ok) {
      await whenFree(file);
      store(file, id, "failed", { analysis, plan }, { message: files.error });
      return;
    }
    const ask = { portal: file.slug, id, analysis, plan, way, files: files?.value ?? null };
    const result = await checkTask.do(ask, (done) => running.set(id, done));
    await whenFree(file);
    store(file, id, "checked", { analysis, plan, result }, { good: result.good, bad: result.bad });
  } catch (e) {
    if (hasEnded(e)) throw e; // the next process goes on
    const full = isFull(e);
    const message = full
      ? "The disk is full. Nothing was imported; make room and check again."
      : "The check failed on our side. Nothing was imported.";
    store(file, id, "failed", { analysis, plan }, { message });
    if (!full) throw new Never(e instanceof Error ? e.message : String(e));
  } finally {
    running.delete(id);
  }
}

/** Null where no archive is beside the table. */
async function filesFor(
  file: PortalFile,
  id: string,
  analysis: Analysis,
  plan: ImportPlan,
  archive: Archive | null,
  now: number,
): Promise<Result<Prepared[], string> | null> {
  if (!archive?.files) return null;
  const texts = await namesTask.do({ portal: file.slug, id, analysis, plan });
  try {
    return await prepareFiles(file, id, texts, now, (done, total) => takingOut.set(id, { done, total }));
  } finally {
    takingOut.delete(id);
  }
}

/** Another sheet of the workbook, or another row that names the columns. What was mapped before speaks of other columns and is let go. */
export async function readAgain(file: PortalFile, owner: Owner, id: string, asked: Asked): Promise<Result<null, string>> {
  const job = importJob(file, owner, id);
  if (!job || (job.state !== "received" && job.state !== "checked" && job.state !== "failed"))
    return err("This import is over. Drop the file again.");
  const analysis = await analyseTask.do({ id, asked }).catch(unreadable);
  if (!analysis.ok) {
    // What stands there is what was chosen before, again.
    const { source, headerAt } = job.analysis;
    await analyseTask.do({ id, asked: { sheet: source.sheet, headerAt } });
    return analysis;
  }
  await whenFree(file);
  store(file, id, "received", { analysis: analysis.value }, { message: null });
  file.orm.update(imports).set({ total: analysis.value.rows }).where(eq(imports.id, id)).run();
  return ok(null);
}

export type BroughtIn = Result<BroughtRows, string>;

/** Brings in what was checked. A sentence where that is not possible now. */
export async function bringInImport(file: PortalFile, owner: Owner, id: string): Promise<BroughtIn> {
  const job = importJob(file, owner, id);
  if (job?.state !== "checked" || !job.plan || !job.result) return err("Check the import first.");
  if (job.result.good === 0) return err("No row of this file can be brought in as it is mapped.");
  if (bringing.has(id)) return err("This import is being brought in already.");
  bringing.add(id);
  try {
    return await commitTask.do({ portal: file.slug, id, plan: job.plan }, owner);
  } finally {
    bringing.delete(id);
    file.meta.look(); // the thread wrote through a handle of its own
  }
}

/** Takes a whole import back: see `undo.ts`. */
export async function takeBackImport(
  file: PortalFile,
  owner: Owner,
  id: string,
  leave: boolean,
): Promise<Result<{ removed: number; restored: number; left: number }, string>> {
  if (bringing.has(id)) return err("This import is being worked with already.");
  bringing.add(id);
  try {
    return await undoTask.do({ portal: file.slug, id, leave }, owner);
  } finally {
    bringing.delete(id);
    file.meta.look();
  }
}

/** Ends an import that is not brought in, and removes its files. */
export function giveUpImport(file: PortalFile, _owner: Owner, id: string): void {
  file.orm.update(imports).set({ state: "given up" }).where(eq(imports.id, id)).run();
  removeUpload(id);
  removeArchive(id);
  rmSync(importPath(id, "stage"), { force: true });
}

/** What taking an import back needs, row by row: after `before` (ISO 8601) it is not taken back any more. Some thousand rows at a time. */
export function sweepImportRows({ db }: PortalFile, before: string): void {
  const old = db.prepare("SELECT id FROM sys_imports WHERE state = 'done' AND made IS NOT NULL AND done_at < ?").pluck().all(before);
  for (const id of old) {
    const some = db.prepare(
      "DELETE FROM sys_import_rows WHERE (import_id, record_id) IN (SELECT import_id, record_id FROM sys_import_rows WHERE import_id = ? LIMIT 5000)",
    );
    while (some.run(id).changes > 0);
    db.prepare("UPDATE sys_imports SET made = NULL WHERE id = ?").run(id);
  }
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
