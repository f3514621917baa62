/**
 * Files coming in: piece by piece, so that nothing large is ever in memory and a broken line goes on where it was. How much is there is the
 * length of what is written down. When the last piece is in, the content says what it is, and the file waits for a record to take it.
 */

import { createWriteStream, existsSync, statSync } from "node:fs";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { and, eq, isNull, lt } from "drizzle-orm";
import type { Viewer } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Field } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { once } from "../file/per-process";
import { files } from "../file/portal-tables";
import { keepContent, unfitFor } from "./content";
import { MOST_FILE, MOST_PORTAL, partPath, removePart, storeOf } from "./store";
import { uploader } from "./uploader";

/** What one uploader may have begun that no record has taken: whoever only says how much would come must not use up everybody's room. */
const MOST_WAITING = 200;
const MOST_WAITING_BYTES = 2 * 1024 * 1024 * 1024;

/** What records hold of one person, so that nobody fills the portal alone. */
const MOST_FILES_EACH = 10_000;
const MOST_EACH = 5 * 1024 * 1024 * 1024;

export interface Upload {
  readonly id: string;
  readonly bytes: number;
  /** Bytes that are in. */
  readonly offset: number;
  /** All of it is in, and it is what its field takes. */
  readonly whole: boolean;
}

export type UploadError =
  | { code: "refused"; message: string }
  | { code: "not-found" }
  /** The piece does not begin where the last one ended. */
  | { code: "offset" }
  | { code: "too-much" };

const refused = (message: string): Result<never, UploadError> => err({ code: "refused", message });

