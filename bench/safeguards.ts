/** Thirty-two safeguards on a draft that shares a table of 110,000 rows, asked of 10,000 memberships. */

import { draftPolicy, type Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import type { Rules } from "@/core/access/rules";
import { breachOf, type Claim, type Safeguard } from "@/core/access/safeguards";
import type { Viewer } from "@/core/access/who/viewer";
import { Memo } from "@/core/memo";
import { anyWhere, ManyCounter } from "@/data/records/counting/count-many";
import type { BenchWorld } from "./world";

const TABLES = 8;

export function safeguards(w: BenchWorld, before: Policy, rules: Rules, viewers: readonly Viewer[], tables: readonly string[]): number {
  const [open] = tables;
  const of = (table: string): Claim[] => {
    const wall = before.wall(table);
    return [
      { kind: "nothing", action: "change" },
      { kind: "others", action: "see", way: wall.kind === "owned" ? [...wall.path] : [] },
      { kind: "field", action: "see", field: before.schema.table(table).labelFieldId },
      { kind: "count", bound: "at least", n: 0 },
    ];
  };
  const asked = tables
    .slice(0, TABLES)
    .flatMap((table) => of(table).map((claim): Safeguard => ({ id: "s", subject: { kind: "side", side: "client" }, table, claim })));
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i < 3; i++) {
    const from = process.hrtime.bigint();
    const draft = draftPolicy(before, { ...rules, walls: { ...rules.walls, [open!]: { kind: "shared" } } });
    const counter = new ManyCounter(w.file, before.schema, w.viewer as never);
    const alone = new Memo<Predicate, string, boolean>();
    const counts = {
      plan: (t: string, plan: Parameters<typeof counter.count>[1]) => counter.count(t, plan),
      any: (t: string, where: Predicate): boolean => alone.of(where, t, () => anyWhere(w.file, before.schema, t, where)),
    };
    const broken = asked.map((s) => viewers.filter((v) => breachOf(draft, s, v, counts)).length);
    // Accounts sees other companies' records of the shared table, nobody of the others; nobody changes any.
    for (const [n, s] of asked.entries()) {
      const wanted = s.claim.kind === "others" ? (s.table === open ? viewers.length : 0) : s.claim.kind === "field" ? null : 0;
      if (wanted !== null && broken[n] !== wanted)
        throw new Error(`${s.claim.kind} of ${s.table} is broken by ${broken[n]}, not by ${wanted}.`);
    }
    best = Math.min(best, Number(process.hrtime.bigint() - from) / 1e9);
  }
  return best;
}
