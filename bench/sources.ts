/** Another system's first rows, 100,000 or a million, and a reading of it that finds nothing new, beside reading the same pages and inserting them by hand. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "@/data/file/sqlite";
import { CHECK, checkReceived } from "@/data/imports/jobs";
import { createPortal } from "@/data/installation/portals";
import { onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { runsOf } from "@/office/sources/feeds";
import { readFeed } from "@/office/sources/run";
import { PUBLISHER } from "@/testing/world";
import { fillLedger, firstFill, ledgerProcess, READING } from "./ledger";
import { print, round } from "./measure";

const seconds = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e9;

export async function benchSources(rows: number): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-sources-"));
  process.env.ELKHORN_DATA = folder;
  process.env.ELKHORN_INSIDE = "localhost";
  const runner = new Runner({ [CHECK]: (file, job) => checkReceived(file, (job.body as { id: string }).id) });
  onNewJob(runner.wake);
  const ledger = join(folder, "ledger.db");
  const key = fillLedger(ledger, rows);
  const room = await ledgerProcess(ledger);
  try {
    const hand = await byHand(room.port, key, join(folder, "bare.db"));
    const made = createPortal("bench", "Bench", PUBLISHER);
    if ("problem" in made) throw new Error(made.problem);
    const { file } = made;
    const first = await firstFill(file, room.port, key, rows);
    print({
      name: `first fill of ${rows} records, of reading the same pages and inserting by hand`,
      ratio: round(hand / first.seconds),
      unit: "x",
      goal: ">= 0.6",
    });
    await readFeed(file, first.feed, true, READING);
    const again = process.hrtime.bigint();
    await readFeed(file, first.feed, true, READING);
    const [run] = runsOf(file, first.feed);
    if (run?.state !== "done" || run.added + run.changed > 0) throw new Error(JSON.stringify(run));
    print({ name: `a reading of ${rows} that finds nothing new`, ratio: round(seconds(again)), unit: "s", goal: "< 1" });
  } finally {
    room.end();
    await runner.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Seconds. */
async function byHand(port: number, key: string, path: string): Promise<number> {
  const from = process.hrtime.bigint();
  const db = new Database(path);
  db.pragma("journal_mode = WAL");
  db.exec(
    "CREATE TABLE deals (id TEXT PRIMARY KEY, title TEXT, company TEXT, worth REAL, stage TEXT, closes TEXT, version INTEGER, changed_at TEXT) STRICT",
  );
  const put = db.prepare("INSERT INTO deals VALUES (?, ?, ?, ?, ?, ?, ?, ?)");
  type Page = { items: Record<string, string>[]; after: string | null };
  let after: string | null = null;
  const pages: Page[] = [];
  do {
    const q: string = `limit=500${after === null ? "" : `&after=${after}`}`;
    const page: Page = (await (
      await fetch(`http://localhost:${port}/v1/deals?${q}`, { headers: { authorization: `Bearer ${key}` } })
    ).json()) as Page;
    pages.push(page);
    after = page.after;
  } while (after !== null);
  db.transaction(() => {
    for (const { items } of pages)
      for (const i of items) put.run(i.id, i.title, i.company, Number(i.worth), i.stage, i.closes, Number(i.version), i.changed_at);
  })();
  db.close();
  return seconds(from);
}
