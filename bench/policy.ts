/** A policy as portals have it: a wall, three grants that add up and list different fields; reading, counting, writing, explaining. */

import { Policy } from "@/core/access/policy";
import type { Grant } from "@/core/access/rules";
import { scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import { explain } from "@/core/access/words/explain";
import { recordJson } from "@/core/exchange/present";
import { countRecords } from "@/data/records/counting/count";
import { explainRecord } from "@/data/records/query/explain";
import { listRecords, readRecord } from "@/data/records/query/read";
import { changeRecord } from "@/data/records/write/write";
import { makePolicyIndexes } from "@/data/tables/indexes";
import { against, median, print, round } from "./measure";
import { anew, type BenchWorld } from "./world";

/** Fitted signs without their size; the viewer's own sites with all; planned ones by code and stage alone. */
export function richPolicy(w: BenchWorld): Policy {
  const { fields: f } = w;
  const of = (...slugs: string[]): string[] => slugs.map((s) => f[s]!);
  const is = (value: string): Grant["filter"] => ({
    kind: "test",
    path: [f.stage!],
    operator: "is",
    operands: [{ kind: "literal", value }],
  });
  const mine: Grant["filter"] = {
    kind: "test",
    path: [f.site!],
    operator: "any-of",
    operands: [{ kind: "viewer", of: "person", field: "their_sites" }],
  };
  const line = (id: string, filter: Grant["filter"], fields: string[], changes: string[] = []): Grant => ({
    id,
    roles: ["manager"],
    table: w.signs,
    actions: changes.length > 0 ? ["see", "change"] : ["see"],
    filter,
    fields,
    changes,
  });
  return new Policy(w.schema, {
    roles: w.policy.rules.roles,
    walls: w.policy.rules.walls,
    grants: [
      line("fitted", is("Fitted"), of("code", "stage", "fitted")),
      line("mine", mine, of("code", "stage", "size", "fitted"), of("size")),
      line("planned", is("Planned"), of("code", "stage")),
    ],
  });
}

export function benchPolicy(w: BenchWorld, rows: number): void {
  const policy = richPolicy(w);
  makePolicyIndexes(w.file, policy, w.signs);
  w.file.db.exec("ANALYZE; DROP TABLE IF EXISTS sqlite_stat4;");
  w.file.statements.clear();
  const { fields: f } = w;
  const [g1, g2, g3] = [`"${f.stage}" = 'Fitted'`, `"${f.site}" IN (?, ?)`, `"${f.stage}" = 'Planned'`];
  const where = `company_id = ? AND (${g1} OR ${g2} OR ${g3})`;
  const values = `id, "${f.code}", "${f.stage}", "${f.size}", "${f.fitted}"`;
  const flags = `(${g1}), (${g2}), (${g3})`;
  const { db } = w.file;
  const own = [w.company, ...w.mySites];
  const page = db.prepare(`SELECT ${values}, ${flags} FROM "${w.signs}" WHERE ${where} ORDER BY "${f.code}_k", id LIMIT 51`).raw();
  const one = db.prepare(`SELECT ${values}, ${flags} FROM "${w.signs}" WHERE id = ? AND ${where}`).raw();
  const count = db.prepare(`SELECT count(*) FROM "${w.signs}" WHERE ${where}`).pluck();
  // The same fields per row, decided in the same loop as the rows are read.
  const shape = (r: unknown[]) => {
    const [code, stage, size, fitted] = r.slice(1, 5);
    return {
      id: r[0],
      fields: {
        ...(r[5] || r[6] || r[7] ? { [f.code!]: code, [f.stage!]: stage } : {}),
        ...(r[6] ? { [f.size!]: size } : {}),
        ...(r[5] || r[6] ? { [f.fitted!]: fitted } : {}),
      },
    };
  };
  const handPage = () => (page.all(...w.mySites, ...own) as unknown[][]).slice(0, 50).map(shape);
  const ours = (v: Viewer) => listRecords({ file: w.file, policy, viewer: v }, w.signs, { limit: 50 });
  const first = ours(w.viewer).records;
  const same = (a: unknown, b: unknown): void => {
    if (JSON.stringify(a) !== JSON.stringify(b)) throw new Error("The two pages differ: the comparison would be of different work.");
  };
  same(
    first.map((r) => [r.id, Object.keys(r.fields).sort()]),
    handPage().map((r) => [r.id, Object.keys(r.fields).sort()]),
  );

  let viewers: Viewer[] = [];
  const before = (n: number): void => {
    viewers = Array.from({ length: n }, () => anew(w.viewer));
  };
  const size = `${rows / 1000}k rows`;
  const tell = (name: string, r: { ratio: number; bare: number }, goal: string): void =>
    print({ name: `${name}, ${size}`, ratio: round(r.ratio), unit: `x hand-written SQL (${round(r.bare)} us)`, goal });
  tell(
    "three grants, fields per row: page of 50",
    against(() => ours(viewers.pop()!), handPage, { before }),
    "<= 1.15",
  );
  tell(
    "three grants: count",
    against(
      () => countRecords({ file: w.file, policy, viewer: viewers.pop()! }, w.signs),
      () => count.get(...own),
      { before },
    ),
    "<= 1.05",
  );
  const { id } = first[20]!;
  tell(
    "three grants: one record with its check",
    against(
      () => readRecord({ file: w.file, policy, viewer: viewers.pop()! }, w.signs, id),
      () => shape(one.get(...w.mySites, id, ...own) as unknown[]),
      { times: 200, before },
    ),
    "<= 2.0",
  );
  const table = policy.schema.table(w.signs);
  const json = against(
    () => JSON.stringify(ours(viewers.pop()!).records.map((r) => recordJson(table, r))),
    () => JSON.stringify(handPage()),
    { before },
  );
  tell("a list page as JSON", json, "<= 1.25");

  const cold: number[] = [];
  for (let i = 0; i < 200; i++) {
    const fresh = new Policy(w.schema, policy.rules);
    const from = process.hrtime.bigint();
    scope(fresh, anew(w.viewer), w.signs);
    w.file.statements.clear();
    listRecords({ file: w.file, policy: fresh, viewer: anew(w.viewer) }, w.signs, { limit: 0 });
    cold.push(Number(process.hrtime.bigint() - from) / 1000);
  }
  print({ name: "cold compile of a grant set, with its first statement", value: round(median(cold)), unit: "us", goal: "< 1000" });

  const told = against(
    () => explainRecord({ file: w.file, policy, viewer: w.viewer as never }, viewers.pop()!, w.signs, id),
    () => explain(policy, w.viewer, "see", w.signs, null, { row: () => undefined }),
    { before },
  );
  print({ name: "explanation of one record", value: round(told.ours), unit: "us", goal: "< 2000" });

  const mine = first.find((r) => f.size! in r.fields)!.id;
  const update = db.prepare(
    `UPDATE "${w.signs}" SET "${f.size}" = ?, version = version + 1, changed_at = ?, changed_by = ? WHERE id = ? AND company_id = ? AND ${g2}`,
  );
  const log = db.prepare(
    "INSERT INTO sys_events (at, actor_kind, actor_id, via, act, table_id, record_id, company_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
  );
  const logValues = db.prepare('INSERT INTO sys_event_values (event_id, "before", "after") VALUES (?, ?, ?)');
  const was = db.prepare(`SELECT company_id, "${f.size}" FROM "${w.signs}" WHERE id = ?`).raw();
  let n = 0;
  const byHand = db.transaction(() => {
    const now = Date.now();
    const [company, before] = was.get(mine) as [string, number];
    update.run(++n, new Date(now).toISOString(), "p", mine, w.company, ...w.mySites);
    const { lastInsertRowid } = log.run(now, "person", "p", "page", "changed", w.signs, mine, company);
    logValues.run(lastInsertRowid, JSON.stringify({ [f.size!]: before }), JSON.stringify({ [f.size!]: n }));
  });
  const changed = against(
    () => {
      const done = changeRecord({ file: w.file, policy, viewer: viewers.pop()! }, w.signs, mine, { [f.size!]: ++n }, null);
      if (!done.ok) throw new Error(JSON.stringify(done.error));
    },
    byHand,
    { before },
  );
  tell("one-record update with its event", changed, "<= 1.5");
}
