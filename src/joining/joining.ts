/**
 * Joining by oneself. Whatever the e-mail, the page answers the same; nothing is made before the link that went to it is opened, and then
 * all of it is made in one transaction: person, company, membership, role, address, what was agreed to.
 */

import { createHash } from "node:crypto";
import { and, count, eq, gt, lt } from "drizzle-orm";
import { type Joining, type JoinKind, joinEmail, mayJoin, plainName } from "@/core/joining/joining";
import { err, ok, type Result } from "@/core/result";
import { kindOf, type Value } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import { attempt, refuse } from "@/data/file/attempt";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { agreements, joins, terms } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { enqueue } from "@/data/jobs/queue";
import { write } from "@/data/messages/outbox";
import { addCompany, addMembership, addPerson, type JoiningDoer, personFacts, personIdByEmail } from "@/data/people/people";
import { schemaOf } from "@/data/tables/read";
import { type Entered, letInConfirmed } from "@/identity/entering/enter";
import { countTry, type From, limitsOf, waitFor } from "@/identity/limits/limits";
import { joinOf } from "@/identity/secrets/join-links";
import { freshLink } from "@/identity/secrets/links";
import { saidOf } from "@/letters/said";
import { joinFields, joining, latestTerms } from "./settings";

export const JOIN = "somebody asks to join";
const LASTS = 24 * 3_600_000;
/** Requests that nobody confirmed, at most: beyond, no more are taken for a while. */
const MOST_OPEN = 5_000;

export interface AskedToJoin {
  readonly email: string;
  readonly name: string;
  readonly kind: JoinKind;
  readonly company: string;
  /** Texts by field id, as the form sent them. Fields that the form does not ask for are dropped. */
  readonly values: Readonly<Record<string, readonly string[]>>;
  readonly wrote: string;
  readonly agreed: boolean;
  /** The version of the terms that was before them. */
  readonly read: number;
  /** Where they go once they are in; a path of this portal. */
  readonly back?: string;
}
export type JoinProblems = Readonly<Record<string, string>>;

/** Kept until it is confirmed; nothing else happens, whoever's the address is. The answer is the same for all that are well written. */
export function wantToJoin(file: PortalFile, asked: AskedToJoin, from: From, now: number): Result<null, JoinProblems> {
  const s = joining(file);
  if (s.who === "nobody") return err({ "": "Nobody joins this portal by themselves." });
  const problems: Record<string, string> = {};
  const email = joinEmail(asked.email);
  const name = plainName(asked.name);
  const company = asked.company.normalize("NFC").trim();
  if (!email) problems.email = "Write an e-mail address like dana@company.example, in plain letters.";
  else if (s.who === "domains" && !mayJoin(s, email)) problems.email = `Addresses of ${s.domains.join(", ")} are taken here.`;
  if (!name) problems.name = "Write your name, in up to 120 characters and without an address in it.";
  const kind = s.kinds.includes(asked.kind) ? asked.kind : s.kinds[0]!;
  if (s.who !== "known" && kind !== "alone" && (!company || company.length > 120))
    problems.company = "Write the company's name, in up to 120 characters.";
  const values: Record<string, Value> = {};
  const schema = schemaOf(file);
  for (const f of joinFields(schema)) {
    if (!s.fields.includes(f.id)) continue;
    const read = kindOf(f).parse(asked.values[f.id] ?? [], f, { timeZone: published(file).definition.portal.timeZone });
    if (!read.ok) problems[f.id] = read.error;
    else if (f.options.required && (read.value === null || (Array.isArray(read.value) && read.value.length === 0)))
      problems[f.id] = `${f.name} is needed.`;
    else values[f.id] = read.value;
  }
  const agreedTo = s.terms === "" ? null : (latestTerms(file)?.version ?? null);
  if (agreedTo !== null && !asked.agreed) problems.terms = "Read the terms, and say that you agree to them.";
  else if (agreedTo !== null && asked.read !== agreedTo)
    problems.terms = "The terms have changed since you opened this page. Load it again, read them, and agree to them as they are now.";
  if (Object.keys(problems).length > 0) return err(problems);
  const limits = limitsOf(`join ${email}`, from);
  if (waitFor(file.orm, limits, now) > 0) return ok(null); // without a word, as for links
  countTry(file.orm, limits, now);
  const open = file.orm.select({ n: count() }).from(joins).where(eq(joins.state, "asked")).get()?.n ?? 0;
  if (open >= MOST_OPEN) return ok(null);
  const id = newId();
  const row = {
    id,
    email: email!,
    name: name!,
    kind,
    company: kind === "alone" ? null : company || null,
    values,
    wrote: asked.wrote.slice(0, 2_000),
    terms: agreedTo,
    back: asked.back ?? "",
  };
  const dropped = Object.keys(asked.values).filter((k) => !s.fields.includes(k));
  transact(file, () => {
    file.orm
      .insert(joins)
      .values({ ...row, state: "asked", madeAt: now, expiresAt: now + LASTS })
      .run();
    if (dropped.length > 0)
      record(file, {
        actor: { kind: "visitor", id: null },
        via: "page",
        at: now,
        kind: "join-asked",
        detail: `dropped: ${dropped.join(", ").slice(0, 300)}`,
      });
    enqueue(file, JOIN, { id }, now);
  });
  return ok(null);
}

