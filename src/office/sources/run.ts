/**
 * One reading of a source: fetched, read with the mapping that the owner made, compared with what is there, and brought in as an import is. A
 * shape that has changed, or far fewer records than before, pauses it and is told; nothing is guessed.
 */
import type { Owner } from "@/core/access/who/viewer";
import { fills, type ImportPlan, type PlanColumn, planProblems } from "@/core/exchange/import-plan";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { beginImport, bringInImport, giveUpImport, importJob, startCheck } from "@/data/imports/jobs";
import { enqueue } from "@/data/jobs/queue";
import { Desk } from "@/data/records/desk";
import { MOST_SOURCE_BYTES, type SourceTable, Troubled } from "@/services/sources/contract";
import { Came } from "./came";
import { Ended } from "./ended";
import { type Feed, feedById, isOwn, READ_SOURCE } from "./feeds";
import { fetchFirst, type Reading } from "./first";
import { keepMetTask, Met, metTask } from "./met";
import { type Source, settingsFor, sourceById } from "./sources";

interface Counts {
  added: number;
  changed: number;
  same: number;
  bad: number;
  removed: number;
}

const LOOK_AGAIN = 100;
const AT_ONCE = 20;
/** A failing source is told after this long. */
const TOLD_AFTER = 86_400_000;

/** Reads it if it is due, or asked for; and says when it is read next. */
export async function readFeed(file: PortalFile, id: string, asked: boolean, r: Reading): Promise<void> {
  const feed = feedById(file, id);
  const source = feed && sourceById(file, feed.sourceId);
  if (feed && source && feed.importId === null) return fetchFirst(file, source, feed, r);
  if (!feed?.plan || !source || feed.pausedAt !== null) return;
  const due = feed.every !== null && feed.nextAt !== null && feed.nextAt <= r.now();
  if (!asked && !due) return;
  const n = Number(
    file.db.prepare("INSERT INTO sys_source_runs (feed_id, at, state) VALUES (?, ?, 'running')").run(id, r.now()).lastInsertRowid,
  );
  const counts: Counts = { added: 0, changed: 0, same: 0, bad: 0, removed: 0 };
  const ran: ReadNow["ran"] = { n, importId: null };
  try {
    // What is on its way there goes first: then what is read holds it.
    await r.sendFirst(file);
    const message = await reading(file, source, feed, counts, ran, r);
    end(file, n, "done", counts, message, ran.importId, r.now());
    file.db.prepare("UPDATE sys_source_feeds SET failing_since = NULL WHERE id = ?").run(id);
  } catch (e) {
    await whenFree(file);
    if (!(e instanceof Ended)) {
      end(file, n, "failed", counts, "The reading failed on our side. Nothing more was changed.", ran.importId, r.now());
      throw e;
    }
    end(file, n, "failed", counts, e.message, ran.importId, r.now());
    const since = feed.failingSince ?? r.now();
    file.db.prepare("UPDATE sys_source_feeds SET failing_since = ? WHERE id = ?").run(since, id);
    if (e.stop) {
      file.db.prepare("UPDATE sys_source_feeds SET paused_at = ?, paused_why = ? WHERE id = ?").run(r.now(), e.message, id);
      r.tellStaff(file, source, feed, e.message);
    } else if (feed.failingSince !== null && r.now() - since >= TOLD_AFTER && r.now() - since < TOLD_AFTER + (feed.every ?? 0) * 60_000)
      r.tellStaff(file, source, feed, `${e.message} It has failed for a day.`);
  } finally {
    schedule(file, id, r.now());
  }
}

function schedule(file: PortalFile, id: string, now: number): void {
  const feed = feedById(file, id);
  if (!feed || feed.every === null || feed.pausedAt !== null) return;
  const nextAt = now + feed.every * 60_000;
  file.db.prepare("UPDATE sys_source_feeds SET next_at = ? WHERE id = ?").run(nextAt, id);
  enqueue(file, READ_SOURCE, { feed: id }, now, { after: nextAt - now });
}

