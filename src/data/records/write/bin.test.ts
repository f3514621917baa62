import { expect, it } from "vitest";
import { testPortal } from "@/testing/portal";
import { emptyBin, restoreRecord } from "./bin";

/** What is kept about a record beside it. */
const BESIDE = ["sys_talk", "sys_acceptances", "sys_reads"];

it("what is gone for good takes along what was said about it, accepted of it and read of it; what is in the bin keeps it", () => {
  const p = testPortal({ grants: [] });
  const [gone, stays] = ["Hall", "Yard"].map((name) => p.add("sites", { name, company: p.company("One") })) as [string, string];
  const sites = p.table("sites");
  for (const record of [gone, stays]) {
    for (const table of BESIDE) {
      const columns = p.file.db.pragma(`table_info(${table})`) as { name: string; type: string; notnull: number; dflt_value: unknown }[];
      const needed = columns.filter((c) => c.notnull || c.name === "record_id" || c.name === "id");
      const values = needed.map((c) =>
        c.name === "record_id" ? record : c.name === "table_id" ? sites.id : c.type === "INTEGER" ? 1 : `${c.name} ${record}`,
      );
      p.file.db
        .prepare(`INSERT INTO ${table} (${needed.map((c) => c.name).join()}) VALUES (${needed.map(() => "?").join()})`)
        .run(...values);
    }
    p.owners.remove(sites, record);
  }
  const left = () => BESIDE.map((x) => p.file.db.prepare(`SELECT record_id FROM ${x} ORDER BY 1`).pluck().all());
  expect(restoreRecord(p.owners, stays).ok).toBe(true);
  expect([emptyBin(p.file, "2000-01-01"), left()]).toEqual([0, BESIDE.map(() => [gone, stays].sort())]);
  expect([emptyBin(p.file, "2999-01-01"), left()]).toEqual([1, BESIDE.map(() => [stays])]);
});
