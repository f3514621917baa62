/**
 * Webhooks as the agency sets them: where to, of which kinds of events, of which table and filter, and with whose eyes. What is told of a
 * record is what that role reads of it, never more.
 */

import { randomBytes } from "node:crypto";
import { and, desc, eq, isNull, sql } from "drizzle-orm";
import { conditionProblems } from "@/core/access/sound";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { EVENT_KINDS, type EventKind } from "@/core/events/kinds";
import { err, ok, type Result } from "@/core/result";
import type { Condition } from "@/core/schema/condition";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { webhooks } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { companyFacts } from "@/data/tables/company-facts";
import { writeMeta } from "@/data/tables/meta";
import { mayHoldKey } from "@/identity/keys/keys";
import { seal, unseal } from "@/identity/secrets/secrets";
import { roleKeyViewer } from "@/identity/viewers/viewer";
import { wake } from "./wake";

/** A kind of event, or all acts of the agency's own. */
export type HookKind = EventKind | "act";
export const MOST_HOOKS = 50;
const DAY = 86_400_000;
/** How long a replaced secret signs as well. */
export const BOTH_SECRETS = DAY;

/** Kinds about a record, which any role may be told of as far as it sees the record. */
const ABOUT_RECORDS: readonly HookKind[] = [
  ...(Object.keys(EVENT_KINDS) as EventKind[]).filter((k) => EVENT_KINDS[k].of === "record" && EVENT_KINDS[k].heard === "readers"),
  "act",
];
/** Whether events of a kind are about one record. */
export const isAboutRecord = (kind: string): boolean => kind.startsWith("act:") || ABOUT_RECORDS.includes(kind as HookKind);
/** Kinds that a webhook may be set to, in the order of the log's own list. Those that are about no record are told without any of its values. */
export const HOOK_KINDS: readonly HookKind[] = [
  ...ABOUT_RECORDS,
  ...(Object.keys(EVENT_KINDS) as EventKind[]).filter((k) => !ABOUT_RECORDS.includes(k)),
];

export interface HookSettings {
  readonly name: string;
  readonly url: string;
  readonly kinds: readonly HookKind[];
  /** The only table that it tells of; null for every table. */
  readonly table: string | null;
  readonly filter: Condition | null;
  readonly role: string;
  /** For a role of clients: the company as which it reads. */
  readonly company: string | null;
}

export interface Hook extends HookSettings {
  readonly id: string;
  readonly madeAt: number;
  readonly pausedAt: number | null;
  readonly pausedWhy: string | null;
  readonly failingSince: number | null;
}

export interface HookProblem {
  readonly field: "name" | "url" | "kinds" | "table" | "filter" | "role" | "";
  readonly message: string;
}

const hookOf = (r: typeof webhooks.$inferSelect): Hook => ({
  id: r.id,
  name: r.name,
  url: r.url,
  kinds: JSON.parse(r.kinds) as HookKind[],
  table: r.tableId,
  filter: r.filter === null ? null : (JSON.parse(r.filter) as Condition),
  role: r.roleId,
  company: r.companyId,
  madeAt: r.madeAt,
  pausedAt: r.pausedAt,
  pausedWhy: r.pausedWhy,
  failingSince: r.failingSince,
});

/** All webhooks, newest first. */
export const hooksOf = (file: PortalFile, _owner: Owner): Hook[] =>
  file.orm.select().from(webhooks).orderBy(desc(webhooks.madeAt), desc(webhooks.id)).all().map(hookOf);

/** One webhook; undefined where there is none. */
export function hookById(file: PortalFile, id: string): Hook | undefined {
  const row = file.orm.select().from(webhooks).where(eq(webhooks.id, id)).get();
  return row && hookOf(row);
}

/** With whose eyes it looks; undefined where its role or company is gone. */
export const viewerOfHook = (file: PortalFile, hook: Hook, now: number): Viewer | undefined =>
  roleKeyViewer(file, { id: hook.id, within: null, tools: false }, hook.role, hook.company, now);

