/** Changes that are on their way to other systems: written down in the transaction of the change itself, and kept until they have arrived. */
import type { Values } from "@/core/schema/types";
import type { Feed as Hears } from "@/data/events/feeds";
import type { PortalFile } from "@/data/file/open";
import { importedRows } from "@/data/imports/fates";
import { enqueue } from "@/data/jobs/queue";
import { writeMeta } from "@/data/tables/meta";
import { schemaOf } from "@/data/tables/read";
import type { Rule, Way } from "../feeds";

export const WRITE_BACK = "write to sources";
/** Tables of which anything goes out, so that an event of another costs no question. */
const TABLES_OUT = "source_tables_out";

export type SendState = "waiting" | "asked" | "sent" | "dropped";

export interface Send {
  readonly n: number;
  readonly feedId: string;
  readonly recordId: string;
  readonly was: Values;
  readonly now: Values;
  readonly state: SendState;
  readonly tries: number;
  readonly nextAt: number;
  readonly madeAt: number;
  readonly endedAt: number | null;
  readonly message: string | null;
  /** Where both sides changed the same: by the name of the column there. */
  readonly ours: Readonly<Record<string, string>> | null;
  readonly theirs: Readonly<Record<string, string>> | null;
  readonly outcome: Rule | null;
}

const ASK = `SELECT n, feed_id AS feedId, record_id AS recordId, was, now, state, tries, next_at AS nextAt, made_at AS madeAt, ended_at AS endedAt,
  message, ours, theirs, outcome FROM sys_source_sends s`;
type Stored = Omit<Send, "was" | "now" | "ours" | "theirs"> & Record<"was" | "now", string> & Record<"ours" | "theirs", string | null>;
const sendOf = (r: Stored): Send => ({
  ...r,
  was: JSON.parse(r.was) as Values,
  now: JSON.parse(r.now) as Values,
  ours: r.ours === null ? null : (JSON.parse(r.ours) as Record<string, string>),
  theirs: r.theirs === null ? null : (JSON.parse(r.theirs) as Record<string, string>),
});
const many = (rows: unknown[]): Send[] => (rows as Stored[]).map(sendOf);

/** To be called wherever feeds, or what goes out of them, change. */
export function noteTablesOut(file: PortalFile): void {
  const tables = file.db
    .prepare("SELECT DISTINCT table_id FROM sys_source_feeds WHERE table_id IS NOT NULL AND (ways <> '{}' OR makes = 1) ORDER BY 1")
    .pluck()
    .all();
  writeMeta(file, TABLES_OUT, JSON.stringify(tables));
}

const goesOut = (file: PortalFile, table: string): boolean => (JSON.parse(file.meta.get(TABLES_OUT) ?? "[]") as string[]).includes(table);

interface FeedOut {
  readonly id: string;
  readonly ways: string;
  readonly makes: number;
  /** Whether its row there is known, and whether it is still on its way there. */
  readonly known: number;
  readonly begun: number;
}

/** What comes from a source goes back to none by itself. */
export const sourceFeed: Hears = {
  kinds: ["record-added", "record-changed", "record-restored", "record-took-over", "act-undone", "act", "imported"],
  hear: (file, event, id) => {
    const { table, record, after } = event;
    if (event.via === "source" || !table || !goesOut(file, table)) return;
    if (event.imported !== undefined) return hearImport(file, { table, id, at: event.at, importId: event.imported });
    if (!record || !after) return;
    const feeds = file.db
      .prepare(
        `SELECT f.id, f.ways, f.makes, EXISTS (SELECT 1 FROM sys_source_records r WHERE r.feed_id = f.id AND r.record_id = @record) AS known,
           EXISTS (SELECT 1 FROM sys_source_sends s WHERE s.feed_id = f.id AND s.record_id = @record AND s.state IN ('waiting', 'asked')) AS begun
         FROM sys_source_feeds f WHERE f.table_id = @table AND (f.ways <> '{}' OR f.makes = 1)`,
      )
      .all({ table, record }) as FeedOut[];
    let any = false;
    for (const f of feeds) {
      const ways = JSON.parse(f.ways) as Record<string, Way>;
      const out = (v: Values | null | undefined): Values => Object.fromEntries(Object.entries(v ?? {}).filter(([field]) => field in ways));
      const now = out(after);
      const made = f.makes === 1 && event.kind === "record-added";
      if (!made && !(f.known || f.begun)) continue;
      if (!made && Object.keys(now).length === 0) continue;
      file.db
        .prepare("INSERT INTO sys_source_sends (feed_id, record_id, event_id, was, now, next_at, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)")
        .run(f.id, record, id, JSON.stringify(out(event.before)), JSON.stringify(now), event.at, event.at);
      any = true;
    }
    if (any) wakeSending(file, event.at);
  },
};

