/** Where the contents of a portal's files are kept: by hash, in the storage that is set (`services/files`), apart for each portal. */
import { mkdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import type { Readable } from "node:stream";
import { rehearsalIn } from "../file/clock";
import { dataFolder, type PortalFile } from "../file/open";
import { once } from "../file/per-process";

/** Bytes of one file, and of all of a portal's. */
export const MOST_FILE = 250 * 1024 * 1024;
export const MOST_PORTAL = 20 * 1024 * 1024 * 1024;

/** What is asked of whoever keeps contents. */
export interface Contents {
  put(content: AsyncIterable<Uint8Array>, most: number): Promise<{ readonly hash: string }>;
  open(hash: string, range?: { from: number; to: number }): Promise<Readable | undefined>;
  size(hash: string): Promise<number | undefined>;
  remove(hash: string): Promise<void>;
}

const keeping = once("contents", () => ({ in: null as ((folder: string) => Contents) | null, known: new Map<string, Contents>() }));
/** Who keeps them: said when the process begins. `make` gets the portal's own folder. */
export function keepContentsIn(make: (folder: string) => Contents): void {
  keeping.in = make;
  keeping.known.clear();
}

const folderOf = (file: PortalFile): string => join(dataFolder(), "files", file.id);

/** Where the contents of a portal's files are kept. Throws where the process has not said where at its start. */
export function storeOf(file: PortalFile): Contents {
  const folder = folderOf(file);
  const known = keeping.known.get(folder);
  if (known) return known;
  if (!keeping.in) throw new Error("Nobody keeps contents yet; call keepContentsIn when the process begins.");
  // A rehearsal keeps what is sent to it, and reads all else where the portal itself has it.
  const of = rehearsalIn(file)?.of;
  const made = of ? over(keeping.in(folder), keeping.in(join(dataFolder(), "files", of))) : keeping.in(folder);
  keeping.known.set(folder, made);
  return made;
}

const over = (own: Contents, under: Contents): Contents => ({
  put: own.put,
  open: async (hash, range) => (await own.open(hash, range)) ?? under.open(hash, range),
  size: async (hash) => (await own.size(hash)) ?? under.size(hash),
  remove: own.remove,
});

const ID = /^[0-9a-f-]{36}$/;

/** Where the pieces of an upload come together. */
export function partPath(file: PortalFile, id: string): string {
  if (!ID.test(id)) throw new Error(`${id} is not an upload's id.`);
  const folder = join(folderOf(file), "uploads");
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  return join(folder, id);
}
export const removePart = (file: PortalFile, id: string): void => rmSync(partPath(file, id), { force: true });
