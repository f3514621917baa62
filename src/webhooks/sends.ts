/** What is to be told, written down in the transaction of the event itself, and what became of it. */
import { EVENT_KINDS, type EventKind } from "@/core/events/kinds";
import type { Feed } from "@/data/events/feeds";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { WANTED } from "./hooks";
import { wake } from "./wake";

export const LOG_DAYS = 30;

const kindsWanted = (file: PortalFile): readonly string[] => JSON.parse(file.meta.get(WANTED) ?? "[]") as string[];

/** Every webhook that is set to the event gets a line; what it says is worked out when it goes. */
export const webhookFeed: Feed = {
  kinds: [...(Object.keys(EVENT_KINDS) as EventKind[]), "act"],
  hear: (file, event, id) => {
    const kind = event.kind.startsWith("act:") ? "act" : event.kind;
    if (!kindsWanted(file).includes(kind)) return;
    const made = file.db
      .prepare(
        `INSERT INTO sys_webhook_sends (id, webhook_id, event_id, kind, record_id, state, next_at, made_at)
         SELECT 'msg_' || lower(hex(randomblob(16))), w.id, @event, @kind, @record, 'waiting', @at, @at FROM sys_webhooks w
         WHERE (w.table_id IS NULL OR w.table_id = @table) AND EXISTS (SELECT 1 FROM json_each(w.kinds) k WHERE k.value = @wanted)`,
      )
      .run({ event: id, kind: event.kind, record: event.record ?? null, at: event.at, table: event.table ?? null, wanted: kind }).changes;
    if (made > 0) wake(file, event.at);
  },
};

export interface Send {
  readonly n: number;
  readonly id: string;
  readonly webhookId: string;
  readonly eventId: number | null;
  readonly kind: string;
  readonly recordId: string | null;
  readonly body: string | null;
  readonly state: "waiting" | "taken" | "failed" | "passed";
  readonly tries: number;
  readonly nextAt: number | null;
  readonly madeAt: number;
  readonly endedAt: number | null;
  readonly status: number | null;
  readonly answer: string | null;
}

const SEND = `SELECT n, id, webhook_id AS webhookId, event_id AS eventId, kind, record_id AS recordId, body, state, tries, next_at AS nextAt,
  made_at AS madeAt, ended_at AS endedAt, status, answer FROM sys_webhook_sends s`;

/** No message about the same record waits before it. */
const FIRST = `NOT EXISTS (SELECT 1 FROM sys_webhook_sends e
  WHERE e.webhook_id = s.webhook_id AND e.record_id IS s.record_id AND e.state = 'waiting' AND e.n < s.n)`;

/** Webhooks with anything due. */
export const hooksDue = (file: PortalFile, now: number): string[] =>
  file.db
    .prepare(
      `SELECT DISTINCT s.webhook_id FROM sys_webhook_sends s JOIN sys_webhooks w ON w.id = s.webhook_id AND w.paused_at IS NULL
       WHERE s.state = 'waiting' AND s.next_at <= ? AND ${FIRST}`,
    )
    .pluck()
    .all(now) as string[];

/** Those of a webhook that are due, of each record the earliest alone: none overtakes another. Nothing of one that is paused. */
export const dueSends = (file: PortalFile, webhook: string, now: number, most: number): Send[] =>
  file.db
    .prepare(
      `${SEND} WHERE s.webhook_id = @webhook AND s.state = 'waiting' AND s.next_at <= @now
         AND NOT EXISTS (SELECT 1 FROM sys_webhooks w WHERE w.id = s.webhook_id AND w.paused_at IS NOT NULL)
         AND ${FIRST}
       ORDER BY s.next_at, s.n LIMIT @most`,
    )
    .all({ webhook, now, most }) as Send[];

/** When the next one is due, or null. */
export const nextSend = (file: PortalFile): number | null =>
  file.db
    .prepare(
      `SELECT min(s.next_at) FROM sys_webhook_sends s JOIN sys_webhooks w ON w.id = s.webhook_id AND w.paused_at IS NULL WHERE s.state = 'waiting'
         AND ${FIRST}`,
    )
    .pluck()
    .get() as number | null;

/** Newest first; `before` is the number of the last one shown. */
export const sendsOf = (file: PortalFile, webhook: string, most: number, before: number | null = null): Send[] =>
  file.db
    .prepare(`${SEND} WHERE s.webhook_id = @webhook AND (@before IS NULL OR s.n < @before) ORDER BY s.n DESC LIMIT @most`)
    .all({ webhook, before, most }) as Send[];

/** One sending of a webhook; undefined where there is none. */
export const sendById = (file: PortalFile, id: string): Send | undefined =>
  file.db.prepare(`${SEND} WHERE s.id = ?`).get(id) as Send | undefined;

interface End {
  readonly state: Exclude<Send["state"], "waiting">;
  readonly status: number | null;
  readonly answer: string | null;
}

export function endSend(file: PortalFile, id: string, { state, status, answer }: End, now: number): void {
  file.db
    .prepare("UPDATE sys_webhook_sends SET state = ?, status = ?, answer = ?, ended_at = ?, next_at = NULL WHERE id = ?")
    .run(state, status, answer, now, id);
}

export function laterSend(file: PortalFile, id: string, at: number, status: number | null, answer: string | null): void {
  file.db.prepare("UPDATE sys_webhook_sends SET next_at = ?, status = ?, answer = ? WHERE id = ?").run(at, status, answer, id);
}

/** Counted before it is tried: a process that is killed in between has tried. */
export function noteTry(file: PortalFile, id: string, body: string): void {
  file.db.prepare("UPDATE sys_webhook_sends SET tries = tries + 1, body = ? WHERE id = ?").run(body, id);
}

/** Again by hand, under the same id: a receiver that has it knows it again. False where it waits anyway. */
export function sendAgain(file: PortalFile, webhook: string, id: string, now: number): boolean {
  const done = file.db
    .prepare(
      "UPDATE sys_webhook_sends SET state = 'waiting', tries = 0, next_at = @now, made_at = @now, ended_at = NULL WHERE id = @id AND webhook_id = @webhook AND state IN ('failed', 'taken')",
    )
    .run({ id, webhook, now }).changes;
  if (done === 1) wake(file, now);
  return done === 1;
}

/** A telling of nothing that happened, to see whether it arrives. Its id. */
export function addTest(file: PortalFile, webhook: string, now: number): string {
  const id = `msg_${newId().replaceAll("-", "")}`;
  file.db
    // In no order with others, and not due: whoever asked for it sends it.
    .prepare(
      "INSERT INTO sys_webhook_sends (id, webhook_id, kind, record_id, state, made_at) VALUES (@id, @webhook, 'test', @id, 'waiting', @now)",
    )
    .run({ id, webhook, now });
  return id;
}

/** At night: what ended long ago. */
export const sweepSends = (file: PortalFile, now: number): void =>
  void file.db.prepare("DELETE FROM sys_webhook_sends WHERE state <> 'waiting' AND ended_at < ?").run(now - LOG_DAYS * 86_400_000);
