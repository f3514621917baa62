/** Another system's first 100,000 rows, and a reading of it that finds nothing new, beside reading the same pages and inserting them by hand. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { monitorEventLoopDelay } from "node:perf_hooks";
import { published } from "@/data/definition/published";
import Database from "@/data/file/sqlite";
import { bringInImport, CHECK, checkReceived, importJob, startCheck } from "@/data/imports/jobs";
import { suggestPlan } from "@/data/imports/proposing/suggest";
import { createPortal } from "@/data/installation/portals";
import { onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { Desk } from "@/data/records/desk";
import { runIn } from "@/data/threads";
import { seal } from "@/identity/secrets/secrets";
import { ownerViewer } from "@/identity/viewers/viewer";
import { startLedgerRoom } from "@/ledger-room/main";
import { addKey, putItem } from "@/ledger-room/store";
import { addFeed, adopt, feedById, runsOf, setFeed } from "@/office/sources/feeds";
import { fetchFirst, type Reading } from "@/office/sources/first";
import { readFeed } from "@/office/sources/run";
import { sourceById } from "@/office/sources/sources";
import { Threads } from "@/server/threads/thread";
import { ledgerSource } from "@/services/sources/ledger";
import { PUBLISHER } from "@/testing/world";
import { pagesBeside } from "./beside";
import { print, round } from "./measure";

const ROWS = 100_000;
const seconds = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e9;

export async function benchSources(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-sources-"));
  process.env.ELKHORN_DATA = folder;
  process.env.ELKHORN_INSIDE = "localhost";
  const runner = new Runner({ [CHECK]: (file, job) => checkReceived(file, (job.body as { id: string }).id) });
  onNewJob(runner.wake);
  const room = await startLedgerRoom(0, join(folder, "ledger.db"));
  try {
    room.db.transaction(() => {
      for (let i = 0; i < ROWS; i++)
        putItem(
          room.db,
          "deals",
          null,
          { title: `Enquiry ${i}`, company: `Client ${i % 200}`, worth: String(i % 9_000), stage: "Asked", closes: "2026-05-01" },
          0,
        );
    })();
    const key = addKey(room.db, "Bench");
    const hand = await byHand(room.port, key, join(folder, "bare.db"));
    const made = createPortal("bench", "Bench", PUBLISHER);
    if ("problem" in made) throw new Error(made.problem);
    const { file } = made;
    const owner = ownerViewer({ id: "o", name: "Owner" }, Date.now());
    const settings = { address: `http://localhost:${room.port}`, key };
    file.db
      .prepare("INSERT INTO sys_sources (id, name, kind, settings, secret, made_at) VALUES ('s', 'Records', 'ledger', ?, ?, 0)")
      .run(JSON.stringify(settings), seal(file.id, "source", "{}"));
    const reading: Reading = {
      adapter: () => ledgerSource,
      owner: () => owner,
      tellStaff: () => {},
      sendFirst: async () => {},
      now: Date.now,
    };
    const id = addFeed(file, "s", { id: "deals", name: "Deals" });
    const from = process.hrtime.bigint();
    await fetchFirst(file, sourceById(file, "s")!, feedById(file, id)!, reading);
    const job = importJob(file, owner, feedById(file, id)!.importId!)!;
    const plan = suggestPlan({ file, owner, analysis: job.analysis, fileName: job.fileName }, null);
    startCheck(file, owner, job.id, plan);
    while (importJob(file, owner, job.id)!.state === "checking") await new Promise((r) => setTimeout(r, 2));
    const done = await bringInImport(file, owner, job.id);
    if (!done.ok || done.value.rows !== ROWS) throw new Error(`It brought in ${JSON.stringify(done)}.`);
    const ours = seconds(from);
    print({
      name: `first fill of ${ROWS} records, of reading the same pages and inserting by hand`,
      ratio: round(hand / ours),
      unit: "x",
      goal: ">= 0.6",
    });
    const feed = adopt(file, owner, feedById(file, id)!);
    setFeed(file, owner, id, { every: null, gone: "leave", key: feed.plan!.key! });
    await readFeed(file, id, true, reading);
    file.db.prepare("UPDATE sys_source_feeds SET mark = NULL").run();
    room.db
      .prepare("UPDATE items SET body = json_set(body, '$.worth', '7'), version = version + 1 WHERE kind = 'deals' AND rowid % 10 = 0")
      .run();
    const desk = new Desk(file, published(file).policy, owner);
    const table = desk.schema.table(feed.tableId!);
    const page = (): string => JSON.stringify(desk.list(table, { limit: 50 }).records);
    let pages = 0;
    const stops = await stopsWhile(async () => {
      pages = await pagesBeside(page, () => readFeed(file, id, true, reading));
    });
    print({ name: "p95 of a page of records beside it", ratio: round(pages), unit: "x alone", goal: "<= 1.2" });
    print({ name: `longest stop of pages while all ${ROWS} are read once more`, value: round(stops), unit: "ms", goal: "< 50" });
    const again = process.hrtime.bigint();
    await readFeed(file, id, true, reading);
    const [run] = runsOf(file, id);
    if (run?.state !== "done" || run.added + run.changed > 0) throw new Error(JSON.stringify(run));
    print({ name: "a reading that finds nothing new", ratio: round(seconds(again)), unit: "s", goal: "< 1" });
  } finally {
    await room.close();
    await runner.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Milliseconds: for how long at most this process answered nobody. Long work has threads, as a server has. */
async function stopsWhile(work: () => Promise<void>): Promise<number> {
  const bundled = join(process.cwd(), ".tmp", `bench-sources-${process.pid}`);
  // By its place in the project: this file itself is bundled elsewhere before it runs.
  const { bundle } = (await import(join(process.cwd(), "scripts/bundle.mjs"))) as typeof import("../scripts/bundle.mjs");
  await bundle(["src/server/threads/worker.ts"], bundled, { whole: true });
  const threads = new Threads(join(bundled, "worker.mjs"));
  runIn(threads.run);
  const watch = monitorEventLoopDelay({ resolution: 5 });
  try {
    watch.enable();
    await work();
    return watch.max / 1e6;
  } finally {
    watch.disable();
    runIn(null);
    await threads.end();
    rmSync(bundled, { recursive: true, force: true });
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
