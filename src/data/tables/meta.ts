/** Small facts of a portal's file by name: versions, counters. */
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";

/** A fact that the file keeps about itself; undefined where it does not. */
export const readMeta = (file: PortalFile, key: string): string | undefined => file.meta.get(key);

/** Keeps a fact about the file in place of what was kept before. */
export function writeMeta(file: PortalFile, key: string, value: string): void {
  file.orm.insert(t.meta).values({ key, value }).onConflictDoUpdate({ target: t.meta.key, set: { value } }).run();
  file.meta.set(key, value);
}

/** The next of a counter, from 1 on; never given twice. */
export const nextNumber = (file: PortalFile, counter: string): number => nextNumbers(file, counter, 1);

/** The first of the next `n` of a counter, written down at once. */
export function nextNumbers(file: PortalFile, counter: string, n: number): number {
  const last = Number(readMeta(file, counter) ?? 0);
  if (n > 0) writeMeta(file, counter, String(last + n));
  return last + 1;
}
