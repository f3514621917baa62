/** The outbox: what is to be sent is written down in the transaction that wants it sent, and stays, with how it went. */

import { and, count, desc, eq, gt, inArray, lt, or, sql } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { isOccasion, type Occasion, type OccasionId, occasion } from "@/core/messages/occasions";
import { fillIn, type Said, type Template, templateProblem, VALUE } from "@/core/messages/render";
import { holdsFiles, isRelation } from "@/core/schema/fields/natures";
import type { Field, Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { rehearsalIn } from "../file/clock";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { enqueue } from "../jobs/queue";
import { schemaOf } from "../tables/read";
import { stopOf, stopWords } from "./stops";

export const SEND = "send a message";
/** Where the link stands in what is kept. Its signs are of no use in a text of anybody's (private use area of Unicode). */
export const LINK = "\ue000link\ue000";
export const CODE = "\ue000code\ue000";

export type MessageState = "ready" | "waiting" | "sent" | "failed";
export type Message = typeof t.messages.$inferSelect;

/** How letters of an occasion read: in the owner's words, or as they did at first. */
export function templateOf(file: PortalFile, id: OccasionId): Template {
  const own = file.orm.select().from(t.templates).where(eq(t.templates.occasion, id)).get();
  return own ?? occasion(id);
}

/** What a template may say of its receiver's record, and of their company's: values that read as text. */
export function valueWords(file: PortalFile): { word: string; field: Field }[] {
  const { people, companies } = schemaOf(file);
  const of = (table: Table, kind: "person" | "company") =>
    table.fields
      .filter((f) => !f.system && f.id !== table.labelFieldId && !isRelation(f) && !holdsFiles(f))
      .map((field) => ({ word: `${kind}.${field.slug}`, field }));
  const name = companies.fields.filter((f) => f.id === companies.labelFieldId).map((field) => ({ word: "company.name", field }));
  return [...of(people, "person"), ...name, ...of(companies, "company")];
}

/** Whether any template of the portal says such a value: else nothing is read for them. */
export const saysValues = (file: PortalFile): boolean =>
  file.orm
    .select()
    .from(t.templates)
    .all()
    .some((x) => VALUE.test(`${x.subject} ${x.body}`));

/** Keeps the owner's own template; null goes back to the first one. Returns a sentence where it cannot be kept. */
export function keepTemplate(file: PortalFile, owner: Owner, id: OccasionId, template: Template | null): string | null {
  if (!template) {
    file.orm.delete(t.templates).where(eq(t.templates.occasion, id)).run();
    return null;
  }
  const problem = templateProblem(
    occasion(id),
    template,
    valueWords(file).map((w) => w.word),
  );
  if (problem) return problem;
  const row = { occasion: id, subject: template.subject.trim(), body: template.body.trim(), changedAt: owner.now };
  file.orm.insert(t.templates).values(row).onConflictDoUpdate({ target: t.templates.occasion, set: row }).run();
  return null;
}

export interface ToWrite {
  readonly occasion: OccasionId;
  readonly to: { readonly personId: string | null; readonly email: string };
  /** Without `link`: that is put in when it is sent. */
  readonly said: Said;
  readonly link: { readonly id: string; readonly version: number } | null;
  /** Worked out when it is sent, as the link is; `id` is what it is for. */
  readonly code?: { readonly id: string; readonly version: number };
  readonly batch?: string;
  /** Kept back until somebody says that it may go. */
  readonly held?: boolean;
  readonly by: string;
  readonly now: number;
}

/** Writes a letter and puts it in line to be sent, in the transaction of whatever it is about. Its id. */
export function write(file: PortalFile, m: ToWrite): string {
  const { subject, body } = fillIn(templateOf(file, m.occasion), {
    ...m.said,
    ...(m.link ? { link: LINK } : {}),
    ...(m.code ? { code: CODE } : {}),
  });
  const secret = m.link ?? m.code ?? null;
  const id = newId();
  const stop = (occasion(m.occasion) as Occasion).unasked ? stopOf(file, m.to.email) : undefined;
  // Nothing leaves a rehearsal: whatever it would send stays in its outbox.
  const held = m.held === true || rehearsalIn(file) !== null;
  file.orm
    .insert(t.messages)
    .values({
      id,
      occasion: m.occasion,
      batch: m.batch ?? null,
      personId: m.to.personId,
      email: m.to.email,
      subject,
      body,
      linkId: secret?.id ?? null,
      linkVersion: secret?.version ?? null,
      channel: occasion(m.occasion).channel,
      state: stop ? "failed" : held ? "ready" : "waiting",
      error: stop ? stopWords(stop) : null,
      madeAt: m.now,
      madeBy: m.by,
    })
    .run();
  if (!held && !stop) enqueue(file, SEND, { id }, m.now, { id: `message-${id}` });
  return id;
}

/** One message with its state; undefined where there is none. */
export const messageById = (file: PortalFile, id: string): Message | undefined =>
  file.orm.select().from(t.messages).where(eq(t.messages.id, id)).get();

/** The last that somebody was written about this since then, and that has not failed. */
export const writtenSince = (file: PortalFile, personId: string, about: OccasionId, since: number): Message | undefined =>
  file.orm
    .select()
    .from(t.messages)
    .where(
      and(
        eq(t.messages.personId, personId),
        eq(t.messages.occasion, about),
        gt(t.messages.madeAt, since),
        inArray(t.messages.state, ["waiting", "sent"]),
      ),
    )
    .orderBy(desc(t.messages.madeAt), desc(t.messages.id))
    .limit(1)
    .get();

/** How a try went. */
export function noteTry(file: PortalFile, id: string, outcome: { sentAt: number } | { error: string; over: boolean }): void {
  const set =
    "sentAt" in outcome
      ? { state: "sent", sentAt: outcome.sentAt, error: null }
      : { state: outcome.over ? "failed" : "waiting", error: outcome.error.slice(0, 500) };
  file.orm
    .update(t.messages)
    .set({ ...set, tries: sql`${t.messages.tries} + 1` })
    .where(eq(t.messages.id, id))
    .run();
}

/** Sends these messages now, if they are ready or have failed. */
export function sendNow(file: PortalFile, owner: Owner, ids: readonly string[]): number {
  if (rehearsalIn(file)) return 0;
  const rows = file.orm
    .update(t.messages)
    .set({ state: "waiting", error: null })
    .where(and(inArray(t.messages.id, [...ids]), inArray(t.messages.state, ["ready", "failed"])))
    .returning({ id: t.messages.id, tries: t.messages.tries })
    .all();
  for (const { id, tries } of rows) enqueue(file, SEND, { id }, owner.now, { id: `message-${id}-${tries}` });
  return rows.length;
}

export interface Asked {
  readonly state?: MessageState | undefined;
  readonly words?: string | undefined;
  readonly batch?: string | undefined;
  readonly person?: string | undefined;
  readonly page: number;
}
export const PAGE = 50;

/** A page of letters, the latest first, with how many there are by state. */
export function outbox(
  file: PortalFile,
  _owner: Owner,
  asked: Asked,
): { list: Message[]; total: number; states: Record<MessageState, number> } {
  const words = asked.words?.trim();
  const has = (column: typeof t.messages.email | typeof t.messages.subject) => sql`instr(lower(${column}), ${fold(words ?? "")}) > 0`;
  const of = and(
    asked.batch ? eq(t.messages.batch, asked.batch) : undefined,
    asked.person ? eq(t.messages.personId, asked.person) : undefined,
    words ? or(has(t.messages.email), has(t.messages.subject)) : undefined,
  );
  const where = and(of, asked.state ? eq(t.messages.state, asked.state) : undefined);
  const states: Record<MessageState, number> = { ready: 0, waiting: 0, sent: 0, failed: 0 };
  for (const r of file.orm.select({ state: t.messages.state, n: count() }).from(t.messages).where(of).groupBy(t.messages.state).all())
    states[r.state as MessageState] = r.n;
  const list = file.orm
    .select()
    .from(t.messages)
    .where(where)
    .orderBy(desc(t.messages.madeAt), desc(t.messages.id))
    .limit(PAGE)
    .offset((asked.page - 1) * PAGE)
    .all();
  return { list, total: file.orm.select({ n: count() }).from(t.messages).where(where).get()?.n ?? 0, states };
}

/** A message as the outbox shows it: without a link or code that signs its receiver in. */
export const readable = (m: Message): string =>
  m.body
    .replaceAll(CODE, "(their code)")
    .replaceAll(LINK, isOccasion(m.occasion) && !occasion(m.occasion).secret ? "(their link)" : "(a link that only the message has)");

/** What was sent, or given up, and made before then. What still waits or is held back stays, however old. */
export const sweepMessages = (file: PortalFile, before: number): void =>
  void file.orm
    .delete(t.messages)
    .where(and(inArray(t.messages.state, ["sent", "failed"]), lt(t.messages.madeAt, before)))
    .run();
