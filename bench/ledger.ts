/** The Ledger Room with many records, for the bench, and a feed of them: fetched, mapped as it is proposed, and brought in. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import type { PortalFile } from "@/data/file/open";
import { bringInImport, importJob, startCheck } from "@/data/imports/jobs";
import { suggestPlan } from "@/data/imports/proposing/suggest";
import { seal } from "@/identity/secrets/secrets";
import { ownerViewer } from "@/identity/viewers/viewer";
import { addKey, type Ledger, openLedger, putItem } from "@/ledger-room/store";
import { addFeed, adopt, feedById, setFeed } from "@/office/sources/feeds";
import { fetchFirst, type Reading } from "@/office/sources/first";
import { sourceById } from "@/office/sources/sources";
import { ledgerSource } from "@/services/sources/ledger";
import { freePort } from "./served";

export const OWNER = ownerViewer({ id: "o", name: "Owner" }, Date.now());
export const READING: Reading = {
  adapter: () => ledgerSource,
  owner: () => OWNER,
  tellStaff: () => {},
  sendFirst: async () => {},
  now: Date.now,
};

/** So many deals, and the key that reads them. */
export function fillLedger(path: string, rows: number): string {
  const db = openLedger(path);
  db.transaction(() => {
    for (let i = 0; i < rows; i++)
      putItem(
        db,
        "deals",
        null,
        { title: `Enquiry ${i}`, company: `Client ${i % 200}`, worth: String(i % 9_000), stage: "Asked", closes: "2026-05-01" },
        0,
      );
  })();
  const key = addKey(db, "Bench");
  db.close();
  return key;
}

/** A tenth of them, without a word to anybody who asks for changes. */
export function changeTenth(path: string): void {
  const db: Ledger = openLedger(path);
  db.prepare("UPDATE items SET body = json_set(body, '$.worth', '7'), version = version + 1 WHERE kind = 'deals' AND rowid % 10 = 0").run();
  db.close();
}

/** In a process of its own, as any other system is. */
export async function ledgerProcess(path: string): Promise<{ port: number; end: () => void }> {
  const port = await freePort();
  const child: ChildProcess = spawn(process.execPath, ["--import", "tsx", "src/ledger-room/main.ts", String(port), path], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  await once(child.stdout!, "data");
  return { port, end: () => void child.kill() };
}

/** Seconds that the first fill took, and the feed. */
export async function firstFill(file: PortalFile, port: number, key: string, rows: number): Promise<{ feed: string; seconds: number }> {
  file.db
    .prepare("INSERT INTO sys_sources (id, name, kind, settings, secret, made_at) VALUES ('s', 'Records', 'ledger', ?, ?, 0)")
    .run(JSON.stringify({ address: `http://localhost:${port}`, key }), seal(file.id, "source", "{}"));
  const id = addFeed(file, "s", { id: "deals", name: "Deals" });
  const from = performance.now();
  await fetchFirst(file, sourceById(file, "s")!, feedById(file, id)!, READING);
  const job = importJob(file, OWNER, feedById(file, id)!.importId!)!;
  const proposed = suggestPlan({ file, owner: OWNER, analysis: job.analysis, fileName: job.fileName }, null);
  // Companies that are not there yet are made, where a portal has some already, too.
  const plan = {
    ...proposed,
    columns: proposed.columns.map((c) => (c.to === "new" && c.target === "t_companies" ? { ...c, add: true } : c)),
  };
  startCheck(file, OWNER, job.id, plan);
  while (importJob(file, OWNER, job.id)!.state === "checking") await new Promise((r) => setTimeout(r, 2));
  const done = await bringInImport(file, OWNER, job.id);
  if (!done.ok || done.value.rows !== rows) throw new Error(`It brought in ${JSON.stringify(done)} by ${JSON.stringify(plan)}.`);
  const seconds = (performance.now() - from) / 1_000;
  const feed = adopt(file, OWNER, feedById(file, id)!);
  setFeed(file, OWNER, id, { every: null, gone: "leave", key: feed.plan!.key! });
  return { feed: id, seconds };
}