function problemOf(file: PortalFile, h: HookSettings): HookProblem | null {
  const { policy } = published(file);
  if (!h.name.trim()) return { field: "name", message: "Name who is told, such as “Accounting”." };
  if (!URL.canParse(h.url) || !/^https?:$/.test(new URL(h.url).protocol) || h.url.length > 2_000)
    return { field: "url", message: "Write the whole address, beginning with https://." };
  if (new URL(h.url).username || new URL(h.url).password)
    return { field: "url", message: "An address takes no name and no password: it is shown here and in the log." };
  if (h.kinds.length === 0) return { field: "kinds", message: "Choose at least one kind of event." };
  if (!h.kinds.every((k) => HOOK_KINDS.includes(k)))
    return { field: "kinds", message: "One of these kinds is not known. Load the page again." };
  if (h.table !== null && !policy.schema.findTable(h.table)) return { field: "table", message: "This table is gone. Choose another." };
  if (h.filter !== null && filterBreaks(file, h))
    return { field: "filter", message: "The filter does not go with this table. Set it anew." };
  const role = policy.role(h.role);
  if (!role || !mayHoldKey(role)) return { field: "role", message: "Choose a role of the agency or of clients." };
  if (role.side === "agency" && h.company !== null)
    return { field: "role", message: `${role.name} is a role of the agency, in no company.` };
  if (role.side === "client" && (h.company === null || !companyFacts(file, h.company)))
    return { field: "role", message: `${role.name} is a role of clients: choose the company that is told.` };
  if (role.companyId && role.companyId !== h.company) return { field: "role", message: `${role.name} is a role of another company.` };
  const others = h.kinds.filter((k) => !isAboutRecord(k));
  if (role.side === "client" && others.length > 0)
    return { field: "kinds", message: `A role of clients is told of records alone, not of “${others[0]!.replaceAll("-", " ")}”.` };
  return null;
}

/** Whether it names what the table does not have, such as a field that is gone by now. */
export const filterBreaks = (file: PortalFile, { filter, table }: Pick<HookSettings, "filter" | "table">): boolean =>
  filter !== null && (table === null || conditionProblems(filter, table, published(file).policy.schema).length > 0);

/** As Standard Webhooks has them: a prefix and 24 to 64 random bytes. */
const newSecret = (): string => `whsec_${randomBytes(32).toString("base64")}`;
const sealed = (file: PortalFile, secret: string): string => seal(file.id, "webhook", secret);

const columns = (h: HookSettings) => ({
  name: h.name.trim(),
  url: h.url,
  kinds: JSON.stringify(h.kinds),
  tableId: h.table,
  filter: h.filter && JSON.stringify(h.filter),
  roleId: h.role,
  companyId: h.company,
});

/** Told this once, in the answer. */
export function addHook(file: PortalFile, owner: Owner, h: HookSettings): Result<{ id: string; secret: string }, HookProblem> {
  const problem = problemOf(file, h);
  if (problem) return err(problem);
  const [id, secret] = [newId(), newSecret()];
  return transact(file, () => {
    if (file.orm.select({ n: sql<number>`count(*)` }).from(webhooks).get()!.n >= MOST_HOOKS)
      return err({ field: "", message: `A portal has up to ${MOST_HOOKS} webhooks.` });
    file.orm
      .insert(webhooks)
      .values({ id, secret: sealed(file, secret), madeAt: owner.now, ...columns(h) })
      .run();
    return told(file, owner, "webhook-made", h, ok({ id, secret }));
  });
}

/** Sets a webhook anew, and records it; a sentence beside the field that is wrong. */
export function changeHook(file: PortalFile, owner: Owner, id: string, h: HookSettings): Result<null, HookProblem> {
  const problem = problemOf(file, h);
  if (problem) return err(problem);
  return transact(file, () => {
    const changed = file.orm.update(webhooks).set(columns(h)).where(eq(webhooks.id, id)).run().changes;
    return changed === 0 ? err({ field: "", message: "This webhook is gone." }) : told(file, owner, "webhook-changed", h, ok(null));
  });
}

