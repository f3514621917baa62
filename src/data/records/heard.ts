/** What a viewer may be told of something that happened to a record: as they see it now, or that it is no longer there for them. */
import { decide, fields } from "@/core/access/decide";
import { match } from "@/core/access/match";
import { resolve } from "@/core/access/resolve";
import type { Row } from "@/core/access/row";
import type { Condition } from "@/core/schema/condition";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table, Values } from "@/core/schema/types";
import type { Access } from "../access";
import { readRow, worldOf } from "../tables/rows";
import { readRecord } from "./query/read";

export interface HeardOf {
  readonly table: Table;
  readonly record: string;
  /** Whose it was then. */
  readonly company: string | null;
  /** What the changed fields held before; null where the event did not say. */
  readonly before: Values | null;
  readonly after: Values | null;
}

export type Heard =
  | {
      readonly kind: "seen";
      readonly record: SeenRecord /** Ids of the fields that changed, as far as they are read. */;
      readonly changed: readonly string[];
    }
  /** It was in sight before, and is not any more: removed, moved, or out of the filter. */
  | { readonly kind: "left" }
  | { readonly kind: "nothing" };

const NOTHING: Heard = { kind: "nothing" };

/** Only records that meet `filter` are told of; null is all that the viewer sees. */
export function heardOf(d: Access, e: HeardOf, filter: Condition | null): Heard {
  const { file, policy, viewer } = d;
  const world = worldOf(file, policy.schema);
  const wanted = filter && resolve(filter, viewer);
  const inSight = (row: Row): boolean =>
    decide(policy, viewer, "see", e.table.id, row, world).outcome === "allowed" && (!wanted || match(wanted, row, world, policy.schema));
  const now = readRow(file, policy.schema, e.table, e.record);
  if (now && inSight(now)) {
    const record = readRecord(d, e.table.id, e.record);
    if (!record) return NOTHING;
    const read = new Set(fields(policy, viewer, "see", now, world));
    const changed = [...new Set([...Object.keys(e.before ?? {}), ...Object.keys(e.after ?? {})])].filter((f) => read.has(f));
    return { kind: "seen", record, changed };
  }
  const was = now ? { ...now, companyId: e.company, values: { ...now.values, ...e.before } } : removedRow(d, e);
  return was && inSight(was) ? { kind: "left" } : NOTHING;
}

/** As it went into the bin; what is no longer there is told of nobody. */
function removedRow({ file }: Access, e: HeardOf): Row | undefined {
  const body = file.db.prepare("SELECT body FROM sys_removed WHERE record_id = ? AND table_id = ?").pluck().get(e.record, e.table.id);
  return body === undefined ? undefined : (JSON.parse(String(body)) as { row: Row }).row;
}
