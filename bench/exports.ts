/** All of a table as CSV for the agency's owner, against bare SQLite off a cursor, its names joined, with the same writer. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { csvLines } from "@/core/exchange/write-csv";
import type { Scalar } from "@/core/schema/types";
import { Desk } from "@/data/records/desk";
import { exportFile } from "@/features/api/export-files";
import { ownerViewer } from "@/identity/viewers/viewer";
import { median, print, round } from "./measure";
import { makeWorld } from "./world";

const ROWS = 100_000;
const seconds = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e9;

export async function benchExport(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-export-"));
  try {
    const w = makeWorld(join(folder, "w.db"), ROWS);
    const desk = new Desk(w.file, w.policy, ownerViewer({ id: "o", name: "Owner" }, Date.now()));
    const { fields: f } = w;
    const label = (table: string): string => w.schema.table(table).labelFieldId;
    const bare = w.file.db
      .prepare(
        `SELECT s."${f.code}", c."${label("t_companies")}", x."${label(w.sites)}", s."${f.stage}", s."${f.size}" / 100.0, s."${f.fitted}", s."${f.cost}" / 100.0
         FROM "${w.signs}" s LEFT JOIN t_companies c ON c.id = s."${f.company}" LEFT JOIN "${w.sites}" x ON x.id = s."${f.site}" ORDER BY s."${f.code}_k", s.id`,
      )
      .raw();
    const times: number[] = [];
    const ratios: number[] = [];
    for (let i = 0; i < 4; i++) {
      let from = process.hrtime.bigint();
      let bytes = 0;
      for await (const piece of exportFile(desk, w.schema.table(w.signs), { limit: 1 }, "csv")) bytes += Buffer.byteLength(piece);
      const ours = seconds(from);
      from = process.hrtime.bigint();
      let rows: (Scalar | null)[][] = [];
      let other = 0;
      const write = (): void => {
        other += Buffer.byteLength(csvLines(rows));
        rows = [];
      };
      for (const row of bare.iterate() as Iterable<(Scalar | null)[]>) if (rows.push(row) === 500) write();
      write();
      const theirs = seconds(from);
      if (Math.abs(bytes - other) > bytes / 100) throw new Error(`The two files differ: ${bytes} and ${other} bytes.`);
      if (i === 0) continue; // as a server has it after a while
      ratios.push(ours / theirs);
      times.push(theirs);
    }
    w.file.db.close();
    print({
      name: `CSV export of ${ROWS / 1000}k rows`,
      ratio: round(median(ratios)),
      unit: `x bare SQLite (${round(median(times))} s)`,
      goal: "<= 2",
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
