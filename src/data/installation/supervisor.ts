/**
 * Portals, each by itself: one whose file cannot be opened (damaged, locked, of a newer Elkhorn, no room) keeps no other from being served,
 * looped over or listed. It is tried again, at first at once and then ever more seldom, and comes back by itself.
 */

import type { PortalFile } from "../file/open";
import { control, portalFile } from "../file/open";
import { once } from "../file/per-process";
import { isBusy } from "../file/when-free";

/** Why a portal cannot be opened just now. */
export interface Unavailable {
  /** As words for whoever runs Elkhorn: what is wrong, and what to do. */
  readonly why: string;
  readonly since: number;
  readonly tries: number;
  /** When it is tried again. Milliseconds since the epoch. */
  readonly again: number;
}

const down = once("portals that cannot be opened", () => new Map<string, Unavailable>());
const FIRST_PAUSE = 1_000;
const LONGEST_PAUSE = 60_000;

/** Null where the portal can be used; opens its file where that has not happened yet, or is to be tried again. */
export function unavailable(slug: string, now: number): Unavailable | null {
  const known = down.get(slug);
  if (known && now < known.again) return known;
  try {
    void portalFile(slug)?.db;
    down.delete(slug);
    return null;
  } catch (e) {
    return noteFailure(slug, e, now);
  }
}

/** After a failure that may be the file's: of others nothing is noted, and null comes back. */
export function noteFailure(slug: string, e: unknown, now: number): Unavailable {
  const before = down.get(slug);
  const tries = (before?.tries ?? 0) + 1;
  const pause = Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** Math.min(10, tries - 1));
  const state = { why: wordsOf(e), since: before?.since ?? now, tries, again: now + pause };
  down.set(slug, state);
  return state;
}

/** SQLite's result codes (sqlite.org/rescode.html) in words. */
function wordsOf(e: unknown): string {
  const { code = "", message = "" } = (e ?? {}) as { code?: string; message?: string };
  if (isBusy(e)) return "Its file is locked by another program. End that program; the portal comes back by itself.";
  if (code.startsWith("SQLITE_NOTADB") || code.startsWith("SQLITE_CORRUPT"))
    return "Its file is damaged. Stop Elkhorn, keep the damaged file, and put the latest backup in its place.";
  if (code.startsWith("SQLITE_FULL")) return "The disk is full. Make room; the portal comes back by itself.";
  if (code.startsWith("SQLITE_CANTOPEN") || code.startsWith("SQLITE_READONLY") || code.startsWith("SQLITE_IOERR") || code === "EACCES")
    return "Its file cannot be read or written. See that it belongs to the account that runs Elkhorn.";
  return message || "Its file could not be opened.";
}

const isOfTheFile = (e: unknown): boolean =>
  /^SQLITE_(?:NOTADB|CORRUPT|CANTOPEN|IOERR|READONLY|FULL)/.test(String((e as { code?: unknown } | null)?.code ?? ""));

/** Addresses of all portals, rehearsals among them. */
export const portalSlugs = (): string[] => control().db.prepare("SELECT slug FROM portals ORDER BY slug").pluck().all() as string[];

/**
 * The work with each portal in turn; others are answered in between. What fails in one is told and goes on with the next. A file that was
 * opened for this alone rests afterwards.
 */
export async function eachPortal(
  work: (file: PortalFile) => void | Promise<void>,
  now: () => number,
  told: (slug: string, e: unknown) => void,
): Promise<void> {
  for (const slug of portalSlugs()) {
    await new Promise((next) => setImmediate(next));
    if (unavailable(slug, now())) continue;
    const file = portalFile(slug);
    if (!file) continue;
    try {
      await work(file);
    } catch (e) {
      if (isOfTheFile(e)) noteFailure(slug, e, now());
      told(slug, e);
    }
    file.rest?.();
  }
}
