/**
 * Everything that happens is recorded here, in the transaction of the act itself. The log is written first; its number is the change
 * counter that caches go by. Whoever must hear of an event within the same transaction (the outbox, webhooks) is a feed.
 */
import { sql } from "drizzle-orm";
import type { Event } from "@/core/events/event";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { feedsOf } from "./feeds";

const { at, actorKind, actorId, via, act, tableId, recordId, companyId, detail, cause } = t.events;
const COLUMNS = [at, actorKind, actorId, via, act, tableId, recordId, companyId, detail, cause].map((c) => c.name);

const insert = (table: string, columns: readonly string[]) => () =>
  sql`INSERT INTO ${sql.identifier(table)} (${sql.join(
    columns.map((c) => sql.identifier(c)),
    sql`, `,
  )}) VALUES (${sql.join(
    columns.map((_, i) => sql`${sql.placeholder(`p${i}`)}`),
    sql`, `,
  )})`;
const insertEvent = insert("sys_events", COLUMNS);
const insertValues = insert("sys_event_values", ["event_id", "before", "after"]);

const textOf = (v: unknown): string | null => (v === null || v === undefined ? null : JSON.stringify(v));

/** The event's number, for those that it causes. */
export function record(file: PortalFile, e: Event): number {
  const id = file.statements.insert("event", insertEvent, [
    e.at,
    e.actor.kind,
    e.actor.id,
    e.via,
    e.kind,
    e.table ?? null,
    e.record ?? null,
    e.company ?? null,
    e.detail ?? null,
    e.cause ?? null,
  ]);
  if (e.before || e.after) file.statements.run("event values", insertValues, [id, textOf(e.before), textOf(e.after)]);
  for (const feed of feedsOf(e.kind)) feed.hear(file, e, id);
  return id;
}

/** Rises with everything that happens: what was counted before it may no longer be so. */
export const lastEvent = (file: PortalFile): number => Number(file.statements.row("last event", askLast, [])?.[0] ?? 0);
const askLast = () => sql`SELECT max(id) FROM ${t.events}`;
