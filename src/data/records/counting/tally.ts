/** Counts that the findings rest on: a query for each table and each grant, for the owner's eyes. */

import type { Policy } from "@/core/access/policy";
import { resolve } from "@/core/access/resolve";
import type { Owner } from "@/core/access/who/viewer";
import { testsOf } from "@/core/schema/condition";
import { pointsToSeveral } from "@/core/schema/fields/natures";
import { sqlName } from "@/core/text/sql-name";
import { Background, type Outcome, type Pace, stampOf } from "../../definition/background";
import type { Published } from "../../definition/published";
import type { PortalFile } from "../../file/open";
import { once } from "../../file/per-process";
import { countOf } from "../../tables/count";
import { hasColumn, linkColumns, linkTableName } from "../../tables/physical";
import { countWhere } from "./count-many";

export interface Tally {
  readonly records: ReadonlyMap<string, { readonly all: number; readonly ownerless: number }>;
  /** By grant, where the filter asks nothing of the viewer. */
  readonly matches: ReadonlyMap<string, number>;
  /** By relation to several: the most records that one record holds. */
  readonly most: ReadonlyMap<string, number>;
}

const reports = once("tally reports", () => new Background<Tally>());

/** The counts of one draft, remembered until something changes and shared by whoever asks. */
const work = (file: PortalFile, live: Published, policy: Policy, owner: Owner, revision: number) =>
  [file, "tally", stampOf(file, live, revision, owner.now), (pace: Pace) => tally(file, policy, owner, pace)] as const;

/** The counts where they are ready within a moment, or how far they are. */
export const tallySoon = (...of: Parameters<typeof work>): Promise<Outcome<Tally>> => reports.soon(...work(...of));
/** The counts, waited for at the caller's pace. */
export const tallyWhole = (waiting: Pace, ...of: Parameters<typeof work>): Promise<Tally> => reports.whole(...work(...of), waiting);

async function tally(file: PortalFile, policy: Policy, owner: Owner, pace: Pace): Promise<Tally> {
  const { tables } = policy.schema;
  const steps = tables.length + policy.rules.grants.length;
  const records = new Map<string, { all: number; ownerless: number }>();
  for (const [i, t] of tables.entries()) {
    const wall = policy.wall(t.id);
    // An empty relation anywhere on the way counts as empty, so one test of the whole path finds them all.
    const path = wall.kind === "owned" ? [...wall.path] : [];
    const broken = resolve({ kind: "test", path, operator: "is-empty", operands: [] }, owner);
    records.set(t.id, { all: countOf(file, t.id), ownerless: path.length > 0 ? countWhere(file, policy.schema, t.id, broken) : 0 });
    if (pace.due()) await pace.rest(i, steps);
  }
  const matches = new Map<string, number>();
  for (const [i, g] of policy.rules.grants.entries()) {
    if (pace.due()) await pace.rest(tables.length + i, steps);
    if (policy.broken.has(g.id) || !g.filter || testsOf(g.filter).some((t) => t.operands.some((o) => o.kind === "viewer"))) continue;
    matches.set(g.id, countWhere(file, policy.schema, g.table, resolve(g.filter, owner)));
  }
  const most = new Map<string, number>();
  for (const f of tables.flatMap((t) => t.fields)) {
    if (!pointsToSeveral(f) || hasColumn(f)) continue;
    if (pace.due()) await pace.rest(steps, steps);
    const { from } = linkColumns(f);
    const text = `SELECT coalesce(max(n), 0) FROM (SELECT count(*) AS n FROM ${sqlName(linkTableName(f))} GROUP BY ${sqlName(from)})`;
    most.set(f.id, file.db.prepare(text).pluck().get() as number);
  }
  return { records, matches, most };
}
