/** What is read of a source: an object of it, into which table and how, how often, and what becomes of records that it lacks. */
import type { Owner } from "@/core/access/who/viewer";
import { type ImportPlan, importPlanSchema, keyFields } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import { hasChoices } from "@/core/schema/fields/natures";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { importJob } from "@/data/imports/jobs";
import { enqueue } from "@/data/jobs/queue";
import { schemaOf } from "@/data/tables/read";
import type { SourceOnly } from "@/services/sources/contract";
import { note } from "./sources";

export const READ_SOURCE = "read source";
/** Minutes between two readings. */
export const EVERY = [15, 60, 360, 1_440, 10_080] as const;
export type Gone = "leave" | "remove";
/** For a field that goes there: whether it comes in, too. */
export type Way = "both" | "out";
/** Whose value stays where both sides changed the same. */
export const RULES = ["ask", "theirs", "ours", "later"] as const;
export type Rule = (typeof RULES)[number];

export interface Feed {
  readonly id: string;
  readonly sourceId: string;
  readonly object: string;
  readonly name: string;
  /** The import of the first rows, which the owner maps by hand; null until they are fetched. */
  readonly importId: string | null;
  readonly tableId: string | null;
  readonly header: readonly string[] | null;
  readonly plan: ImportPlan | null;
  readonly every: number | null;
  readonly gone: Gone;
  readonly nextAt: number | null;
  readonly pausedAt: number | null;
  readonly pausedWhy: string | null;
  readonly failingSince: number | null;
  readonly run: number;
  /** The column that the other system itself knows its rows by. */
  readonly ownKey: string | null;
  /** From where changes are read; null where all is. */
  readonly mark: string | null;
  /** Fields that go there, by id. */
  readonly ways: Readonly<Record<string, Way>>;
  /** Whether records made here are made there. */
  readonly makes: boolean;
  readonly rule: Rule;
  /** Which of its rows come in; null where all do. */
  readonly only: SourceOnly | null;
}

const ASK = `SELECT id, source_id AS sourceId, object, name, import_id AS importId, table_id AS tableId, header, plan, every, gone, next_at AS nextAt,
  paused_at AS pausedAt, paused_why AS pausedWhy, failing_since AS failingSince, run, own_key AS ownKey, mark, ways, makes, rule, only FROM sys_source_feeds`;

type Row = Omit<Feed, "header" | "plan" | "ways" | "makes" | "only"> &
  Record<"header" | "plan" | "only", string | null> & { ways: string; makes: number };
function feedOf(r: Row): Feed {
  const plan = r.plan === null ? null : importPlanSchema.safeParse(JSON.parse(r.plan));
  const header = r.header === null ? null : (JSON.parse(r.header) as string[]);
  const only = r.only === null ? null : (JSON.parse(r.only) as SourceOnly);
  return { ...r, header, plan: plan?.success ? plan.data : null, ways: JSON.parse(r.ways) as Feed["ways"], makes: r.makes === 1, only };
}

/** The feeds of a source. */
export const feedsOf = (file: PortalFile, source: string): Feed[] =>
  (file.db.prepare(`${ASK} WHERE source_id = ? ORDER BY rowid`).all(source) as Row[]).map(feedOf);
/** One feed; undefined where there is none. */
export const feedById = (file: PortalFile, id: string): Feed | undefined => {
  const row = file.db.prepare(`${ASK} WHERE id = ?`).get(id) as Row | undefined;
  return row && feedOf(row);
};

/** Whether its records are known by the key of the other system itself: then changes can be read, and sent. */
export const isOwn = (feed: Feed): boolean =>
  feed.ownKey !== null && feed.plan?.key != null && feed.header?.[feed.plan.key] === feed.ownKey;

/** The field that holds the key. */
export function keyField(feed: Feed): string | null {
  const column = feed.plan?.key == null ? undefined : feed.plan.columns[feed.plan.key];
  return column?.to === "field" ? column.field : null;
}

/** Its rows are fetched first, into an import that the owner maps. */
export function addFeed(
  file: PortalFile,
  source: string,
  object: { readonly id: string; readonly name: string },
  only: SourceOnly | null = null,
): string {
  const id = newId();
  file.db
    .prepare("INSERT INTO sys_source_feeds (id, source_id, object, name, only) VALUES (?, ?, ?, ?, ?)")
    .run(id, source, object.id, object.name, only && JSON.stringify(only));
  return id;
}
/** Notes that the first rows have been fetched. */
export const fetched = (file: PortalFile, id: string, importId: string, ownKey: string | null): void =>
  void file.db.prepare("UPDATE sys_source_feeds SET import_id = ?, own_key = ? WHERE id = ?").run(importId, ownKey, id);

/** Once the first import is in: its mapping is the feed's from now on, and its records are the feed's. */
export function adopt(file: PortalFile, owner: Owner, feed: Feed): Feed {
  if (feed.plan || !feed.importId) return feed;
  const job = importJob(file, owner, feed.importId);
  if (job?.state !== "done" || !job.tableId) return feed;
  const stored = file.db.prepare("SELECT json_extract(plan, '$.kept') AS kept, made FROM sys_imports WHERE id = ?").get(feed.importId) as {
    kept: string | null;
    made: string | null;
  };
  const plan = stored.kept === null ? null : importPlanSchema.safeParse(JSON.parse(stored.kept));
  if (!plan?.success) return feed;
  const own = job.analysis.header.indexOf(feed.ownKey ?? "");
  const key = plan.data.key ?? keyChoices(file, plan.data).find((c) => c.at === own)?.at ?? likelyKey(file, plan.data);
  const withKey = { ...plan.data, columns: takingNewWords(file, plan.data, stored.made), key };
  return transact(file, () => {
    file.db
      .prepare("UPDATE sys_source_feeds SET table_id = ?, header = ?, plan = ? WHERE id = ?")
      .run(job.tableId, JSON.stringify(job.analysis.header), JSON.stringify(withKey), feed.id);
    file.db
      .prepare(
        "INSERT OR IGNORE INTO sys_source_records (feed_id, record_id, run) SELECT ?, record_id, 0 FROM sys_import_rows WHERE import_id = ?",
      )
      .run(feed.id, feed.importId);
    return feedById(file, feed.id)!;
  });
}

