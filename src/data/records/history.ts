/**
 * What happened to a record, as its reader may know it: each state as it was then is asked of the policy, so nothing is told of a time or
 * a value that they could not have read. What was before the record changed company stays with the agency.
 */

import { decide, fields } from "@/core/access/decide";
import type { Row } from "@/core/access/row";
import { sideOf } from "@/core/access/who/viewer";
import type { ActorKind } from "@/core/events/event";
import type { Table, Value, Values } from "@/core/schema/types";
import type { Access } from "../access";
import { readRow, worldOf } from "../tables/rows";

export interface Happened {
  readonly id: number;
  readonly at: number;
  readonly actor: { readonly kind: ActorKind; readonly id: string | null };
  readonly kind: string;
  /** By field; `hidden` stands for a value that the reader could not read. */
  readonly changes: readonly { readonly field: string; readonly before: Value | "hidden"; readonly after: Value | "hidden" }[];
}

interface Stored {
  id: number;
  at: number;
  kind: ActorKind;
  actor: string | null;
  act: string;
  company: string | null;
  before: string | null;
  after: string | null;
}

/** More than these are not walked back through. */
const MOST = 200;

const ASK = `SELECT e.id, e.at, e.actor_kind AS kind, e.actor_id AS actor, e.act, e.company_id AS company, v."before", v."after"
  FROM sys_events e LEFT JOIN sys_event_values v ON v.event_id = e.id
  WHERE e.table_id = ? AND e.record_id = ? ORDER BY e.id DESC LIMIT ${MOST}`;

/** Newest first; empty where the viewer does not see the record now. */
export function historyOf({ file, policy, viewer }: Access, table: Table, id: string, only: ReadonlySet<string> | null): Happened[] {
  const row = readRow(file, policy.schema, table, id);
  const world = worldOf(file, policy.schema);
  if (!row || decide(policy, viewer, "see", table.id, row, world).outcome !== "allowed") return [];
  const readableIn = (r: Row): ReadonlySet<string> =>
    decide(policy, viewer, "see", table.id, r, world).outcome === "allowed" ? new Set(fields(policy, viewer, "see", r, world)) : new Set();
  const client = sideOf(viewer) !== "agency" && viewer.kind !== "owner";
  // A person may have been in other companies, whose time with them is no part of a row of theirs.
  if (client && table.kind === "people") return [];
  const found: Happened[] = [];
  let after: Row = row;
  for (const e of file.db.prepare(ASK).all(table.id, id) as Stored[]) {
    if (client && e.company !== row.companyId) break;
    const was = JSON.parse(e.before ?? "{}") as Values;
    const is = JSON.parse(e.after ?? "{}") as Values;
    const before: Row = { ...after, values: { ...after.values, ...was } };
    const [now, then] = [readableIn(after), e.before === null ? new Set<string>() : readableIn(before)];
    const changes = [...new Set([...Object.keys(was), ...Object.keys(is)])]
      .filter((f) => (now.has(f) || then.has(f)) && (!only || only.has(f)) && policy.schema.findField(f)?.tableId === table.id)
      .map((field) => ({
        field,
        before: then.has(field) || e.before === null ? (was[field] ?? null) : ("hidden" as const),
        after: now.has(field) ? (is[field] ?? null) : ("hidden" as const),
      }))
      .filter((c) => JSON.stringify(c.before) !== JSON.stringify(c.after));
    if (changes.length > 0) found.push({ id: e.id, at: e.at, actor: { kind: e.kind, id: e.actor }, kind: e.act, changes });
    after = before;
  }
  return found;
}