/** Rows of a file that was brought in by hand. Those of a reading came from a source. */
function hearImport(file: PortalFile, e: { table: string; id: number; at: number; importId: string }): void {
  const read = file.db.prepare(
    "SELECT 1 FROM sys_source_runs WHERE import_id = @id UNION ALL SELECT 1 FROM sys_source_feeds WHERE import_id = @id",
  );
  if (read.get({ id: e.importId })) return;
  const table = schemaOf(file).table(e.table);
  const put = file.db.prepare(
    "INSERT INTO sys_source_sends (feed_id, record_id, event_id, was, now, next_at, made_at) VALUES (@feed, @record, @event, @was, @now, @at, @at)",
  );
  const known = file.db.prepare("SELECT 1 FROM sys_source_records WHERE feed_id = ? AND record_id = ?");
  let any = false;
  for (const { id, ways, makes } of outOf(file, e.table)) {
    const fields = Object.keys(JSON.parse(ways) as object).filter((f) => table.fields.some((x) => x.id === f));
    for (const row of importedRows(file, e.importId, table, fields)) {
      const goes = row.added ? makes === 1 : Object.keys(row.now).length > 0 && known.get(id, row.record) !== undefined;
      if (!goes) continue;
      put.run({ feed: id, record: row.record, event: e.id, was: "{}", now: JSON.stringify(row.now), at: e.at });
      any = true;
    }
  }
  if (any) wakeSending(file, e.at);
}

const outOf = (file: PortalFile, table: string): Pick<FeedOut, "id" | "ways" | "makes">[] =>
  file.db
    .prepare("SELECT id, ways, makes FROM sys_source_feeds WHERE table_id = ? AND (ways <> '{}' OR makes = 1)")
    .all(table) as FeedOut[];

/** Queues one job for all changes that wait. */
export function wakeSending(file: PortalFile, at: number): void {
  const soon = file.db.prepare("SELECT 1 FROM sys_jobs WHERE kind = ? AND state = 'waiting' AND run_at <= ? LIMIT 1").get(WRITE_BACK, at);
  if (!soon) enqueue(file, WRITE_BACK, {}, at);
}

/** None of the same record stands before it: a change that is asked about holds up those after it. Nothing goes while its feed is paused. */
const FIRST = `NOT EXISTS (SELECT 1 FROM sys_source_sends e
  WHERE e.feed_id = s.feed_id AND e.record_id = s.record_id AND e.state IN ('waiting', 'asked') AND e.n < s.n)
  AND EXISTS (SELECT 1 FROM sys_source_feeds f WHERE f.id = s.feed_id AND f.paused_at IS NULL)`;

/** The first that is due; of each record the earliest alone, with all that wait behind it. Empty where none is. */
export function nextGroup(file: PortalFile, now: number): Send[] {
  const [first] = many(
    file.db.prepare(`${ASK} WHERE s.state = 'waiting' AND s.next_at <= ? AND ${FIRST} ORDER BY s.tries, s.next_at, s.n LIMIT 1`).all(now),
  );
  if (!first) return [];
  return many(
    file.db
      .prepare(`${ASK} WHERE s.feed_id = ? AND s.record_id = ? AND s.state = 'waiting' ORDER BY s.n`)
      .all(first.feedId, first.recordId),
  );
}

