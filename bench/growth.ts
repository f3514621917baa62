/** What the agency's pages of a list cost at 240,852 records against 1,239, once what it uses is indexed. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Desk } from "@/data/records/desk";
import { grant } from "@/data/records/query/follow";
import type { PageQuery } from "@/data/records/query/read";
import { ownerViewer } from "@/identity/viewers/viewer";
import { median, print, round } from "./measure";
import { makeWorld } from "./world";

const [FEW, MANY] = [1_239, 240_852];
const ms = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e6;

export function benchGrowth(): void {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-growth-"));
  const times = new Map<string, number[]>();
  try {
    for (const rows of [FEW, MANY]) {
      const w = makeWorld(join(folder, `${rows}.db`), rows);
      // Sites have names of their own, unlike in the other figures.
      const name = w.schema.table(w.sites).labelFieldId;
      w.file.db.exec(`UPDATE "${w.sites}" SET "${name}" = id, "${name}_k" = id`);
      const field = (slug: string): string => w.fields[slug]!;
      if (rows === MANY)
        for (const wish of [null, field("site"), field("fitted"), field("stage")]) grant(w.file, { table: w.signs, field: wish });
      const desk = new Desk(w.file, w.policy, ownerViewer({ id: "o", name: "Owner" }, Date.now()));
      const table = w.schema.table(w.signs);
      const sorted = (slug: string, descending = false): Partial<PageQuery> => ({ sort: [{ field: field(slug), descending }] });
      const asked: Record<string, Partial<PageQuery>> = {
        "the first page": {},
        "a search without a hit": { search: "zzzqqq" },
        "sorted by a relation": sorted("site"),
        "sorted by date": sorted("fitted", true),
        "sorted by choice": sorted("stage"),
        "the last page by number": { page: Math.ceil(rows / 50) },
      };
      for (const [name, q] of Object.entries(asked)) {
        const page = () => desk.page(table, { page: 1, size: 50, ...q });
        for (let i = 0; i < 5; i++) page();
        const took = Array.from({ length: 21 }, () => {
          const from = process.hrtime.bigint();
          page();
          return ms(from);
        });
        times.set(name, [...(times.get(name) ?? []), median(took)]);
      }
      w.file.db.close();
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  for (const [name, [few, many]] of times)
    print({ name: `${name}, ${MANY} records against ${FEW}`, ratio: round(many! / few!), unit: `x (${round(many!)} ms)`, goal: "<= 3" });
}
