/**
 * A durable queue in the portal's own file: what is to be done is written down in the transaction that wants it done. Whoever works on
 * a job holds a lease; a process that is killed lets it run out, and the job is taken up again. Failures wait longer each time.
 */
import { and, asc, eq, lte, or, sql } from "drizzle-orm";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { once } from "../file/per-process";
import * as t from "../file/portal-tables";

export interface Job {
  readonly id: string;
  readonly kind: string;
  readonly body: unknown;
  /** How often it was begun, this time included. */
  readonly tries: number;
}

export const MOST_TRIES = 8;
const LEASE_MS = 60_000;
const FIRST_WAIT_MS = 5_000;
const LONGEST_WAIT_MS = 6 * 3600_000;

/** 5 s, 20 s, 80 s, ... up to six hours. */
export const waitAfter = (tries: number): number => Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 4 ** (tries - 1));

/** Whoever runs jobs in this process is told of new ones by this. */
const wakers = once("job wakers", () => new Set<(file: PortalFile) => void>());
/** Has a worker told of each job that this process puts in. */
export const onNewJob = (wake: (file: PortalFile) => void): void => void wakers.add(wake);

/** An `id` of one's own makes it one job, however often it is asked for. */
export function enqueue(file: PortalFile, kind: string, body: unknown, now: number, { id = newId(), after = 0 } = {}): string {
  const job = { id, kind, body: JSON.stringify(body), state: "waiting", tries: 0, runAt: now + after, madeAt: now };
  file.orm.insert(t.jobs).values(job).onConflictDoNothing().run();
  for (const wake of wakers) wake(file);
  return id;
}

/** Takes the job that is due first, under a lease; undefined where none is. */
export function claim(file: PortalFile, kinds: readonly string[], now: number): (Job & { readonly lease: string }) | undefined {
  const due = or(
    and(eq(t.jobs.state, "waiting"), lte(t.jobs.runAt, now)),
    and(eq(t.jobs.state, "running"), lte(t.jobs.leaseUntil, now)), // its worker is gone
  );
  const known = sql`${t.jobs.kind} IN (SELECT value FROM json_each(${JSON.stringify(kinds)}))`;
  const next = file.orm.select({ id: t.jobs.id }).from(t.jobs).where(and(due, known)).orderBy(asc(t.jobs.runAt)).limit(1).get();
  if (!next) return undefined;
  const lease = newId();
  const row = file.orm
    .update(t.jobs)
    .set({ state: "running", lease, leaseUntil: now + LEASE_MS, tries: sql`${t.jobs.tries} + 1` })
    .where(and(eq(t.jobs.id, next.id), due))
    .returning()
    .get();
  return row && { id: row.id, kind: row.kind, body: JSON.parse(row.body), tries: row.tries, lease };
}

const held = (id: string, lease: string) => and(eq(t.jobs.id, id), eq(t.jobs.lease, lease), eq(t.jobs.state, "running"));

/** False where the lease is somebody else's by now: then this work is to stop. */
export const extend = (file: PortalFile, id: string, lease: string, now: number): boolean =>
  file.orm
    .update(t.jobs)
    .set({ leaseUntil: now + LEASE_MS })
    .where(held(id, lease))
    .run().changes === 1;

export function finish(file: PortalFile, id: string, lease: string, now: number): boolean {
  return file.orm.update(t.jobs).set({ state: "done", endedAt: now, lease: null }).where(held(id, lease)).run().changes === 1;
}

/** Tried again later, or given up after the last try or where it can never be done. */
export function fail(file: PortalFile, job: Job & { readonly lease: string }, error: string, now: number, forGood = false): void {
  const over = forGood || job.tries >= MOST_TRIES;
  const next = over ? { state: "failed", endedAt: now } : { state: "waiting", runAt: now + waitAfter(job.tries) };
  file.orm
    .update(t.jobs)
    .set({ ...next, lease: null, leaseUntil: null, error: error.slice(0, 2000) })
    .where(held(job.id, job.lease))
    .run();
}

/** When the next of these kinds is due, or the next lease runs out; null where none waits. */
export const nextDue = (file: PortalFile, kinds: readonly string[]): number | null =>
  file.db
    .prepare(
      `SELECT min(CASE state WHEN 'waiting' THEN run_at ELSE lease_until END) FROM sys_jobs
       WHERE state IN ('waiting', 'running') AND kind IN (SELECT value FROM json_each(?))`,
    )
    .pluck()
    .get(JSON.stringify(kinds)) as number | null;

/** Whether anything waits or runs. */
export const hasJobs = (file: PortalFile): boolean =>
  file.db.prepare("SELECT 1 FROM sys_jobs WHERE state IN ('waiting', 'running') LIMIT 1").get() !== undefined;

/** At the start of the one process that works on a file: whoever held a lease before is gone. */
export const releaseLeases = (file: PortalFile, now: number): void => {
  file.db.prepare("UPDATE sys_jobs SET lease_until = ? WHERE state = 'running'").run(now);
};

/** What ended long ago is swept. */
export const sweepJobs = (file: PortalFile, before: number): void => {
  file.db.prepare("DELETE FROM sys_jobs WHERE state IN ('done', 'failed') AND ended_at < ?").run(before);
};