function end(file: PortalFile, n: number, state: string, c: Counts, message: string | null, importId: string | null, now: number): void {
  file.db
    .prepare(
      "UPDATE sys_source_runs SET state = ?, added = ?, changed = ?, same = ?, bad = ?, removed = ?, message = ?, import_id = ?, ended_at = ? WHERE n = ?",
    )
    .run(state, c.added, c.changed, c.same, c.bad, c.removed, message, importId, now, n);
}

interface ReadNow {
  readonly file: PortalFile;
  readonly owner: Owner;
  readonly feed: Feed;
  readonly counts: Counts;
  readonly ran: { readonly n: number; importId: string | null };
  readonly met: Met;
}

async function reading(
  file: PortalFile,
  source: Source,
  feed: Feed,
  counts: Counts,
  ran: ReadNow["ran"],
  r: Reading,
): Promise<string | null> {
  const came = await r.adapter(source).read(settingsFor(file, source), feed.object, isOwn(feed) ? feed.mark : null, feed.only);
  if (!came.ok) throw new Ended(came.error.message, came.error.when === "never");
  const met = new Met();
  const read = { file, owner: r.owner(), feed, counts, ran, met };
  try {
    if (!("pieces" in came.value)) return await bringIn(read, came.value, null);
    const rows = new Came(file, feed, came.value, met);
    rows.keepKey();
    // Most readings of changes find none: then there is nothing to map.
    const said =
      rows.whole || (await rows.any()) ? await bringIn(read, rows.table(), rows) : await removeLacking(read, rows.lacking(), true);
    // A row with a problem comes again the next time, as it would in a reading of all.
    if (counts.bad === 0) rows.keepMark();
    return said;
  } catch (e) {
    if (e instanceof Troubled) throw new Ended(e.message, e.trouble.when === "never");
    throw e;
  } finally {
    met.remove();
  }
}

/** What came, by the import's own way. `rows` is null of a file, which cannot tell what changed. */
async function bringIn(read: ReadNow, table: SourceTable, rows: Came | null): Promise<string | null> {
  const { file, owner, feed, counts, ran } = read;
  const begun = await beginImport(file, owner, table.fileName, table.body, MOST_SOURCE_BYTES).catch((e: Error) => {
    throw rows?.troubled ?? new Ended(`It broke off: ${e.message}`, false);
  });
  if (!begun.ok) throw rows?.troubled ?? new Ended(begun.error, false);
  const { id } = begun.value;
  const analysis = importJob(file, owner, id)!.analysis;
  try {
    const plan = planFor(feed, analysis.header);
    const { policy, definition } = published(file);
    const [problem] = planProblems(plan, analysis.header, policy.schema, definition.roles);
    if (problem) throw new Ended(`${problem.message} Stop it here, and bring it in again with another mapping.`, true);
    const started = startCheck(file, owner, id, plan);
    if (!started.ok) throw new Ended(started.error, false);
  } catch (e) {
    giveUpImport(file, owner, id);
    throw e;
  }
  const checked = await whenChecked(file, owner, id);
  const { result } = checked;
  if (checked.state !== "checked" || !result) throw new Ended(checked.message ?? "The rows could not be read.", false);
  Object.assign(counts, { same: result.same, bad: result.bad });
  if (result.bad > 0) ran.importId = id;
  if (result.good === 0 && analysis.rows > 0)
    throw new Ended("No row can be brought in as it is mapped. Look at the rows with problems.", true);
  const ofReading = { portal: file.slug, feed: feed.id, met: read.met.id };
  read.met.close();
  const { here, gone: lacking } = await metTask.do({ ...ofReading, importId: id, heldBack: rows?.heldBack ?? [] });
  const whole = rows?.whole ?? true;
  const gone = whole ? lacking : rows!.lacking();
  const few = whole && gone.length > 20 && gone.length * 2 > gone.length + here;
  if (feed.gone === "remove" && few) {
    giveUpImport(file, owner, id);
    throw new Ended(
      `It lacks ${gone.length} of the records that came before, more than half. Nothing was removed: look at it there, then resume.`,
      true,
    );
  }
  const written = result.fresh + result.changed > 0;
  if (written) {
    // Before it is in: whoever hears of the import knows by this that its rows came from a source.
    file.db.prepare("UPDATE sys_source_runs SET import_id = ? WHERE n = ?").run(id, ran.n);
    ran.importId = id;
    const done = await bringInImport(file, owner, id);
    if (!done.ok) throw new Ended(done.error, false);
    // Only now: of a reading that stopped before, nothing is said to be in.
    Object.assign(counts, { added: result.fresh, changed: result.changed });
  } else if (result.bad === 0) giveUpImport(file, owner, id);
  await keepMetTask.do({ ...ofReading, since: written && rows ? rows.since : null }, owner);
  file.meta.look(); // the thread wrote through a handle of its own
  return removeLacking(read, gone, result.bad === 0);
}