export const nextSendAt = (file: PortalFile): number | null =>
  file.db.prepare(`SELECT min(s.next_at) FROM sys_source_sends s WHERE s.state = 'waiting' AND ${FIRST}`).pluck().get() as number | null;

/** On their way, or asked about; the oldest first. */
export const openSends = (file: PortalFile, feed: string, most = 50): Send[] =>
  many(file.db.prepare(`${ASK} WHERE s.feed_id = ? AND s.state IN ('waiting', 'asked') ORDER BY s.n LIMIT ?`).all(feed, most));
/** How many changes of a feed's records wait to go out, or to be decided by somebody. */
export const openCount = (file: PortalFile, feed: string, state: "waiting" | "asked"): number =>
  file.db.prepare("SELECT count(*) FROM sys_source_sends WHERE feed_id = ? AND state = ?").pluck().get(feed, state) as number;
/** Whether this is said of another change already: nobody is told the same of each. */
export const isSaid = (file: PortalFile, feed: string, message: string): boolean =>
  file.db.prepare("SELECT 1 FROM sys_source_sends WHERE feed_id = ? AND state = 'waiting' AND message = ? LIMIT 1").get(feed, message) !==
  undefined;
/** The last number given, whatever became of it. */
export const lastSend = (file: PortalFile): number =>
  (file.db.prepare("SELECT max(n) FROM sys_source_sends").pluck().get() as number | null) ?? 0;
/** Open ones that were made after that number; the oldest first. */
export const openSendsAfter = (file: PortalFile, feed: string, n: number): Send[] =>
  many(file.db.prepare(`${ASK} WHERE s.feed_id = ? AND s.n > ? AND s.state IN ('waiting', 'asked') ORDER BY s.n`).all(feed, n));
/** What became of the latest, newest first. */
export const endedSends = (file: PortalFile, feed: string, most = 20): Send[] =>
  many(file.db.prepare(`${ASK} WHERE s.feed_id = ? AND s.state IN ('sent', 'dropped') ORDER BY s.n DESC LIMIT ?`).all(feed, most));
/** Changes of one record that have not arrived. */
export const openSendsOf = (file: PortalFile, record: string): Send[] =>
  many(file.db.prepare(`${ASK} WHERE s.record_id = ? AND s.state IN ('waiting', 'asked') ORDER BY s.n`).all(record));
/** Which of these records has a change that was tried and has not arrived, or that is asked about. */
export function lateOf(file: PortalFile, table: string, records: readonly string[]): ReadonlyMap<string, "waiting" | "asked"> {
  if (!goesOut(file, table)) return new Map();
  const ask = file.db.prepare(
    `SELECT record_id, max(state = 'asked') FROM sys_source_sends WHERE record_id IN (SELECT value FROM json_each(?))
       AND (state = 'asked' OR state = 'waiting' AND tries > 0) GROUP BY record_id`,
  );
  const rows = ask.raw().all(JSON.stringify(records)) as [string, number][];
  return new Map(rows.map(([id, asked]) => [id, asked ? "asked" : "waiting"]));
}

export const sendBy = (file: PortalFile, n: number): Send | undefined => many(file.db.prepare(`${ASK} WHERE s.n = ?`).all(n))[0];

/** How long what has arrived stays in the list, in days. */
export const SENT_DAYS = 90;
/** Forgets changes that went out before a time in milliseconds. */
export const sweepSent = (file: PortalFile, before: number): void =>
  void file.db.prepare("DELETE FROM sys_source_sends WHERE state IN ('sent', 'dropped') AND ended_at < ?").run(before);
