/**
 * Acceptance by version: an act keeps who accepted a record, when, and the hash of what it was then. What was accepted stands beside its
 * hash, so that it can be shown that one belongs to the other; whether the record still is that version is told by asking again.
 */

import { createHash } from "node:crypto";
import { and, asc, eq } from "drizzle-orm";
import type { Act } from "@/core/access/act";
import { openFiles } from "@/core/access/decide";
import type { Row } from "@/core/access/row";
import { sideOf } from "@/core/access/who/viewer";
import { type ActorKind, actorOf } from "@/core/events/event";
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Table } from "@/core/schema/types";
import type { Access } from "../access";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { acceptances } from "../file/portal-tables";
import { fileRows } from "../files/seen";
import { readRow, worldOf } from "../tables/rows";
import { readRecord } from "./query/read";

export interface Version {
  /** SHA-256 (FIPS 180-4) of the body, in hex. */
  readonly hash: string;
  /** JSON of the values by field id, keys in order and without spaces (RFC 8785): the same version always has the same text. */
  readonly body: string;
}

export interface Accepted {
  readonly id: string;
  readonly at: number;
  readonly act: string;
  readonly author: { readonly kind: ActorKind; readonly id: string | null; readonly name: string };
  readonly hash: string;
  /** Whether the record still is as it was accepted. */
  readonly now: boolean;
}

/** Files count by their contents: another file of the same name is another version. */
export function versionOf(file: PortalFile, table: Table, row: Row, fields: readonly string[]): Version {
  const values: Record<string, unknown> = {};
  for (const id of fields.toSorted()) {
    const field = table.fields.find((f) => f.id === id);
    const v = row.values[id] ?? null;
    values[id] = field && holdsFiles(field) && Array.isArray(v) ? contents(file, v as string[]) : v;
  }
  const body = JSON.stringify({ record: row.id, table: table.id, values });
  return { hash: createHash("sha256").update(body).digest("hex"), body };
}

function contents(file: PortalFile, ids: readonly string[]): string[] {
  const rows = fileRows(file, ids);
  return ids.map((id) => rows.get(id)?.hash ?? "");
}

/** Whether the viewer reads all that the act accepts, on this record: nobody accepts what they cannot read. */
export function readsAll(d: Access, table: Table, id: string, act: Act): boolean {
  const seen = readRecord(d, table.id, id);
  const accepts = act.accepts ?? [];
  if (!seen || !accepts.every((f) => f in seen.fields)) return false;
  // The name of a file is not the file: who may not open it has not read it.
  const files = table.fields.filter((f) => holdsFiles(f) && accepts.includes(f.id));
  const row = files.length > 0 ? readRow(d.file, d.policy.schema, table, id) : undefined;
  const opened = row ? openFiles(d.policy, d.viewer, row, worldOf(d.file, d.policy.schema)) : [];
  return files.every((f) => opened.includes(f.id));
}

/** The version that stands now, for whom may read all of it. */
export function versionNow(d: Access, table: Table, id: string, act: Act): string | null {
  const row = readsAll(d, table, id, act) ? readRow(d.file, d.policy.schema, table, id) : undefined;
  return row && act.accepts ? versionOf(d.file, table, row, act.accepts).hash : null;
}

/** Within the transaction of the act. */
export function keepAcceptance(d: Access, act: Act, row: Row, version: Version): void {
  const me = actorOf(d.viewer);
  d.file.orm
    .insert(acceptances)
    .values({
      id: newId(),
      tableId: row.table,
      recordId: row.id,
      companyId: row.companyId,
      act: act.id,
      authorKind: me.kind,
      authorId: me.id,
      author: d.viewer.person?.name ?? me.kind,
      hash: version.hash,
      body: version.body,
      at: d.viewer.now,
    })
    .run();
}

/** Oldest first, of the acts whose version the viewer may read; from before the record changed company they stay with the agency. */
export function acceptancesOf(d: Access, table: Table, id: string, acts: readonly Act[]): Accepted[] {
  const { file, viewer } = d;
  const readable = acts.filter((a) => a.on === "accept" && a.table === table.id && readsAll(d, table, id, a));
  const row = readable.length > 0 ? readRow(file, d.policy.schema, table, id) : undefined;
  if (!row) return [];
  const agency = viewer.kind === "owner" || sideOf(viewer) === "agency";
  const now = new Map(readable.map((a) => [a.id, versionOf(file, table, row, a.accepts ?? []).hash]));
  return file.orm
    .select()
    .from(acceptances)
    .where(and(eq(acceptances.tableId, table.id), eq(acceptances.recordId, id)))
    .orderBy(asc(acceptances.at))
    .all()
    .filter(
      (a) => now.has(a.act) && (agency || (viewer.company !== null && a.companyId === viewer.company.id && a.companyId === row.companyId)),
    )
    .map((a) => ({
      id: a.id,
      at: a.at,
      act: a.act,
      author: { kind: a.authorKind as ActorKind, id: a.authorId, name: a.author },
      hash: a.hash,
      now: a.hash === now.get(a.act),
    }));
}