/** The former secret signs beside the new one for a day, so that a receiver is moved without a gap. */
export function newHookSecret(file: PortalFile, owner: Owner, id: string): string | undefined {
  const secret = newSecret();
  return transact(file, () => {
    const row = file.orm.select().from(webhooks).where(eq(webhooks.id, id)).get();
    if (!row) return undefined;
    const next = { secret: sealed(file, secret), former: row.secret, formerUntil: owner.now + BOTH_SECRETS };
    file.orm.update(webhooks).set(next).where(eq(webhooks.id, id)).run();
    return told(file, owner, "webhook-changed", row, secret);
  });
}

/** The secrets that sign now, the newest first. */
export function secretsOf(file: PortalFile, id: string, now: number): string[] {
  const row = file.orm.select().from(webhooks).where(eq(webhooks.id, id)).get();
  if (!row) return [];
  const both = row.former !== null && row.formerUntil !== null && row.formerUntil > now ? [row.secret, row.former] : [row.secret];
  return both.map((s) => unseal(file.id, "webhook", s));
}

/** Removes a webhook with what waits to be told. False where there is none. */
export function dropHook(file: PortalFile, owner: Owner, id: string): boolean {
  return transact(file, () => {
    const row = file.orm.select().from(webhooks).where(eq(webhooks.id, id)).get();
    if (!row) return false;
    file.db.prepare("DELETE FROM sys_webhook_sends WHERE webhook_id = ?").run(id);
    file.orm.delete(webhooks).where(eq(webhooks.id, id)).run();
    return told(file, owner, "webhook-removed", row, true);
  });
}

/** Pauses a webhook by hand. False where there is nothing to change. */
export function pauseHook(file: PortalFile, owner: Owner, id: string): boolean {
  return transact(file, () => {
    const row = file.orm.select().from(webhooks).where(eq(webhooks.id, id)).get();
    if (!row || row.pausedAt !== null) return false;
    file.orm.update(webhooks).set({ pausedAt: owner.now, pausedWhy: null }).where(eq(webhooks.id, id)).run();
    return told(file, owner, "webhook-paused", row, true);
  });
}

/** What waited goes out from now on, each for three days from when it happened. */
export function resumeHook(file: PortalFile, owner: Owner, id: string): boolean {
  return transact(file, () => {
    const row = file.orm.select().from(webhooks).where(eq(webhooks.id, id)).get();
    if (!row || row.pausedAt === null) return false;
    file.orm.update(webhooks).set({ pausedAt: null, pausedWhy: null, failingSince: null }).where(eq(webhooks.id, id)).run();
    file.db.prepare("UPDATE sys_webhook_sends SET next_at = ? WHERE webhook_id = ? AND state = 'waiting'").run(owner.now, id);
    wake(file, owner.now);
    return told(file, owner, "webhook-resumed", row, true);
  });
}

/** By Elkhorn itself: after three days without an answer, or where nobody is there to look. */
export function stopHook(file: PortalFile, id: string, why: string, now: number): boolean {
  return transact(file, () => {
    const row = file.orm
      .select()
      .from(webhooks)
      .where(and(eq(webhooks.id, id), isNull(webhooks.pausedAt)))
      .get();
    if (!row) return false;
    file.orm.update(webhooks).set({ pausedAt: now, pausedWhy: why }).where(eq(webhooks.id, id)).run();
    const detail = `${row.name}: ${why}`;
    record(file, { actor: { kind: "system", id: "webhooks" }, via: "job", at: now, kind: "webhook-paused", detail });
    return true;
  });
}

/** Facts of the file say which kinds anybody wants to be told of, so that an event that nobody does costs no question. */
export const WANTED = "webhook_kinds";

function told<T>(file: PortalFile, owner: Owner, kind: EventKind, h: { readonly name: string }, answer: T): T {
  const kinds = file.orm
    .select({ kinds: webhooks.kinds })
    .from(webhooks)
    .all()
    .flatMap((r) => JSON.parse(r.kinds) as string[]);
  writeMeta(file, WANTED, JSON.stringify([...new Set(kinds)].sort()));
  record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind, detail: h.name.trim() });
  return answer;
}
