/** An import of 100,000 rows (read, guessed, checked, brought in) against a bare bulk insert of the same parsed rows. */

import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "@/data/file/sqlite";
import { beginImport, bringInImport, CHECK, checkReceived, importJob, startCheck } from "@/data/imports/jobs";
import { createPortal } from "@/data/installation/portals";
import { onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { Random } from "@/demo/random";
import { ownerViewer } from "@/identity/viewers/viewer";
import { planOf } from "@/testing/imports";
import { PUBLISHER } from "@/testing/world";
import { median, print, round } from "./measure";

const ROWS = 100_000;
const seconds = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e9;

export async function benchImport(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-import-"));
  process.env.ELKHORN_DATA = folder;
  const runner = new Runner({ [CHECK]: (file, job) => checkReceived(file, (job.body as { id: string }).id) });
  onNewJob(runner.wake);
  const ratios: number[] = [];
  const times: number[] = [];
  try {
    const r = new Random(3);
    const rows = Array.from({ length: ROWS }, (_, i) => [
      `S-${i}`,
      `Client ${r.int(1, 200)}`,
      r.pick(["Totem", "Hanging", "Door plate"]),
      String(r.int(1, 3000)),
      `20${r.int(10, 25)}-0${r.int(1, 9)}-1${r.int(0, 9)}`,
      `Note ${r.int(1, 1e6)}, with a comma`,
    ]);
    const csv = `${[["Code", "Client", "Type", "Size", "Fitted", "Note"], ...rows].map((x) => x.map((c) => (c.includes(",") ? `"${c}"` : c)).join(",")).join("\r\n")}\r\n`;
    for (let round = 0; round < 3; round++) {
      const made = createPortal(`bench${round}`, "Bench", PUBLISHER);
      if ("problem" in made) throw new Error(made.problem);
      const owner = ownerViewer({ id: "o", name: "Owner" }, Date.now());
      const { file } = made;
      const from = process.hrtime.bigint();
      const begun = await beginImport(file, owner, "signs.csv", new Blob([csv]).stream());
      if (!begun.ok) throw new Error(begun.error);
      const { id } = begun.value;
      const { analysis } = importJob(file, owner, id)!;
      const plan = planOf({
        table: { name: "Signs" },
        company: 1,
        columns: analysis.header.map((name, i) => ({
          to: "new",
          name,
          type: analysis.columns[i]!.type,
          order: "iso",
          choices: [...analysis.columns[i]!.choices],
        })),
      });
      startCheck(file, owner, id, plan);
      while (importJob(file, owner, id)!.state === "checking") await new Promise((done) => setTimeout(done, 2));
      const done = await bringInImport(file, owner, id);
      const ours = seconds(from);
      if (!done.ok || done.value.rows !== ROWS) throw new Error(`The import brought in ${JSON.stringify(done)}.`);
      const bare = bulkInsert(join(folder, `bare${round}.db`), rows);
      ratios.push(ours / bare);
      times.push(bare);
    }
    print({
      name: "CSV import of 100k rows",
      ratio: round(median(ratios)),
      unit: `x bare bulk insert (${round(median(times))} s)`,
      goal: "<= 3",
    });
  } finally {
    await runner.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The same rows, parsed already, into a table with the same typed columns and the same indexes. */
function bulkInsert(path: string, rows: readonly string[][]): number {
  const db = new Database(path);
  db.pragma("journal_mode = WAL");
  db.pragma("synchronous = NORMAL");
  db.exec(`CREATE TABLE signs (id TEXT PRIMARY KEY, company_id TEXT, code TEXT, code_k TEXT, client TEXT, type TEXT, size REAL, fitted TEXT, note TEXT, note_k TEXT) STRICT;
    CREATE INDEX a ON signs (company_id, code_k); CREATE INDEX b ON signs (code_k); CREATE INDEX c ON signs (client, company_id)`);
  const ready = rows.map((x, i) => [
    `${i.toString(16).padStart(12, "0")}-7000-8000-000000000000`,
    x[1],
    x[0],
    x[0]!.toLowerCase(),
    x[1],
    x[2],
    Number(x[3]),
    x[4],
    x[5],
    x[5]!.toLowerCase(),
  ]);
  const from = process.hrtime.bigint();
  const insert = db.prepare("INSERT INTO signs VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  db.transaction(() => {
    for (const x of ready) insert.run(...x);
  })();
  const took = seconds(from);
  db.close();
  return took;
}