/** A row with a problem is of a record that is still there: `sure` where there is none. */
async function removeLacking({ file, owner, feed, counts }: ReadNow, gone: readonly string[], sure: boolean): Promise<string | null> {
  if (feed.gone === "leave" || gone.length === 0) return null;
  if (!sure) return `${gone.length} records are lacking there. None was removed, as some rows could not be read.`;
  counts.removed = await removeGone(file, owner, feed, gone);
  return null;
}

/** The mapping for the columns as they stand now: known ones keep theirs, new ones are left out. @throws Ended where one that is mapped is gone. */
export function planFor(feed: Feed, header: readonly string[]): ImportPlan {
  const plan = feed.plan!;
  const was = feed.header ?? [];
  const to = was.map((name) => header.indexOf(name));
  const used = (at: number): boolean => plan.columns[at]?.to !== "skip";
  const lost = was.filter((_, at) => to[at] === -1 && used(at));
  if (lost.length > 0)
    throw new Ended(
      `${lost.map((x) => `“${x}”`).join(", ")} ${lost.length === 1 ? "is" : "are"} not among its columns any more. Put it right there and resume; or stop it here, and bring it in again with another mapping.`,
      true,
    );
  const moved = (at: number): number => to[at]!;
  const columns = header.map((_, now): PlanColumn => {
    const before = to.indexOf(now);
    const c = before === -1 ? undefined : plan.columns[before];
    if (!c || (c.to === "field" && feed.ways[c.field] === "out")) return { to: "skip" };
    return c.to === "behind" ? { ...c, at: moved(c.at) } : fills(c) ? { ...c } : c;
  });
  const { whose } = plan;
  return {
    ...plan,
    columns,
    key: plan.key === null ? null : moved(plan.key),
    title: plan.title === null ? null : moved(plan.title),
    whose: whose.kind === "column" ? { kind: "column", at: moved(whose.at) } : whose,
  };
}

async function whenChecked(file: PortalFile, owner: Owner, id: string) {
  for (;;) {
    const job = importJob(file, owner, id);
    if (!job) throw new Ended("The reading was given up.", false);
    if (job.state !== "checking") return job;
    await new Promise((done) => setTimeout(done, LOOK_AGAIN));
  }
}

/** Into the bin, where they stay for thirty days. How many. */
async function removeGone(file: PortalFile, owner: Owner, feed: Feed, gone: readonly string[]): Promise<number> {
  const { policy } = published(file);
  const table = policy.schema.findTable(feed.tableId!);
  if (table?.kind !== "ordinary") return 0;
  const desk = new Desk(file, policy, owner, "source");
  let n = 0;
  for (const [at, id] of gone.entries()) {
    if (desk.remove(table, id).ok) n += 1;
    // Whoever waits for an answer meanwhile has it.
    if (at % AT_ONCE === AT_ONCE - 1) await new Promise((done) => setImmediate(done));
  }
  return n;
}
