/**
 * Changes made here go to the other system: of each record in their order, tried again until they arrive. Where both sides changed the same
 * value, the feed's rule decides, and both values are kept with it.
 */
import type { Owner } from "@/core/access/who/viewer";
import { fromJson } from "@/core/exchange/present";
import type { Table } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { once } from "@/data/file/per-process";
import { transact } from "@/data/file/transact";
import { Desk } from "@/data/records/desk";
import { differing, type SourceAdapter, type SourceRow, type SourceTrouble, type SourceWrite } from "@/services/sources/contract";
import { type Feed, feedById, isOwn, keyField, type Rule, readNow } from "../feeds";
import { type Source, settingsFor, sourceById } from "../sources";
import { isSaid, nextGroup, nextSendAt, openCount, type Send, type SendState, wakeSending } from "./queue";
import { canGoOut, rowFor } from "./texts";

export interface Sending {
  readonly adapter: (s: Source) => SourceAdapter;
  readonly owner: () => Owner;
  /** Who works here hears that a change does not arrive, or is to be decided. */
  readonly tellStaff: (file: PortalFile, source: Source, feed: Feed, why: string) => void;
  readonly now: () => number;
}

const MINUTE = 60_000;
/** Growing waits, and then for ever twice a day: a change is never given up by itself. */
const WAITS = [0.25, 1, 5, 15, 60, 240, 720].map((m) => m * MINUTE);
/** Wait before the next try where the other system refuses it and somebody must put that right. */
const RARELY = 240 * MINUTE;
/** A job ends after this long; the next one goes on. */
const LONGEST = 60_000;

const busy = once("files that send to sources", () => new Map<string, Promise<void>>());

/** All that is due now. Of one file at a time: a change goes once. */
export async function sendDue(file: PortalFile, r: Sending): Promise<void> {
  const before = busy.get(file.slug) ?? Promise.resolve();
  const work = before.then(() => sendAll(file, r));
  const settled = work.catch(() => {});
  busy.set(file.slug, settled);
  await work.finally(() => busy.get(file.slug) === settled && busy.delete(file.slug));
}

async function sendAll(file: PortalFile, r: Sending): Promise<void> {
  const until = r.now() + LONGEST;
  while (r.now() < until) {
    const group = nextGroup(file, r.now());
    if (group.length === 0) break;
    await sendGroup(file, group, r);
  }
  const next = nextSendAt(file);
  if (next !== null) wakeSending(file, Math.max(next, r.now()));
}

interface Ours {
  readonly file: PortalFile;
  readonly group: readonly Send[];
  readonly feed: Feed;
  readonly source: Source;
  readonly table: Table;
  readonly r: Sending;
}

/** All that waits of one record, as one change. */
async function sendGroup(file: PortalFile, group: readonly Send[], r: Sending): Promise<void> {
  const feed = feedById(file, group[0]!.feedId);
  const source = feed && sourceById(file, feed.sourceId);
  const { policy } = published(file);
  const table = feed?.tableId ? policy.schema.findTable(feed.tableId) : undefined;
  const adapter = source && r.adapter(source);
  if (!feed || !source || !table || !adapter?.write || !isOwn(feed)) return drop(file, group, "Nothing goes there any more.", r.now());
  const o: Ours = { file, group, feed, source, table, r };
  const record = new Desk(file, policy, r.owner()).read(table, group[0]!.recordId);
  if (!record) return drop(file, group, "The record is gone here.", r.now());
  const known = file.db
    .prepare("SELECT own_key AS key, seen FROM sys_source_records WHERE feed_id = ? AND record_id = ?")
    .get(feed.id, record.id) as { key: string | null; seen: string | null } | undefined;
  if (known && (known.key === null || known.seen === null)) {
    // Nothing is written over what nobody has looked at.
    readNow(file, feed.id, r.now());
    return wait(o, { when: "later", message: "It is read first." });
  }
  const all = canGoOut(feed, table, adapter.fixed).filter((x) => x.field.id in feed.ways);
  const out = known ? all.filter((x) => group.some((s) => x.field.id in s.now && !isTheirs(s, x.column))) : all;
  if (out.length === 0) return settled(o, "dropped", null);
  const write: SourceWrite = {
    key: known?.key ?? null,
    values: rowFor(out, record),
    // What the owner has decided about counts as seen: another change there is asked about anew.
    seen: known ? Object.assign(JSON.parse(known.seen!) as SourceRow, ...group.map((s) => s.theirs ?? {})) : null,
    once: `${feed.id}-${group[0]!.n}`,
    isOthers: known || !begun(file, group) ? null : (key) => isKnown(file, feed, key),
  };
  await deliver(o, write, (w) => adapter.write!(settingsFor(file, source), feed.object, w), null);
}

