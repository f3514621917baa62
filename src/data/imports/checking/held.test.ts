/** What is told apart while rows are read is what SQL tells apart afterwards; and only what differs is written and noted. */
import fc from "fast-check";
import { expect, it } from "vitest";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { importFolder, owner, ImportTrial as Trial } from "@/testing/import-folder";
import { runs, seed } from "@/testing/random";
import { published } from "../../definition/published";
import { bringInImport, type ImportJob } from "../jobs";
import { plannedColumns } from "../reading/planned";
import { HeldRecords, MOST_HELD, STATE } from "./held";
import { compareStaged, withStage } from "./what-differs";

importFolder();

const KINDS = ["Totem", "Door plate", "Hanging", "Arrow"];
const HEAD = "Code,Note,Size,Cost,Due,Lit,Kind,Client";
/** A row of each type; what stands in it is chosen by numbers, so that two files often say the same, or nearly. */
const row = (code: string, [note, size, cost, due, lit, kind, client]: readonly number[]): string =>
  [
    code,
    ["", "as it was", "As It Was", "Ünal's, “large”", "'=1+1", "x\u0301y"][note! % 6],
    ["", "0", "12", "-3.5"][size! % 4],
    ["", "£1.20", "£1.25", "£1,000.00"][cost! % 4],
    ["", "2026-01-31", "2026-02-01"][due! % 3],
    ["", "yes", "no"][lit! % 3],
    ["", ...KINDS][kind! % 5],
    ["Ash", "Birch", "Cedar"][client! % 3],
  ]
    .map((c) => `"${c!.replaceAll('"', '""')}"`)
    .join(",");
/** These settle the types, whatever the others say. */
const FIRST = Array.from({ length: 12 }, (_, i) =>
  row(`K${i}`, [1, 1 + (i % 3), 1 + (i % 3), 1, 1, 1 + (i % 4), i]).replace("as it was", `note ${i}`),
);
const file = (rows: readonly string[]): string => `${[HEAD, ...rows].join("\n")}\n`;

const numbers = fc.array(fc.nat(11), { minLength: 7, maxLength: 7 });
const records = fc.uniqueArray(fc.tuple(fc.integer({ min: 20, max: 60 }), numbers), { selector: ([n]) => n, minLength: 1, maxLength: 25 });

it("in memory as in SQL, whatever the types, whatever is empty", async () => {
  await fc.assert(
    fc.asyncProperty(
      records,
      records,
      fc.constantFrom("leave" as const, "clear" as const),
      fc.boolean(),
      async (was, becomes, empties, again) => {
        const p = new Trial();
        const before = file([...FIRST, ...was.map(([n, r]) => row(`K${n}`, r))]);
        await p.bring(before, (job) => ({ ...p.suggest(job), key: 0, title: 0, table: { name: "Signs" } }));
        // All rows are set aside whole where a later one might be put over them.
        const plan = (job: ImportJob): ImportPlan => ({ ...p.suggest(job), key: 0, empties, duplicates: "merge" });
        const job = await p.drop(
          again
            ? before
            : file([...FIRST, ...was.slice(0, 3).map(([n, r]) => row(`k${n}`, r)), ...becomes.map(([n, r]) => row(`K${n}`, r))]),
        );
        const checked = await p.check(job, plan(job));
        const told = checked.result!;
        expect(told.problems).toEqual([]);
        const states = () => withStage(p.file, job.id, () => p.file.db.prepare("SELECT n, state FROM stage.rows ORDER BY n").raw().all());
        const inMemory = states();
        withStage(p.file, job.id, () => p.file.db.exec(`UPDATE stage.rows SET state = ${STATE.open} WHERE known IS NOT NULL`));
        const bySql = compareStaged(p.file, job.id, checked.plan!, plannedColumns(checked.plan!, published(p.file).policy.schema), null);
        expect(bySql).toEqual({
          fresh: told.fresh,
          changed: told.changed,
          same: told.same,
          fields: told.fields,
          examples: told.examples,
          lacking: told.lacking,
        });
        expect(states()).toEqual(inMemory);
        if (again) expect(told).toMatchObject({ fresh: 0, changed: 0, lacking: { count: 0 } });
        // Brought in, the same file changes nothing.
        expect(await bringInImport(p.file, owner, job.id)).toMatchObject({ ok: true, value: { changed: told.changed, added: told.fresh } });
      },
    ),
    { seed, numRuns: runs(100) },
  );
});

it("what would fill the memory is not compared there, and comes to the same", async () => {
  const p = new Trial();
  await p.bring(file(FIRST), (job) => ({ ...p.suggest(job), key: 0, title: 0, table: { name: "Signs" } }));
  const job = await p.drop(file(FIRST).replace('"note 3"', '"Note 3"'));
  const plan = { ...p.suggest(job), key: 0 };
  const { schema } = published(p.file).policy;
  const [columns, table] = [plannedColumns(plan, schema), p.table("signs")];
  const held = () => new HeldRecords(p.file, table, columns[0]!, columns, "leave", false);
  const cells = columns.flatMap((c) => (c.folded ? ["", ""] : [""]));
  const all = columns.map((_, i) => i);
  expect(held().differing(0, cells)).toEqual(all);
  for (const limit of ["cells", "bytes"] as const) {
    const before = MOST_HELD[limit];
    MOST_HELD[limit] = 5;
    expect(held().differing(0, cells)).toBeNull();
    expect((await p.check(job, plan)).result).toMatchObject({ changed: 1, same: 11, fields: [{ name: "Note", rows: 1 }] });
    MOST_HELD[limit] = before;
  }
  expect(await bringInImport(p.file, owner, job.id)).toMatchObject({ ok: true, value: { changed: 1 } });
});
