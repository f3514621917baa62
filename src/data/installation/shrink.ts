/** Room that a portal's file has and does not use is given back a little at a time, so that nobody waits for it. */
import type { PortalFile } from "../file/portal-file";

/** `PRAGMA auto_vacuum` (sqlite.org/pragma.html): free pages are known to the file, and are given back when that is asked. */
const INCREMENTAL = 2;
/** Pages given back in one transaction: some milliseconds. */
const STEP = 256;
/** Below this share of its pages, what is free is soon used again. */
const SPARE = 0.1;
/** Bytes: a file of an older Elkhorn is written anew once, whole, which a larger one would stand still too long for. */
const WHOLE = 256 * 1024 * 1024;

const number = (file: PortalFile, pragma: string): number => file.db.pragma(pragma, { simple: true }) as number;

/**
 * Gives back what is free beyond a tenth of the file. For a thread that answers nobody: a file of an older Elkhorn is written anew.
 *
 * @returns bytes that were given back
 */
export function shrink(file: PortalFile): number {
  const [size, before] = [number(file, "page_size"), number(file, "page_count")];
  const spare = (): boolean => number(file, "freelist_count") > Math.ceil(number(file, "page_count") * SPARE);
  if (!spare()) return 0;
  if (number(file, "auto_vacuum") === INCREMENTAL) {
    while (spare()) file.db.pragma(`incremental_vacuum(${STEP})`);
  } else if (before * size <= WHOLE) {
    file.db.pragma(`auto_vacuum = ${INCREMENTAL}`);
    file.db.exec("VACUUM");
  }
  return (before - number(file, "page_count")) * size;
}