/** Notes that a row is about to be made there. True where that was noted before: nobody can tell whether it was made then. */
function begun(file: PortalFile, group: readonly Send[]): boolean {
  const set = file.db.prepare("UPDATE sys_source_sends SET tries = tries + 1 WHERE n = ?");
  transact(file, () => {
    for (const s of group) set.run(s.n);
  });
  return group[0]!.tries > 0;
}

const isKnown = (file: PortalFile, feed: Feed, key: string): boolean =>
  file.db.prepare("SELECT 1 FROM sys_source_records WHERE feed_id = ? AND own_key = ?").get(feed.id, key) !== undefined;

type Deliver = (w: SourceWrite) => ReturnType<NonNullable<SourceAdapter["write"]>>;

async function deliver(o: Ours, write: SourceWrite, send: Deliver, over: Met | null): Promise<void> {
  const { file, group, feed, r } = o;
  const came = await send(write);
  if (!came.ok) return wait(o, came.error);
  answersAgain(o);
  const done = came.value;
  if (done.kind === "gone") return drop(file, group, "Its row is not there any more.", r.now());
  if (done.kind === "written") {
    const message = arrived(o, done.key, done.row);
    if (message) r.tellStaff(file, o.source, feed, message);
    return settled(o, "sent", over, message);
  }
  const names = differing(write.values, write.seen!, done.row);
  const of = (row: SourceRow): SourceRow => Object.fromEntries(names.map((c) => [c, row[c] ?? ""]));
  const met: Met = { ours: of(write.values), theirs: of(done.row), outcome: null };
  switch (ruled(feed.rule, done.changedAt, group.at(-1)!.madeAt)) {
    case "ours":
      return deliver(o, { ...write, seen: done.row }, send, { ...met, outcome: "ours" });
    case "theirs":
      return takeTheirs(file, group, met, r.now());
    case "ask":
      if (openCount(file, feed.id, "asked") === 0)
        r.tellStaff(file, o.source, feed, "A value was changed here and there. Say which one stays.");
      put(file, group, "asked", { met });
  }
}

/** Where the other system does not say when, nobody can tell which is later. */
function ruled(rule: Rule, theirs: number | null, ours: number): Exclude<Rule, "later"> {
  if (rule !== "later") return rule;
  return theirs === null ? "ask" : theirs > ours ? "theirs" : "ours";
}

const isTheirs = (s: Send, column: string): boolean => s.outcome === "theirs" && s.theirs !== null && column in s.theirs;

/** Values that both sides changed stay as they are there; what else was changed here still goes. */
export const takeTheirs = (file: PortalFile, group: readonly Send[], met: Met, now: number): void =>
  put(file, group, "waiting", { met: { ...met, outcome: "theirs" }, next: now });

/** Theirs come in by a reading of all, as nothing tells which rows were left out meanwhile. */
function settled({ file, group, feed, r }: Ours, state: "sent" | "dropped", met: Met | null, message: string | null = null): void {
  const theirs = group.some((s) => s.outcome === "theirs");
  transact(file, () => {
    put(file, group, state, { at: r.now(), met, message });
    if (theirs) file.db.prepare("UPDATE sys_source_feeds SET mark = NULL WHERE id = ?").run(feed.id);
  });
  if (theirs) readNow(file, feed.id, r.now());
}