/**
 * A field of choices that was made of a column takes its new words as further choices: the other system has its own list, of which the first
 * reading met a part. Fields that were there before keep to theirs.
 */
function takingNewWords(file: PortalFile, plan: ImportPlan, madeThen: string | null): ImportPlan["columns"] {
  const made = JSON.parse(madeThen ?? "{}") as { table?: string | null; fields?: string[] };
  const schema = schemaOf(file);
  return plan.columns.map((c) => {
    const isMade = c.to === "field" && (made.table || made.fields?.includes(c.field));
    const field = isMade ? schema.findField(c.field) : undefined;
    return c.to === "field" && field && hasChoices(field) ? { ...c, add: true } : c;
  });
}

/** Columns by which its records can be known again, with the field of each. */
export function keyChoices(file: PortalFile, plan: ImportPlan): { readonly at: number; readonly field: string; readonly name: string }[] {
  const table = "id" in plan.table ? schemaOf(file).findTable(plan.table.id) : undefined;
  if (!table) return [];
  const fields = keyFields(table);
  return plan.columns.flatMap((c, at) => {
    const field = c.to === "field" ? fields.find((f) => f.id === c.field) : undefined;
    return field ? [{ at, field: field.id, name: field.name }] : [];
  });
}

/** The first that is called a number or a key, or else the first. */
function likelyKey(file: PortalFile, plan: ImportPlan): number | null {
  const choices = keyChoices(file, plan);
  return (choices.find((c) => /\b(id|key|code|number|no|ref|reference)\b/i.test(c.name)) ?? choices[0])?.at ?? null;
}

export interface FeedSettings {
  readonly every: number | null;
  readonly gone: Gone;
  readonly key: number;
}

/** Sets how often a feed is read, by what its records are known, and what becomes of those that are gone. A sentence where that is not possible. */
export function setFeed(file: PortalFile, owner: Owner, id: string, s: FeedSettings): Result<null, string> {
  return transact(file, () => {
    const feed = feedById(file, id);
    if (!feed?.plan) return err("Bring it in once first.");
    if (!keyChoices(file, feed.plan).some((c) => c.at === s.key)) return err("Choose the column by which its records are known again.");
    if (s.every !== null && !EVERY.some((m) => m === s.every)) return err("Choose how often it is read.");
    const nextAt = s.every === null ? null : owner.now + s.every * 60_000;
    file.db
      .prepare("UPDATE sys_source_feeds SET every = ?, gone = ?, plan = ?, next_at = ?, mark = iif(?, mark, NULL) WHERE id = ?")
      .run(s.every, s.gone, JSON.stringify({ ...feed.plan, key: s.key }), nextAt, s.key === feed.plan.key ? 1 : 0, id);
    if (nextAt !== null) enqueue(file, READ_SOURCE, { feed: id }, owner.now, { after: nextAt - owner.now });
    note(file, owner, "source-changed", feed.name);
    return ok(null);
  });
}

/** At a press. */
export const readNow = (file: PortalFile, id: string, now: number): void => void enqueue(file, READ_SOURCE, { feed: id, now: true }, now);

/** Pauses or resumes a feed. False where there is nothing to change. */
export function pauseFeed(file: PortalFile, owner: Owner, id: string, paused: boolean): boolean {
  const feed = feedById(file, id);
  if (!feed || (feed.pausedAt !== null) === paused) return false;
  file.db
    .prepare("UPDATE sys_source_feeds SET paused_at = ?, paused_why = NULL, failing_since = NULL WHERE id = ?")
    .run(paused ? owner.now : null, id);
  note(file, owner, paused ? "source-paused" : "source-resumed", feed.name);
  if (!paused) readNow(file, id, owner.now);
  return true;
}

/** What came by it stays. */
export function dropFeed(file: PortalFile, owner: Owner, id: string): boolean {
  const feed = feedById(file, id);
  if (!feed) return false;
  file.db.prepare("DELETE FROM sys_source_feeds WHERE id = ?").run(id);
  note(file, owner, "source-changed", feed.name);
  return true;
}

export interface Run {
  readonly n: number;
  readonly at: number;
  readonly endedAt: number | null;
  readonly state: "running" | "done" | "failed";
  readonly added: number;
  readonly changed: number;
  readonly same: number;
  readonly bad: number;
  readonly removed: number;
  readonly message: string | null;
  readonly importId: string | null;
}

const ASK_RUN =
  "SELECT n, at, ended_at AS endedAt, state, added, changed, same, bad, removed, message, import_id AS importId FROM sys_source_runs WHERE feed_id = ?";

/** The latest first. */
export const runsOf = (file: PortalFile, feed: string, most = 20): Run[] =>
  file.db.prepare(`${ASK_RUN} ORDER BY n DESC LIMIT ?`).all(feed, most) as Run[];
/** One reading of a feed by its number; undefined where there is none. */
export const runBy = (file: PortalFile, feed: string, n: number): Run | undefined =>
  file.db.prepare(`${ASK_RUN} AND n = ?`).get(feed, n) as Run | undefined;
