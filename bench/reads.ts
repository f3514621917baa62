/** First page, count and one record for a client under wall and role filter, against prepared SQL written by hand. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Viewer } from "@/core/access/who/viewer";
import { countRecords } from "@/data/records/counting/count";
import { listRecords, readRecord } from "@/data/records/query/read";
import { against, print, round } from "./measure";
import { anew, type BenchWorld, makeWorld } from "./world";

function byHand(w: BenchWorld) {
  const { fields: f } = w;
  const own = `s.company_id = ? AND (s."${f.stage}" = 'Fitted' OR s."${f.site}" IN (?, ?))`;
  const [siteName] = w.schema.table(w.sites).fields.map((x) => x.id);
  const columns = `s.id, s."${f.code}" AS code, s."${f.site}" AS site, t."${siteName}" AS siteName, s."${f.stage}" AS stage, s."${f.size}" AS size, s."${f.fitted}" AS fitted`;
  const from = `FROM "${w.signs}" s LEFT JOIN "${w.sites}" t ON t.id = s."${f.site}" AND t.company_id = s.company_id`;
  const page = w.file.db.prepare(`SELECT ${columns} ${from} WHERE ${own} ORDER BY s."${f.code}_k", s.id LIMIT 51`);
  const count = w.file.db.prepare(`SELECT count(*) FROM "${w.signs}" s WHERE ${own}`).pluck();
  const one = w.file.db.prepare(`SELECT ${columns} ${from} WHERE s.id = ? AND ${own}`);
  return {
    page: () => page.all(w.company, ...w.mySites),
    count: () => count.get(w.company, ...w.mySites) as number,
    one: (id: string) => one.get(id, w.company, ...w.mySites),
  };
}

/** `then` goes on with the largest world, which takes longest to make. */
export function benchReads(sizes: readonly number[], then: (w: BenchWorld, rows: number) => void): void {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-"));
  try {
    for (const rows of sizes) {
      const w = makeWorld(join(folder, `${rows}.db`), rows);
      const hand = byHand(w);
      const ours = listRecords({ file: w.file, policy: w.policy, viewer: w.viewer }, w.signs, { limit: 50 });
      const theirs = (hand.page() as { id: string }[]).slice(0, 50).map((x) => x.id);
      if (JSON.stringify(ours.records.map((x) => x.id)) !== JSON.stringify(theirs))
        throw new Error("The two pages differ: the comparison would be of different work.");
      const n = countRecords({ file: w.file, policy: w.policy, viewer: w.viewer }, w.signs);
      if (n !== hand.count()) throw new Error("The two counts differ.");
      const size = `${rows / 1000}k rows`;
      // Each run has a viewer for whom nothing has been worked out yet, as each request has.
      let viewers: Viewer[] = [];
      const before = (n: number): void => {
        viewers = Array.from({ length: n }, () => anew(w.viewer));
      };
      const page = against(
        () => listRecords({ file: w.file, policy: w.policy, viewer: viewers.pop()! }, w.signs, { limit: 50 }),
        hand.page,
        { before },
      );
      print({
        name: `first page of 50, ${size}`,
        ratio: round(page.ratio),
        unit: `x hand-written SQL (${round(page.bare)} us)`,
        goal: "<= 1.20",
      });
      const count = against(() => countRecords({ file: w.file, policy: w.policy, viewer: viewers.pop()! }, w.signs), hand.count, {
        before,
      });
      print({
        name: `count of visible rows, ${size}`,
        ratio: round(count.ratio),
        unit: `x hand-written SQL (${round(count.bare)} us, ${n} rows)`,
        goal: "<= 1.10",
      });
      const { id } = ours.records[20] ?? ours.records[0]!;
      const one = against(
        () => readRecord({ file: w.file, policy: w.policy, viewer: viewers.pop()! }, w.signs, id),
        () => hand.one(id),
        { times: 200, before },
      );
      print({
        name: `one record with its access check, ${size}`,
        ratio: round(one.ratio),
        unit: `x hand-written SQL (${round(one.bare)} us)`,
        goal: "<= 2.5",
      });
      if (rows === sizes[sizes.length - 1]) then(w, rows);
      w.file.db.close();
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