/** Null, or a sentence where the record cannot keep the key of its row. */
function arrived({ file, feed, table, group, r }: Ours, key: string, row: SourceRow): string | null {
  const id = group[0]!.recordId;
  return transact(file, () => {
    file.db
      .prepare(
        `INSERT INTO sys_source_records (feed_id, record_id, run, own_key, seen) VALUES (@feed, @id, @run, @key, @row)
         ON CONFLICT DO UPDATE SET own_key = excluded.own_key, seen = excluded.seen`,
      )
      .run({ feed: feed.id, id, run: feed.run, key, row: JSON.stringify(row) });
    const field = table.fields.find((f) => f.id === keyField(feed));
    if (!field) return null;
    // A record made here has its key from now on, so that its row is known again.
    const desk = new Desk(file, published(file).policy, r.owner(), "source");
    const text = fromJson(field, key);
    const value = text.ok ? text : fromJson(field, Number(key));
    if (value.ok && desk.read(table, id)?.fields[field.id] === value.value) return null;
    const kept = value.ok && desk.change(table, id, { [field.id]: value.value }, null).ok;
    return kept ? null : `It is there as ${key}, and “${field.name}” cannot hold that: put it right, or it comes in a second time.`;
  });
}

/**
 * A system that does not answer is not asked for each record in turn: all that waits for it waits with this one. What somebody must put right
 * may be of this record alone.
 */
function wait({ file, group, feed, source, r }: Ours, t: SourceTrouble): void {
  const now = r.now();
  const tries = t.when === "later" ? mostTries(file, source) : group[0]!.tries;
  const told = isSaid(file, feed.id, t.message);
  const next = now + Math.max(t.when === "never" ? RARELY : WAITS[Math.min(tries, WAITS.length - 1)]!, t.wait ?? 0);
  const set = file.db.prepare("UPDATE sys_source_sends SET tries = ?, next_at = ?, message = ? WHERE n = ?");
  transact(file, () => {
    for (const s of group) set.run(s.tries + 1, next, t.message, s.n);
    if (t.when === "later")
      file.db.prepare(`UPDATE sys_source_sends SET next_at = max(next_at, ?) WHERE ${OF_SOURCE}`).run(next, source.id);
  });
  if (t.when === "never" && !told) r.tellStaff(file, source, feed, `A change does not arrive there. ${t.message}`);
}

const OF_SOURCE = "state = 'waiting' AND feed_id IN (SELECT id FROM sys_source_feeds WHERE source_id = ?)";
const mostTries = (file: PortalFile, source: Source): number =>
  file.db.prepare(`SELECT max(tries) FROM sys_source_sends WHERE ${OF_SOURCE}`).pluck().get(source.id) as number;

/** Whatever only waited for it to answer goes now. */
const answersAgain = ({ file, source, r }: Ours): void =>
  void file.db
    .prepare(`UPDATE sys_source_sends SET next_at = ? WHERE ${OF_SOURCE} AND tries = 0 AND next_at > ?`)
    .run(r.now(), source.id, r.now());

export interface Met {
  readonly ours: SourceRow;
  readonly theirs: SourceRow;
  readonly outcome: Rule | null;
}

const drop = (file: PortalFile, group: readonly Send[], message: string, at: number): void => put(file, group, "dropped", { at, message });

interface Becomes {
  readonly at?: number;
  readonly message?: string | null;
  readonly met?: Met | null;
  readonly next?: number;
}

function put(file: PortalFile, group: readonly Send[], state: SendState, { at, message, met, next }: Becomes): void {
  const set = file.db.prepare(
    `UPDATE sys_source_sends SET state = ?, ended_at = ?, message = ?, ours = coalesce(?, ours), theirs = coalesce(?, theirs),
       outcome = coalesce(?, outcome), next_at = coalesce(?, next_at) WHERE n = ?`,
  );
  const text = (row: SourceRow | undefined): string | null => (row ? JSON.stringify(row) : null);
  transact(file, () => {
    for (const s of group)
      set.run(state, at ?? null, message ?? null, text(met?.ours), text(met?.theirs), met?.outcome ?? null, next ?? null, s.n);
  });
}
