/** Why a person sees a record or not: for the owner's eyes. The person's own view is computed, never the owner's widened. */

import { match } from "@/core/access/match";
import type { Policy } from "@/core/access/policy";
import { not } from "@/core/access/predicate";
import type { Doing } from "@/core/access/rules";
import { fieldWhere, scope } from "@/core/access/scope";
import type { Viewer } from "@/core/access/who/viewer";
import { type Explanation, explain, forSubject } from "@/core/access/words/explain";
import type { Access, OwnerAccess } from "../../access";
import { countOf } from "../../tables/count";
import { readRow, worldOf } from "../../tables/rows";
import { countRecords } from "../counting/count";
import { listRecords, readRecord } from "./read";

export interface Explained {
  readonly id: string;
  readonly label: string;
  readonly companyId: string | null;
  readonly explanation: Explanation;
}

export const SHOWS = ["all", "seen", "unseen"] as const;
/** All records of the table, or those that the viewer sees, or those that they do not. */
export type Show = (typeof SHOWS)[number];

const within = (policy: Policy, viewer: Viewer, tableId: string, show: Show) => {
  const { predicate } = scope(policy, viewer, tableId);
  return show === "all" ? {} : { within: show === "seen" ? predicate : not(predicate) };
};

/** How many records of a table a search finds among those that the viewer sees, does not see, or both. */
export const countShown = (d: OwnerAccess, viewer: Viewer, tableId: string, asked: { show: Show; search: string }): number =>
  countRecords(d, tableId, { search: asked.search, ...within(d.policy, viewer, tableId, asked.show) });

/** Records of a table in their usual order, each with the explanation for that viewer. */
export function explainRecords(
  d: OwnerAccess,
  viewer: Viewer,
  tableId: string,
  page: { limit: number; offset: number; search: string; show: Show },
): Explained[] {
  const { file, policy } = d;
  const table = policy.schema.table(tableId);
  const world = worldOf(file, policy.schema);
  return listRecords(d, tableId, {
    ...page,
    ...within(policy, viewer, tableId, page.show),
    only: new Set([table.labelFieldId]),
  }).records.flatMap((r) => {
    const row = readRow(file, policy.schema, table, r.id);
    return row
      ? [
          {
            id: r.id,
            companyId: row.companyId,
            label: String(r.fields[table.labelFieldId] ?? table.singular),
            explanation: explain(policy, viewer, "see", tableId, row, world),
          },
        ]
      : [];
  });
}

/** Without a record: what of the table could be seen at all, or whether anything may be added to it, and why not. */
export const explainTable = (d: OwnerAccess, viewer: Viewer, tableId: string, action: "see" | "add" = "see"): Explanation =>
  explain(d.policy, viewer, action, tableId, null, worldOf(d.file, d.policy.schema));

/** What that viewer sees of each table, never what the owner does. */
export const seenCounts = ({ file, policy }: OwnerAccess, viewer: Viewer): { table: string; seen: number; all: number }[] =>
  policy.schema.tables.map((t) => ({ table: t.id, seen: countRecords({ file, policy, viewer }, t.id), all: countOf(file, t.id) }));

/** One record of a table, with its explanation for a viewer and an action. */
export function explainRecord(d: OwnerAccess, viewer: Viewer, tableId: string, id: string, action: Doing = "see"): Explained | undefined {
  const { file, policy } = d;
  const table = policy.schema.table(tableId);
  const row = readRow(file, policy.schema, table, id);
  const record = row && readRecord(d, tableId, id);
  return (
    record && {
      id,
      companyId: row.companyId,
      label: String(record.fields[table.labelFieldId] ?? table.singular),
      explanation: explain(policy, viewer, action, tableId, row, worldOf(file, policy.schema)),
    }
  );
}

export interface Asked {
  readonly action: Doing;
  /** Only people who read this field of the record; null for the record as a whole. */
  readonly field: string | null;
}

/** Those of many viewers who may do this with the record. The rows on the way are read once for all of them. */
export function whoMay<T extends { readonly viewer: Viewer }>(
  d: OwnerAccess,
  people: readonly T[],
  tableId: string,
  id: string,
  { action, field }: Asked,
): T[] {
  const { file, policy } = d;
  const table = policy.schema.table(tableId);
  const row = readRow(file, policy.schema, table, id);
  if (!row) return [];
  const read = new Map<string, ReturnType<typeof readRow>>();
  const world = {
    row: (t: string, recordId: string) => {
      const key = `${t} ${recordId}`;
      if (!read.has(key)) read.set(key, readRow(file, policy.schema, policy.schema.table(t), recordId));
      return read.get(key);
    },
  };
  return people.filter((p) => {
    const s = scope(policy, p.viewer, tableId, action);
    const asked = [
      s.predicate,
      ...(action === "see" ? [] : [scope(policy, p.viewer, tableId).predicate]),
      ...(field ? [fieldWhere(s, field, action === "change" ? "changes" : "fields")] : []),
      ...(field && action === "export" ? [fieldWhere(scope(policy, p.viewer, tableId), field)] : []),
    ];
    return asked.every((w) => match(w, row, world, policy.schema));
  });
}

/**
 * To the viewer themselves, why they may or may not do something with a record that they see; nothing of one they do not.
 * A value behind a relation may be hidden from them on that other record, so only the record's own are told.
 */
export function explainToViewer(d: Access, tableId: string, id: string, action: Doing): Explanation | undefined {
  const { file, policy, viewer } = d;
  const seen = readRecord(d, tableId, id);
  const row = seen && readRow(file, policy.schema, policy.schema.table(tableId), id);
  if (!row) return undefined;
  const whole = explain(policy, viewer, action, tableId, row, worldOf(file, policy.schema));
  return forSubject(policy, whole, (path) => path.length === 1 && path[0]! in seen.fields);
}

/** Why somebody else sees a record or not, to a viewer who sees it: of the tests alone those on fields that this viewer reads on it. */
export function explainOther(d: Access, subject: Viewer, tableId: string, id: string): Explanation | undefined {
  const { file, policy } = d;
  const seen = readRecord(d, tableId, id);
  const row = seen && readRow(file, policy.schema, policy.schema.table(tableId), id);
  if (!row) return undefined;
  const whole = explain(policy, subject, "see", tableId, row, worldOf(file, policy.schema));
  return forSubject(policy, whole, (path) => path.length === 1 && path[0]! in seen.fields);
}
