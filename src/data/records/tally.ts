/** Counts that the findings rest on: a query for each table and each grant, for the owner's eyes. */
import { testsOf } from "@/core/access/condition";
import type { Policy } from "@/core/access/policy";
import { resolve } from "@/core/access/resolve";
import type { PortalFile } from "../open";
import type { Owner } from "../owner";
import { countOf } from "../standing";
import { countWhere } from "./count-many";

export function tally(file: PortalFile, policy: Policy, owner: Owner) {
  const records = new Map(
    policy.schema.tables.map((t) => {
      const wall = policy.wall(t.id);
      // An empty relation anywhere on the way counts as empty, so one test of the whole path finds them all.
      const ownerless =
        wall.kind === "owned" && wall.path.length > 0
          ? countWhere(
              file,
              policy.schema,
              t.id,
              resolve({ kind: "test", path: [...wall.path], operator: "is-empty", operands: [] }, owner),
            )
          : 0;
      return [t.id, { all: countOf(file, t.id), ownerless }] as const;
    }),
  );
  const matches = new Map<string, number>();
  for (const g of policy.rules.grants) {
    if (policy.broken.has(g.id) || !g.filter || testsOf(g.filter).some((t) => t.operands.some((o) => o.kind === "viewer"))) continue;
    matches.set(g.id, countWhere(file, policy.schema, g.table, resolve(g.filter, owner)));
  }
  return { records, matches };
}
