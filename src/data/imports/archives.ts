/** The ZIP of files beside the table of an import, as it comes and goes. */
import { Readable } from "node:stream";
import type { Owner } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "../file/open";
import { once } from "../file/per-process";
import { whenFree } from "../file/when-free";
import { type ImportJob, importJob, putBeside } from "./jobs";
import { type Archive, appendToArchive, archiveOffset, beginArchive, endArchive, MOST_ARCHIVE, removeArchive } from "./reading/archive";
import { forgetPrepared } from "./reading/beside";

export type ArchiveError = { code: "refused"; message: string } | { code: "not-found" } | { code: "offset" };
const refused = (message: string): Result<never, ArchiveError> => err({ code: "refused", message });

/** Whether it can still be put beside or taken away. */
const open = (job: ImportJob | undefined): job is ImportJob =>
  job?.state === "received" || job?.state === "checked" || job?.state === "failed";

/** Takes a ZIP archive's name and size, before its pieces come. Refused with a sentence where it is empty or too large. */
export function beginFiles(file: PortalFile, owner: Owner, id: string, given: { name: string; bytes: number }): Result<null, ArchiveError> {
  if (!open(importJob(file, owner, id))) return err({ code: "not-found" });
  if (!Number.isSafeInteger(given.bytes) || given.bytes <= 0) return refused("This file is empty.");
  if (given.bytes > MOST_ARCHIVE) return refused("This ZIP archive is larger than 1 GB. Bring the files in parts.");
  beginArchive(id);
  forgetPrepared(file, id);
  putBeside(file, owner, id, { name: given.name.slice(0, 200), bytes: given.bytes, files: null });
  return ok(null);
}

export interface Coming {
  readonly bytes: number;
  readonly offset: number;
}

/** How many bytes of the archive have come, of how many; undefined where none is put beside. */
export function comingFiles(file: PortalFile, owner: Owner, id: string): Coming | undefined {
  const archive = importJob(file, owner, id)?.archive;
  return archive ? { bytes: archive.bytes, offset: archive.files === null ? archiveOffset(id) : archive.bytes } : undefined;
}

const coming = once("archives that a piece comes for", () => new Set<string>());

/** A piece that begins at `offset`; with the last one the archive is looked through. */
export async function appendFiles(
  file: PortalFile,
  owner: Owner,
  id: string,
  offset: number,
  piece: ReadableStream<Uint8Array>,
): Promise<Result<Coming, ArchiveError>> {
  const job = importJob(file, owner, id);
  if (!open(job) || job.archive?.files !== null) return err({ code: "not-found" });
  const { archive } = job;
  if (coming.has(id) || archiveOffset(id) !== offset) return err({ code: "offset" });
  coming.add(id);
  try {
    const done = await appendToArchive(id, archive.bytes, Readable.fromWeb(piece as never));
    if (!done.ok) return away(file, owner, id, done.error);
    const at = archiveOffset(id);
    if (at < archive.bytes) return ok({ bytes: archive.bytes, offset: at });
    const ended = await endArchive(id);
    if (!ended.ok) return away(file, owner, id, ended.error);
    await whenFree(file);
    putBeside(file, owner, id, { ...archive, files: ended.value } satisfies Archive);
    return ok({ bytes: archive.bytes, offset: archive.bytes });
  } finally {
    coming.delete(id);
  }
}

function away(file: PortalFile, owner: Owner, id: string, why: string): Result<never, ArchiveError> {
  putBeside(file, owner, id, null);
  return refused(why);
}

/** Takes the archive beside an import away, with what was taken out of it. Nothing happens to an import that is over. */
export function takeFilesAway(file: PortalFile, owner: Owner, id: string): void {
  if (!open(importJob(file, owner, id))) return;
  removeArchive(id);
  forgetPrepared(file, id);
  putBeside(file, owner, id, null);
}
