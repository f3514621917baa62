/**
 * Conversations about records, between a company and the agency. A grant opens one by an act of its own, with the grant's filter; what the
 * agency notes for itself reaches nobody else, and what was written before the record changed company stays with the agency (or comes
 * back with the record).
 */
import { and, asc, eq, sql } from "drizzle-orm";
import type { Act } from "@/core/access/act";
import { decide } from "@/core/access/decide";
import { doingOf } from "@/core/access/rules";
import { sideOf } from "@/core/access/who/viewer";
import { type ActorKind, actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import type { FileRef } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import type { Access } from "../access";
import { record } from "../events/record";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { talk } from "../file/portal-tables";
import { transact } from "../file/transact";
import type { PictureSize } from "../files/pictures";
import { addressIn, contentOf, fileRows, type OpenFile, refOf } from "../files/seen";
import { claimTalkFiles } from "../files/talk";
import { readRow, worldOf } from "../tables/rows";
import { by } from "./write/incoming";

export interface Spoken {
  readonly id: string;
  readonly at: number;
  readonly author: { readonly kind: ActorKind; readonly id: string | null };
  /** A note of the agency's for itself. */
  readonly inside: boolean;
  readonly body: string;
  readonly files: readonly FileRef[];
}

export const MOST_WORDS = 10_000;
/** Messages of one conversation: beyond, it is no conversation any more. */
const MOST = 2_000;

const isAgencys = ({ viewer }: Access): boolean => viewer.kind === "owner" || sideOf(viewer) === "agency";

/** The record, where the viewer sees it and an act opens its conversation to them. */
function opened(d: Access, table: Table, id: string): { companyId: string | null } | null {
  const { file, policy, viewer } = d;
  const acts = (policy.rules.acts ?? []).filter((a: Act) => a.on === "talk" && a.table === table.id);
  const row = acts.length > 0 ? readRow(file, policy.schema, table, id) : undefined;
  if (!row) return null;
  // Between one company and the agency: about what several companies share, or with who is signed out, there is none.
  if (!isAgencys(d) && (viewer.company === null || row.companyId !== viewer.company.id)) return null;
  const world = worldOf(file, policy.schema);
  const may = (doing: Parameters<typeof decide>[2]): boolean => decide(policy, viewer, doing, table.id, row, world).outcome === "allowed";
  return may("see") && acts.some((a) => may(doingOf(a))) ? { companyId: row.companyId } : null;
}

/** Oldest first; null where there is no conversation for this viewer. */
export function conversationOf(d: Access, table: Table, id: string): Spoken[] | null {
  const row = opened(d, table, id);
  if (!row) return null;
  const agency = isAgencys(d);
  const spoken = d.file.orm
    .select()
    .from(talk)
    .where(and(eq(talk.tableId, table.id), eq(talk.recordId, id)))
    // By the row where two were written in one millisecond: ids of one moment have no order.
    .orderBy(asc(talk.at), sql`rowid`)
    .all()
    .filter((m) => agency || (m.inside === 0 && m.companyId === row.companyId))
    .map((m) => ({ ...m, files: JSON.parse(m.files) as string[] }));
  const rows = fileRows(
    d.file,
    spoken.flatMap((m) => m.files),
  );
  return spoken.map((m) => ({
    id: m.id,
    at: m.at,
    author: { kind: m.authorKind as ActorKind, id: m.authorId },
    inside: m.inside === 1,
    body: m.body,
    files: m.files.flatMap((f): FileRef[] => {
      const file = rows.get(f);
      return file?.hash ? [refOf(file, addressIn(table.id, id, TALK, file))] : [];
    }),
  }));
}

/** Stands in the address of a file in place of a field's id. */
export const TALK = "talk";

/** What stands at such an address, for whoever reads a message that it hangs on. */
export function openTalkFile(d: Access, table: Table, record: string, id: string, size: PictureSize | null): OpenFile | undefined {
  const held = conversationOf(d, table, record)?.some((m) => m.files.some((f) => f.id === id));
  const row = held ? fileRows(d.file, [id]).get(id) : undefined;
  return row && contentOf(row, size);
}

export const MOST_TALK_FILES = 10;

export type TalkError = "not-found" | "empty" | "long" | "many" | "files";

/** Ids of the people who wrote in a conversation, in the order of their first message. Notes of the agency for itself do not count. */
export function whoTalked(file: PortalFile, table: string, id: string, except: string | null): string[] {
  const open = and(eq(talk.tableId, table), eq(talk.recordId, id), eq(talk.authorKind, "person"), eq(talk.inside, 0));
  const wrote = file.orm.select({ id: talk.authorId }).from(talk).where(open).orderBy(asc(talk.at), sql`rowid`).all();
  return [...new Set(wrote.flatMap((m) => (m.id && m.id !== except ? [m.id] : [])))];
}

/** The new message's id. `inside` is the agency's alone: from anybody else it is refused, never sent as something that others read. */
export function sayIn(
  d: Access,
  table: Table,
  id: string,
  words: string,
  inside: boolean,
  fileIds: readonly string[] = [],
): Result<string, TalkError> {
  const body = words.trim();
  const { file, viewer } = d;
  return transact(file, (): Result<string, TalkError> => {
    const row = opened(d, table, id);
    if (!row || (inside && !isAgencys(d))) return err("not-found");
    if (body === "" && fileIds.length === 0) return err("empty");
    if (body.length > MOST_WORDS) return err("long");
    const there = file.orm
      .select()
      .from(talk)
      .where(and(eq(talk.tableId, table.id), eq(talk.recordId, id)))
      .all();
    if (there.length >= MOST) return err("many");
    const held = fileIds.length > MOST_TALK_FILES ? null : claimTalkFiles(d, table, id, fileIds);
    if (!held) return err("files");
    const me = actorOf(viewer);
    const message = newId();
    file.orm
      .insert(talk)
      .values({
        id: message,
        tableId: table.id,
        recordId: id,
        companyId: row.companyId,
        inside: inside ? 1 : 0,
        authorKind: me.kind,
        authorId: me.id,
        body,
        at: viewer.now,
        files: JSON.stringify(held),
      })
      .run();
    record(file, { ...by(d), kind: inside ? "message-noted" : "message-written", table: table.id, record: id, company: row.companyId });
    return ok(message);
  });
}