/** A name that files may have anywhere: no path, no signs that nobody sees, no direction of its own. */
export function cleanName(name: string): string {
  const last = name.normalize("NFC").split(/[/\\]/).pop() ?? "";
  const visible = last.replace(/[\p{Cc}\p{Cf}<>:"|?*]/gu, "").trim();
  const kept = [...visible.replace(/^\.+/, "")].slice(-150).join("");
  return kept || "file";
}

/** What a file is called, and is looked for as. */
export function named(given: string): { name: string; nameKey: string } {
  const name = cleanName(given);
  return { name, nameKey: fold(name) };
}

/**
 * Begins a file that comes in pieces (tus 1.0) for a field that the viewer may set. Refused by its size, its kind, or what is under way
 * already.
 */
export function beginUpload(
  file: PortalFile,
  viewer: Viewer,
  field: Field,
  given: { name: string; bytes: number },
): Result<{ id: string }, UploadError> {
  if (!holdsFiles(field)) return err({ code: "not-found" });
  if (!Number.isSafeInteger(given.bytes) || given.bytes < 0) return refused("Say how long the file is.");
  if (given.bytes === 0) return refused("This file is empty.");
  if (given.bytes > MOST_FILE) return refused(`This file is larger than ${MOST_FILE / 1024 / 1024} MB.`);
  const by = uploader(viewer);
  const [waiting, asked] = file.db
    .prepare("SELECT count(*), coalesce(sum(bytes), 0) FROM sys_files WHERE record_id IS NULL AND made_by = ?")
    .raw()
    .get(by) as [number, number];
  if (waiting >= MOST_WAITING || asked + given.bytes > MOST_WAITING_BYTES)
    return refused("Too many files of yours wait for a record. Save what you have begun, or come back tomorrow.");
  const [own, kept] = file.db.prepare("SELECT count(*), coalesce(sum(bytes), 0) FROM sys_files WHERE made_by = ?").raw().get(by) as [
    number,
    number,
  ];
  // Visitors share one identity: what one of them sent must not close a form to all others.
  if ((viewer.kind === "person" || viewer.kind === "key") && (own >= MOST_FILES_EACH || kept + given.bytes > MOST_EACH))
    return refused("You have sent as many files as one person may. Ask the agency.");
  const held = file.db.prepare("SELECT coalesce(sum(bytes), 0) FROM sys_files").pluck().get() as number;
  if (held + given.bytes > MOST_PORTAL) return refused("There is no room left for files in this portal. Ask the agency.");
  const id = newId();
  file.orm
    .insert(files)
    .values({
      id,
      fieldId: field.id,
      ...named(given.name),
      bytes: given.bytes,
      madeAt: new Date(viewer.now).toISOString(),
      madeBy: by,
    })
    .run();
  return ok({ id });
}

/** Only whoever began it knows of it, until a record has taken it. */
function own(file: PortalFile, viewer: Viewer, id: string) {
  const row = file.orm.select().from(files).where(eq(files.id, id)).get();
  return row && row.recordId === null && row.madeBy === uploader(viewer) ? row : undefined;
}

/** How far an upload of this viewer's has come; undefined of anybody else's. */
export function uploadOf(file: PortalFile, viewer: Viewer, id: string): Upload | undefined {
  const row = own(file, viewer, id);
  if (!row) return undefined;
  const path = partPath(file, id);
  const offset = row.hash ? row.bytes : existsSync(path) ? statSync(path).size : 0;
  return { id, bytes: row.bytes, offset, whole: row.hash !== null };
}

/** A piece that begins at `offset`. What arrived before a line broke stays. */
export async function appendPiece(
  file: PortalFile,
  viewer: Viewer,
  field: (id: string) => Field | undefined,
  id: string,
  offset: number,
  piece: ReadableStream<Uint8Array>,
): Promise<Result<Upload, UploadError>> {
  const before = uploadOf(file, viewer, id);
  if (!before) return err({ code: "not-found" });
  // Two pieces at once would be let in by the same room that is left, and stand mixed.
  if (before.whole || before.offset !== offset || coming.has(id)) return err({ code: "offset" });
  coming.add(id);
  try {
    return await take(file, viewer, field, before, piece);
  } finally {
    coming.delete(id);
  }
}
const coming = once("uploads that a piece comes for", () => new Set<string>());

async function take(
  file: PortalFile,
  viewer: Viewer,
  field: (id: string) => Field | undefined,
  before: Upload,
  piece: ReadableStream<Uint8Array>,
): Promise<Result<Upload, UploadError>> {
  const { id, offset } = before;
  let left = before.bytes - offset;
  const meter = new Transform({
    transform(chunk: Buffer, _, done) {
      left -= chunk.length;
      done(left < 0 ? new TooMuch() : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(piece as never), meter, createWriteStream(partPath(file, id), { flags: "a", mode: 0o600 }));
  } catch (e) {
    if (e instanceof TooMuch) {
      forget(file, id);
      return err({ code: "too-much" });
    }
    if ((e as NodeJS.ErrnoException).code === "ENOSPC") return refused("The disk is full. Nothing was kept; ask the agency to make room.");
    throw e;
  }
  const now = uploadOf(file, viewer, id)!;
  if (now.offset < now.bytes) return ok(now);
  const row = own(file, viewer, id)!;
  const f = field(row.fieldId);
  const finished = f ? await finish(file, id, f, now.bytes) : refused("The field that this file is for is gone.");
  if (!finished.ok) {
    forget(file, id);
    return finished;
  }
  return ok({ ...now, whole: true });
}
class TooMuch extends Error {}

/** Removes an upload that no record has yet, with what has come of it. */
export function forget(file: PortalFile, id: string): void {
  removePart(file, id);
  file.orm
    .delete(files)
    .where(and(eq(files.id, id), isNull(files.recordId)))
    .run();
}

async function finish(file: PortalFile, id: string, field: Field, bytes: number): Promise<Result<null, UploadError>> {
  const kept = await keepContent(file, partPath(file, id), bytes);
  if (!kept.ok) return refused(kept.error);
  const unfit = unfitFor(field, kept.value.type ?? "");
  if (unfit) return refused(unfit);
  file.orm.update(files).set(kept.value).where(eq(files.id, id)).run();
  removePart(file, id);
  return ok(null);
}

/** Uploads that no record took, and files of records that are gone for good; contents that nothing names any more go with them. */
export async function sweepFiles(file: PortalFile, before: string): Promise<number> {
  const stale = file.orm
    .select({ id: files.id })
    .from(files)
    .where(and(isNull(files.recordId), lt(files.madeAt, before)))
    .all();
  for (const { id } of stale) removePart(file, id);
  const hashes = new Set<string>();
  const drop = (id: string): void => {
    const row = file.orm.delete(files).where(eq(files.id, id)).returning().get();
    for (const h of [row?.hash, ...Object.values(JSON.parse(row?.sizes ?? "{}") as Record<string, string>)]) if (h) hashes.add(h);
  };
  for (const { id } of stale) drop(id);
  for (const id of orphans(file)) drop(id);
  const named = file.db.prepare("SELECT 1 FROM sys_files WHERE hash = @h OR instr(sizes, @h) > 0 LIMIT 1");
  for (const h of hashes) if (!named.get({ h })) await storeOf(file).remove(h);
  return stale.length;
}

/** Files whose record is neither there nor in the bin. */
function orphans(file: PortalFile): string[] {
  const rows = file.db
    .prepare(
      `SELECT f.id, f.record_id AS record, coalesce(x.table_id, t.id) AS "table" FROM sys_files f LEFT JOIN sys_fields x ON x.id = f.field_id
       LEFT JOIN sys_tables t ON f.field_id = 'talk:' || t.id
       WHERE f.record_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM sys_removed r WHERE r.record_id = f.record_id)`,
    )
    .all() as { id: string; record: string; table: string | null }[];
  return rows
    .filter((r) => !r.table || file.db.prepare(`SELECT 1 FROM ${sqlName(r.table)} WHERE id = ?`).get(r.record) === undefined)
    .map((r) => r.id);
}
