/** Publishing in a portal with a large table: everybody else waits as long as it holds the thread of the requests. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { published, storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { publish, uphold } from "@/data/publishing/publish";
import { Desk } from "@/data/records/desk";
import { makePolicyIndexes } from "@/data/tables/indexes";
import { median, print, round } from "./measure";
import { makeWorld } from "./world";

const ROWS = 250_000;
const TIMES = 9;

const ms = (act: () => unknown): number => {
  const from = performance.now();
  act();
  return performance.now() - from;
};

/** Another thread makes the index anew, as `policyIndexesTask` does; it ends with 0 once it has. */
const MAKER = `
  const { parentPort, workerData } = require("node:worker_threads");
  const Database = require("better-sqlite3");
  const db = new Database(workerData.file, { timeout: 10_000 });
  parentPort.postMessage("begun");
  for (let i = 0; i < workerData.times; i++) db.exec("DROP INDEX IF EXISTS ix_bench; CREATE INDEX ix_bench ON " + workerData.on);
  db.exec("DROP INDEX IF EXISTS ix_bench");
  db.close();
`;

/** The longest of reads that follow each other while `until` is not over. */
async function longestRead(read: () => unknown, until: Promise<unknown>): Promise<number> {
  let over = false;
  void until.then(() => {
    over = true;
  });
  let longest = 0;
  while (!over) {
    longest = Math.max(longest, ms(read));
    await new Promise((r) => setTimeout(r, 2));
  }
  return longest;
}

async function benchReaders(w: ReturnType<typeof makeWorld>): Promise<void> {
  const desk = new Desk(w.file, w.policy, w.viewer);
  const table = w.policy.schema.table(w.signs);
  const read = (): unknown => desk.list(table, { limit: 50 });
  read();
  const idle = await longestRead(read, new Promise((r) => setTimeout(r, 3_000)));
  const on = `"${w.signs}" (company_id, "${w.fields.size}")`;
  const maker = new Worker(MAKER, { eval: true, workerData: { file: w.file.db.name, times: 5, on } });
  await new Promise((r) => maker.once("message", r));
  const beside = await longestRead(read, new Promise((r) => maker.once("exit", r)));
  print({
    name: `longest read while another thread makes an index of ${ROWS} rows`,
    value: round(beside - idle),
    unit: `ms over idle (${round(idle)} ms)`,
    goal: "<= 50",
  });
}

export async function benchPublish(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-"));
  try {
    const w = makeWorld(join(folder, "w.db"), ROWS);
    const owner = { ...w.viewer, kind: "owner", company: null, person: null, now: 1_780_000_000_000 } as unknown as Owner;
    const { roles, walls, grants } = w.policy.rules;
    // Another field that grants compare: the index of the table is to be another.
    const other =
      (n: number) =>
      (d: Definition): Definition => ({
        ...d,
        grants: d.grants.map((g) => ({
          ...g,
          filter:
            g.table === w.signs
              ? ({ kind: "test" as const, path: [w.fields[n % 2 ? "size" : "fitted"]!], operator: "is-empty", operands: [] } as never)
              : null,
        })),
      });
    const rules = emptyDefinition("Bench");
    const begun = { ...rules, roles: [...rules.roles, ...roles], walls: { ...rules.walls, ...walls }, grants } as unknown as Definition;
    storePublished(w.file, other(0)(begun), { actor: actorOf(owner), name: "", at: 1_780_000_000_000 });
    const goes = (change: (d: Definition) => Definition): number => {
      const draft = draftOf(w.file, owner);
      const done = changeDraft(w.file, owner, draft.revision, change, "bench");
      if (!done.ok) throw new Error(JSON.stringify(done.error));
      const upheld = uphold(draftOf(w.file, owner), new Set())!;
      return ms(() => {
        const sent = publish(w.file, owner, upheld);
        if (!sent.ok) throw new Error(JSON.stringify(sent.error));
      });
    };
    const motto = (n: number) => (d: Definition) => ({ ...d, brand: { ...d.brand, motto: `Words ${n}` } });
    const all: number[] = [];
    const grant: number[] = [];
    const words: number[] = [];
    for (let n = 0; n < TIMES; n++) {
      words.push(goes(motto(n)));
      grant.push(goes(other(n + 1)));
      // What the thread does afterwards, and what publishing did of every table before.
      all.push(ms(() => makePolicyIndexes(w.file, published(w.file).policy, w.signs)));
    }
    const of = (xs: number[]): string =>
      `x making the one index that changed (${round(median(all))} ms), publishing took ${round(median(xs))} ms`;
    print({ name: `publish other words, ${ROWS} rows`, ratio: round(median(words) / median(all)), unit: of(words), goal: "<= 0.25" });
    print({ name: `publish another grant, ${ROWS} rows`, ratio: round(median(grant) / median(all)), unit: of(grant), goal: "<= 0.25" });
    await benchReaders(w);
    w.file.db.close();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
