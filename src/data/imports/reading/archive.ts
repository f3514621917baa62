/**
 * A ZIP of files beside the table of an import. It comes in pieces and stays one file on the disk: what is in it is told by its own list,
 * and one file at a time is taken out when a row names it. Names in it name nothing here but themselves.
 */
import { createWriteStream, existsSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import type { Readable } from "node:stream";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import yauzl from "yauzl";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import { MOST_FILE } from "../../files/store";
import { importPath } from "./paths";

export const MOST_ARCHIVE = 1024 * 1024 * 1024;
const MOST_ENTRIES = 20_000;
const MOST_UNPACKED = 4 * 1024 * 1024 * 1024;

/** What an import keeps of its archive. */
export interface Archive {
  readonly name: string;
  /** Size of the archive itself. */
  readonly bytes: number;
  /** Files in it; null while it is still coming. */
  readonly files: number | null;
}

export interface Entry {
  /** With its folders, as the archive has it. */
  readonly path: string;
  readonly bytes: number;
}

const DAMAGED = "This ZIP archive cannot be read: it is damaged, or no ZIP archive. Make it anew and drop that.";
/** What systems put beside the files of their users. */
const JUNK = /(^|\/)(__MACOSX\/|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/i;

function opened(path: string): Promise<yauzl.ZipFile> {
  return new Promise((done, fail) =>
    yauzl.open(path, { lazyEntries: true, autoClose: false }, (e, zip) => (e || !zip ? fail(e ?? new Error("no archive")) : done(zip))),
  );
}

/** Everything in it, by its own list; `entry` is for taking one out while the archive is open. */
async function entriesOf(zip: yauzl.ZipFile): Promise<Result<Map<string, yauzl.Entry>, string>> {
  const found = new Map<string, yauzl.Entry>();
  let unpacked = 0;
  return await new Promise((done) => {
    zip.on("error", (e: Error) =>
      done(
        err(
          /invalid relative path|absolute path|invalid characters/i.test(e.message)
            ? "This ZIP archive has a name in it that leads out of it. Make it anew from one folder."
            : DAMAGED,
        ),
      ),
    );
    zip.on("end", () => done(found.size > 0 ? ok(found) : err("There are no files in this ZIP archive.")));
    zip.on("entry", (entry: yauzl.Entry) => {
      if (!entry.fileName.endsWith("/") && !JUNK.test(entry.fileName)) {
        unpacked += entry.uncompressedSize;
        if (entry.isEncrypted()) return done(err("This ZIP archive is locked by a password. Make it anew without one."));
        if (entry.uncompressedSize > MOST_FILE)
          return done(err(`${entry.fileName} is larger than ${MOST_FILE / 1024 / 1024} MB. Take it out of the archive.`));
        if (found.size >= MOST_ENTRIES || unpacked > MOST_UNPACKED)
          return done(err("There are more than 20,000 files in this ZIP archive, or more than 4 GB. Bring them in parts."));
        found.set(entry.fileName, entry);
      }
      zip.readEntry();
    });
    zip.readEntry();
  });
}

export class OpenArchive {
  private constructor(
    private readonly zip: yauzl.ZipFile,
    private readonly held: ReadonlyMap<string, yauzl.Entry>,
  ) {}

  /** @throws Nothing of what may be wrong with it: that is answered. Close it after. */
  static async of(path: string): Promise<Result<OpenArchive, string>> {
    let zip: yauzl.ZipFile;
    try {
      zip = await opened(path);
    } catch {
      return err(DAMAGED);
    }
    const held = await entriesOf(zip);
    if (held.ok) return ok(new OpenArchive(zip, held.value));
    zip.close();
    return held;
  }

  get entries(): Entry[] {
    return [...this.held].map(([path, e]) => ({ path, bytes: e.uncompressedSize }));
  }

  /** Writes one down; false where it is not what the list says of it. */
  async takeOut(path: string, to: string): Promise<boolean> {
    const entry = this.held.get(path)!;
    try {
      const stream = await new Promise<Readable>((done, fail) =>
        this.zip.openReadStream(entry, (e, s) => (e || !s ? fail(e ?? new Error("no content")) : done(s))),
      );
      await pipeline(stream, createWriteStream(to, { mode: 0o600 }));
      return true;
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code === "ENOSPC") throw e;
      return false;
    }
  }

  close = (): void => this.zip.close();
}

/** Files by what a cell may call them: their whole path, or their name where only one is called so. */
export class FilesByName<T extends { readonly path: string }> {
  readonly #paths = new Map<string, T>();
  readonly #names = new Map<string, T | "many">();
  constructor(all: readonly T[]) {
    for (const f of all) {
      this.#paths.set(nameKey(f.path), f);
      const name = nameKey(f.path.split("/").pop()!);
      this.#names.set(name, this.#names.has(name) ? "many" : f);
    }
  }
  find = (text: string): T | "many" | undefined => this.#paths.get(nameKey(text)) ?? this.#names.get(nameKey(text));
}
export const nameKey = (text: string): string => fold(text.normalize("NFC").trim().replaceAll("\\", "/").replace(/^\.\//, ""));

/** How much of it is in. */
export const archiveOffset = (id: string): number =>
  existsSync(importPath(id, "zip-part")) ? statSync(importPath(id, "zip-part")).size : 0;

export function beginArchive(id: string): void {
  removeArchive(id);
  writeFileSync(importPath(id, "zip-part"), "", { mode: 0o600 });
}

class TooMuch extends Error {}

/** Appends a piece; the archive may then have at most `bytes` bytes. */
export async function appendToArchive(id: string, bytes: number, piece: Readable): Promise<Result<null, string>> {
  let left = bytes - archiveOffset(id);
  const meter = new Transform({
    transform(chunk: Buffer, _, done) {
      left -= chunk.length;
      done(left < 0 ? new TooMuch() : null, chunk);
    },
  });
  try {
    await pipeline(piece, meter, createWriteStream(importPath(id, "zip-part"), { flags: "a", mode: 0o600 }));
    return ok(null);
  } catch (e) {
    const full = (e as NodeJS.ErrnoException).code === "ENOSPC";
    if (!full && !(e instanceof TooMuch)) throw e;
    removeArchive(id);
    return err(
      full
        ? "The disk is full, so the files could not be kept. Make room and try again."
        : "More came than was said. Drop the files again.",
    );
  }
}

/** All of it is in: how many files it holds, or what is wrong with it. */
export async function endArchive(id: string): Promise<Result<number, string>> {
  renameSync(importPath(id, "zip-part"), importPath(id, "zip"));
  const archive = await OpenArchive.of(importPath(id, "zip"));
  if (!archive.ok) {
    removeArchive(id);
    return archive;
  }
  archive.value.close();
  return ok(archive.value.entries.length);
}

export function removeArchive(id: string): void {
  for (const ending of ["zip", "zip-part"] as const) rmSync(importPath(id, ending), { force: true });
}