/** Runs after the page has answered. Somebody known is told so, somebody who may join gets a link to confirm; nobody else gets mail. */
export function answerJoin(file: PortalFile, id: string, now: number): void {
  const row = file.orm
    .select()
    .from(joins)
    .where(and(eq(joins.id, id), eq(joins.state, "asked")))
    .get();
  if (!row) return;
  const personId = personIdByEmail(file, row.email);
  const person = personId ? personFacts(file, personId) : undefined;
  if (person) {
    file.orm.update(joins).set({ state: "known" }).where(eq(joins.id, id)).run();
    if (person.status !== "active" && person.status !== "invited" && person.status !== "awaiting approval") return;
    const link = freshLink(file, person.id, person.status === "invited" ? "invitation" : "sign-in", now);
    write(file, {
      occasion: "join-known",
      to: { personId: person.id, email: person.email },
      said: saidOf(file, person, now),
      link,
      by: "system",
      now,
    });
    return;
  }
  if (!mayJoin(joining(file), row.email)) return;
  write(file, {
    occasion: "join",
    to: { personId: null, email: row.email },
    said: saidOf(file, row, now),
    link: { id: row.id, version: 0 },
    by: "system",
    now,
  });
}

/** Who it is that would join by it; undefined where it does so no more. Looking uses nothing up. */
export function lookAtJoin(file: PortalFile, token: string, now: number): { name: string; email: string } | undefined {
  const row = joinOf(file, token);
  return row && row.state === "asked" && row.expiresAt > now ? { name: row.name, email: row.email } : undefined;
}

export interface Joined extends Entered {
  readonly waits: boolean;
  readonly withCompany: boolean;
  readonly back: string;
}

/** Works once, also for two requests at the same moment. Where a part cannot be made, nothing is kept. */
export function confirmJoin(file: PortalFile, token: string, now: number): Result<Joined, "gone" | "known"> {
  const row = joinOf(file, token);
  if (!row) return err("gone");
  const s = joining(file);
  return attempt<Joined, "gone" | "known">(file, () => {
    const still = and(eq(joins.id, row.id), eq(joins.state, "asked"), gt(joins.expiresAt, now));
    if (file.orm.update(joins).set({ state: "confirmed", confirmedAt: now }).where(still).run().changes !== 1) refuse("gone");
    if (personIdByEmail(file, row.email)) refuse("known");
    if (!mayJoin(s, row.email)) refuse("gone");
    return makeJoined(file, s, row, now);
  });
}

function makeJoined(file: PortalFile, s: Joining, row: typeof joins.$inferSelect, now: number): Joined {
  const schema = schemaOf(file);
  const personId = newId();
  const doer: JoiningDoer = { kind: "joining", actor: { kind: "person", id: personId }, now };
  const all: Record<string, Value> = { ...(row.values as Record<string, Value>) };
  for (const f of joinFields(schema)) {
    if (!(f.id in s.fixed)) continue;
    const read = kindOf(f).parse([s.fixed[f.id]!], f, { timeZone: "UTC" });
    if (read.ok) all[f.id] = read.value;
  }
  const of = (table: "people" | "companies") => {
    const own = new Set(joinFields(schema).flatMap((f) => (f.tableId === schema[table].id ? [f.id] : [])));
    return Object.fromEntries(Object.entries(all).filter(([id]) => own.has(id)));
  };
  const waits = s.approval || row.kind === "member";
  const person = addPerson(file, doer, {
    id: personId,
    name: row.name,
    email: row.email,
    memberships: [],
    status: waits ? "awaiting approval" : "active",
    values: of("people"),
  });
  if (!person.ok) throw new Error(person.error.message);
  if (row.kind !== "member") {
    const company = addCompany(file, doer, row.company ?? row.name, of("companies"));
    if (!company.ok) throw new Error(company.error.message);
    const held = addMembership(file, doer, personId, company.value.id, [s.lead!]);
    if (!held.ok) throw new Error(held.error.message);
  }
  if (row.terms !== null) agree(file, personId, row.terms, now);
  file.orm.update(joins).set({ personId }).where(eq(joins.id, row.id)).run();
  record(file, { actor: doer.actor, via: "page", at: now, kind: "joined", table: "t_people", record: personId });
  const entered = letInConfirmed(file, personId, now);
  if (!entered.ok) throw new Error("Who has just joined is not let in.");
  return { ...entered.value, waits, withCompany: row.kind === "company", back: row.back };
}

function agree(file: PortalFile, personId: string, version: number, at: number): void {
  const text = file.orm.select().from(terms).where(eq(terms.version, version)).get();
  if (!text) return;
  const hash = createHash("sha256").update(text.body).digest("hex");
  file.orm.insert(agreements).values({ personId, version, hash, at }).onConflictDoNothing().run();
}

/** What nobody confirmed is forgotten. */
export const sweepJoins = (file: PortalFile, now: number): void => {
  file.orm
    .delete(joins)
    .where(and(eq(joins.state, "asked"), lt(joins.expiresAt, now)))
    .run();
};
