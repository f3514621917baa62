/**
 * The log kept to the age that its owner chose. What is older is written to a file beside the portal first, as anybody can read it, and
 * leaves the portal only once that file is whole. Money, merged records and this choice itself stay for good.
 */
import { mkdir, open, readdir, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { setImmediate as turn } from "node:timers/promises";
import { createGzip } from "node:zlib";
import { z } from "zod";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { EVENT_KINDS, keptForGood } from "@/core/events/kinds";
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { record } from "../events/record";
import { dataFolder, type PortalFile } from "../file/open";
import { keepSetting, settingOf } from "../file/settings";
import { transact } from "../file/transact";
import { LOG_COLUMNS, logCells } from "./as-file";
import { readLog } from "./log";

/** Months; null is for good. */
export const LOG_AGES = [6, 12, 24, 60, null] as const;
export type LogAge = (typeof LOG_AGES)[number];
const AT_FIRST: LogAge = 24;

const shape = z.object({ months: z.union([z.literal([6, 12, 24, 60]), z.null()]) });

/** For how many months entries are kept; null is for good. */
export const logAge = (file: PortalFile): LogAge => settingOf<{ months: LogAge }>(file, "log", shape, { months: AT_FIRST }).months;

/** Sets for how many months the log is kept; recorded. */
export function keepLogFor(file: PortalFile, owner: Owner, months: LogAge): void {
  transact(file, () => {
    keepSetting(file, "log", { months });
    const detail = months === null ? "for good" : `${months} months`;
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "log-age-set", detail });
  });
}

/** Events written and removed at once: a moment's work each. */
const PIECE = 1_000;
const FOR_GOOD = JSON.stringify(Object.keys(EVENT_KINDS).filter(keptForGood));

/**
 * Writes what is older than the owner's age to a file, then removes it, piece by piece. Nothing is removed where the file could not be
 * written whole. `owner` is whoever reads the log for it; `now` is in milliseconds.
 *
 * @returns how many events left the portal
 */
export async function thinLog(file: PortalFile, owner: Owner, now: number): Promise<number> {
  const months = logAge(file);
  if (months === null) return 0;
  // By whole months, so that there is a file a month at the most.
  const from = new Date(now);
  const until = Date.UTC(from.getUTCFullYear(), from.getUTCMonth() - months, 1);
  const of = oldOnes(file, until);
  if (!of) return 0;
  const { last } = of;
  await writeOut(file, owner, { ...of, until });
  let gone = 0;
  for (let ids = piece(file, 0, last); ids.length > 0; ids = piece(file, 0, last)) {
    const json = JSON.stringify(ids);
    transact(file, () => {
      file.db.prepare("DELETE FROM sys_event_values WHERE event_id IN (SELECT value FROM json_each(?))").run(json);
      file.db.prepare("DELETE FROM sys_events WHERE id IN (SELECT value FROM json_each(?))").run(json);
    });
    gone += ids.length;
    await turn();
  }
  return gone;
}

/**
 * When the first of them happened and the id of the last; null where there are none. Ids rise with time. The newest event of all stays,
 * however old: without it SQLite would give its number out again, and what goes by the number of the last event would be taken in.
 */
function oldOnes(file: PortalFile, until: number): { first: number; last: number } | null {
  const asked = (sql: string, ...values: unknown[]): number | undefined =>
    file.db
      .prepare(sql)
      .pluck()
      .get(...values) as number | undefined;
  const next = asked("SELECT id FROM sys_events WHERE at >= ? ORDER BY id LIMIT 1", until) ?? asked("SELECT max(id) FROM sys_events") ?? 0;
  const first = asked(
    "SELECT at FROM sys_events WHERE id < ? AND act NOT IN (SELECT value FROM json_each(?)) ORDER BY id LIMIT 1",
    next,
    FOR_GOOD,
  );
  return first === undefined ? null : { first, last: next - 1 };
}

const piece = (file: PortalFile, after: number, last: number): number[] =>
  file.db
    .prepare("SELECT id FROM sys_events WHERE id > ? AND id <= ? AND act NOT IN (SELECT value FROM json_each(?)) ORDER BY id LIMIT ?")
    .pluck()
    .all(after, last, FOR_GOOD, PIECE) as number[];

const folderOf = (file: PortalFile): string => join(dataFolder(), "logs", file.id);
const day = (at: number): string => new Date(at).toISOString().slice(0, 10);

async function writeOut(file: PortalFile, owner: Owner, of: { first: number; last: number; until: number }): Promise<void> {
  const folder = folderOf(file);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const path = await unused(join(folder, `${day(of.first)}_${day(of.until)}`));
  async function* lines(): AsyncGenerator<string> {
    yield BYTE_ORDER_MARK + csvLines([LOG_COLUMNS]);
    let after = 0;
    for (let ids = piece(file, after, of.last); ids.length > 0; ids = piece(file, after, of.last)) {
      yield csvLines(readLog(file, owner, { ids, limit: PIECE }).reverse().map(logCells));
      after = ids.at(-1)!;
      await turn();
    }
  }
  const to = await open(`${path}.part`, "w", 0o600);
  try {
    await pipeline(Readable.from(lines()), createGzip(), to.createWriteStream({ flush: true }));
  } catch (e) {
    await rm(`${path}.part`, { force: true });
    throw e;
  }
  await rename(`${path}.part`, path);
}

/** A file name that is free: the file of a night that broke off is kept beside the next one. */
async function unused(begins: string): Promise<string> {
  for (let n = 1; ; n++) {
    const path = `${begins}${n > 1 ? `-${n}` : ""}.csv.gz`;
    if (!(await stat(path).catch(() => null))) return path;
  }
}

export interface EarlierLog {
  /** As its address has it. */
  readonly name: string;
  /** Days, as YYYY-MM-DD: of the first event in it, and the one before which all of it was. */
  readonly from: string;
  readonly until: string;
  readonly bytes: number;
}

const NAME = /^(\d{4}-\d\d-\d\d)_(\d{4}-\d\d-\d\d)(?:-\d+)?[.]csv[.]gz$/;

/** Files of what is older, the newest first. */
export async function earlierLogs(file: PortalFile, _owner: Owner): Promise<EarlierLog[]> {
  const names = await readdir(folderOf(file)).catch(() => []);
  const found = names.flatMap((name) => {
    const [, from, until] = NAME.exec(name) ?? [];
    return from && until ? [{ name, from, until }] : [];
  });
  found.sort((a, b) => (a.until < b.until ? 1 : -1));
  return Promise.all(found.map(async (f) => ({ ...f, bytes: (await stat(join(folderOf(file), f.name))).size })));
}

/** One of these files as it lies on the disk; null for a name that is none of theirs. */
export async function earlierLog(file: PortalFile, _owner: Owner, name: string): Promise<{ bytes: number; stream: Readable } | null> {
  if (!NAME.test(name)) return null;
  // Opened before it is told of: gone a moment later, it can still be read to its end.
  const handle = await open(join(folderOf(file), name)).catch(() => null);
  return handle && { bytes: (await handle.stat()).size, stream: handle.createReadStream() };
}
