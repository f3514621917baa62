import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeEach, describe, expect, it } from "vitest";
import type { PortalId } from "@/core/ids";
import { memoryPortal } from "@/testing/world";
import { closeFiles, createPortalFile, openDatabase, type PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { claim, enqueue, extend, fail, finish, MOST_TRIES, nextDue, sweepJobs, waitAfter } from "./queue";
import { Never, Runner } from "./runner";

let file: PortalFile;
beforeEach(() => {
  file = { ...memoryPortal(), path: `memory ${Math.random()}` };
});
const states = () => file.db.prepare("SELECT state FROM sys_jobs ORDER BY id").pluck().all();
const ended = async (so: () => boolean): Promise<void> => {
  for (const end = Date.now() + 60_000; !so(); await new Promise((r) => setTimeout(r, 5)))
    if (Date.now() > end) throw new Error("It never was so.");
};

describe("the queue", () => {
  it("gives the job that is due first to one worker alone, under a lease", () => {
    enqueue(file, "a", { n: 2 }, 200, { id: "later" });
    enqueue(file, "a", { n: 1 }, 100, { id: "sooner" });
    expect(claim(file, ["b"], 300)).toBeUndefined(); // of a kind that this worker does not know
    expect(claim(file, ["a"], 50)).toBeUndefined(); // not due yet
    expect(claim(file, ["a"], 300)).toMatchObject({ id: "sooner", body: { n: 1 }, tries: 1 });
    expect(claim(file, ["a"], 300)).toMatchObject({ id: "later" });
    expect(claim(file, ["a"], 300)).toBeUndefined();
  });
  it("is as whole as the transaction that asked: undone with it", () => {
    expect(() =>
      transact(file, () => {
        enqueue(file, "a", {}, 0);
        throw new Error("undone");
      }),
    ).toThrow("undone");
    expect(nextDue(file, ["a"])).toBeNull();
  });
  it("one id is one job, however often it is asked for", () => {
    enqueue(file, "a", { n: 1 }, 0, { id: "same" });
    enqueue(file, "a", { n: 2 }, 0, { id: "same" });
    expect(claim(file, ["a"], 1)).toMatchObject({ body: { n: 1 } });
    expect(claim(file, ["a"], 1)).toBeUndefined();
  });
  it("a lease that ran out is anybody's; who held it can neither finish nor extend it", () => {
    enqueue(file, "a", {}, 0);
    const first = claim(file, ["a"], 0)!;
    expect(claim(file, ["a"], 59_999)).toBeUndefined();
    expect(extend(file, first.id, first.lease, 59_999)).toBe(true);
    expect(claim(file, ["a"], 60_000)).toBeUndefined(); // its worker lives
    const second = claim(file, ["a"], 59_999 + 60_000)!;
    expect(second).toMatchObject({ id: first.id, tries: 2 });
    expect(extend(file, first.id, first.lease, 119_999)).toBe(false);
    expect(finish(file, first.id, first.lease, 119_999)).toBe(false);
    expect(finish(file, second.id, second.lease, 119_999)).toBe(true);
  });
  it("a failure waits longer each time, and is given up after the last try", () => {
    expect([1, 2, 3, 20].map(waitAfter)).toEqual([5_000, 20_000, 80_000, 6 * 3600_000]);
    enqueue(file, "a", {}, 0);
    let now = 0;
    for (let n = 1; n <= MOST_TRIES; n++) {
      const job = claim(file, ["a"], now)!;
      expect(job.tries).toBe(n);
      fail(file, job, "no answer", now);
      if (n < MOST_TRIES) expect(nextDue(file, ["a"])).toBe(now + waitAfter(n));
      now += waitAfter(n);
    }
    expect(states()).toEqual(["failed"]);
    sweepJobs(file, now + 1);
    expect(states()).toEqual([]);
  });
});

describe("the runner", () => {
  it("does what is asked for, also what was left by a process that is gone", async () => {
    const done: unknown[] = [];
    enqueue(file, "a", "before", 0);
    claim(file, ["a"], 0); // begun by somebody who was killed: the lease is long over
    const runner = new Runner({ a: async (_, job) => void done.push(job.body) });
    runner.wake(file);
    await ended(() => done.length === 1);
    enqueue(file, "a", "after", Date.now());
    runner.wake(file);
    await ended(() => states().every((s) => s === "done"));
    expect(done).toEqual(["before", "after"]);
    await runner.stop();
  });
  it("tries again what failed, but not what can never be done", async () => {
    let now = 1_000_000;
    let tries = 0;
    const runner = new Runner(
      {
        flaky: async () => {
          if (++tries === 1) throw new Error("not yet");
        },
        vain: async () => {
          throw new Never("no such address");
        },
      },
      () => now,
    );
    enqueue(file, "flaky", {}, now, { id: "1" });
    enqueue(file, "vain", {}, now, { id: "2" });
    runner.wake(file);
    await ended(() => tries === 1 && states()[1] === "failed");
    expect(states()).toEqual(["waiting", "failed"]);
    now += waitAfter(1);
    await ended(() => {
      runner.wake(file);
      return states()[0] === "done";
    });
    expect(file.db.prepare("SELECT error FROM sys_jobs WHERE id = '2'").pluck().get()).toBe("no such address");
    await runner.stop();
  });
  it("stops after the job at hand; the rest waits", async () => {
    let release = (): void => {};
    const begun: unknown[] = [];
    const runner = new Runner({
      a: (_, job) => {
        begun.push(job.body);
        return new Promise((done) => (release = done));
      },
    });
    for (const n of [1, 2]) enqueue(file, "a", n, 0, { id: String(n) });
    runner.wake(file);
    await ended(() => begun.length === 1);
    const stopping = runner.stop();
    release();
    await stopping;
    expect(states()).toEqual(["done", "waiting"]);
  });
  it("waits beside the others while somebody else writes to the file, and does the job then", async () => {
    const folder = mkdtempSync(join(tmpdir(), "elkhorn-jobs-"));
    mkdirSync(join(folder, "portals"));
    const busy = createPortalFile("island" as PortalId, "island", folder);
    const other = openDatabase(busy.path);
    const told: unknown[] = [];
    let done = 0;
    const runner = new Runner({ a: async () => void other.exec("BEGIN IMMEDIATE") }, Date.now, (e) => told.push(e));
    enqueue(busy, "a", {}, 0);
    runner.wake(busy);
    await ended(() => other.inTransaction); // the job's own work has begun, and its end cannot be written down
    await new Promise((next) => setImmediate(next));
    other.exec("COMMIT");
    await ended(() => (done = busy.db.prepare("SELECT count(*) FROM sys_jobs WHERE state = 'done'").pluck().get() as number) === 1);
    expect([done, told]).toEqual([1, []]);
    await runner.stop();
    other.close();
    closeFiles(); // not its database alone: files of one worker share what is open
    rmSync(folder, { recursive: true });
  });
});
