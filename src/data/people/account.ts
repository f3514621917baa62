/** What hangs on a person's way in and is no field: the day it ends, and a name to sign in by where they have no e-mail. */
import { eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import { dateIn } from "@/core/time/relative";
import { published } from "../definition/published";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import { accounts } from "../file/portal-tables";
import { transact } from "../file/transact";
import { personFacts, personIdByEmail, setStatus } from "./people";

export interface Account {
  /** ISO 8601, in the portal's zone: the last day. */
  readonly until: string | null;
  readonly name: string | null;
}

/** Somebody's sign-in name and last day. */
export function accountOf(file: PortalFile, personId: string): Account {
  const row = file.orm.select().from(accounts).where(eq(accounts.personId, personId)).get();
  return { until: row?.until ?? null, name: row?.name ?? null };
}

function keep(file: PortalFile, personId: string, set: Partial<typeof accounts.$inferInsert>): void {
  file.orm
    .insert(accounts)
    .values({ personId, ...set })
    .onConflictDoUpdate({ target: accounts.personId, set })
    .run();
}

/** Whether a last day (ISO 8601 date) lies before today in the time zone. `now` in milliseconds; null never ends. */
export const isOver = (until: string | null, now: number, timeZone: string): boolean => until !== null && until < dateIn(now, timeZone);

/** A day that is over already ends it at once; a later one, or none, opens an expired account again. */
export function setUntil(file: PortalFile, owner: Owner, personId: string, until: string | null): Result<null, string> {
  const person = personFacts(file, personId);
  if (!person) return err("This person is gone.");
  if (until !== null && !/^\d{4}-\d\d-\d\d$/.test(until)) return err("Write the last day as a date.");
  const { timeZone } = published(file).definition.portal;
  return transact(file, () => {
    keep(file, personId, { until });
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "last-day-set",
      table: "t_people",
      record: personId,
      detail: until ?? "none",
    });
    const over = isOver(until, owner.now, timeZone);
    if (over && person.status === "active") setStatus(file, actorOf(owner), personId, "expired", owner.now);
    if (!over && person.status === "expired") setStatus(file, actorOf(owner), personId, "active", owner.now);
    return ok(null);
  });
}

/** Ends the accounts whose last day is over. Answers how many. */
export function endAccounts(file: PortalFile, now: number): number {
  const { timeZone } = published(file).definition.portal;
  const over = file.db
    .prepare(
      "SELECT a.person_id FROM sys_accounts a JOIN t_people p ON p.id = a.person_id WHERE a.until < ? AND p.f_person_status IN ('active', 'invited')",
    )
    .pluck()
    .all(dateIn(now, timeZone)) as string[];
  for (const id of over) setStatus(file, { kind: "system", id: null }, id, "expired", now);
  return over.length;
}

const NAME = /^[\p{L}\p{N}](?:[\p{L}\p{N}._-]{0,58}[\p{L}\p{N}])?$/u;

/** Why a name cannot be signed in by, or null. Without an @, so that none is taken for an address. */
export function nameProblem(file: PortalFile, personId: string | null, name: string): string | null {
  if (!NAME.test(name)) return "Use letters and digits, with dots, hyphens or underscores between: up to 60.";
  const holder = file.orm
    .select()
    .from(accounts)
    .where(eq(accounts.nameKey, fold(name)))
    .get();
  return holder && holder.personId !== personId ? "Somebody in this portal signs in by that name already." : null;
}

/** A sentence where it cannot be theirs: another has it, or it reads as an e-mail address. */
export function setSignInName(file: PortalFile, owner: Owner, personId: string, given: string): Result<null, string> {
  const person = personFacts(file, personId);
  if (!person) return err("This person is gone.");
  const name = given.normalize("NFKC").trim();
  if (name === "" && !person.email) return err("Without an e-mail address they need a name to sign in by.");
  const problem = name === "" ? null : nameProblem(file, personId, name);
  if (problem) return err(problem);
  return transact(file, () => {
    keep(file, personId, { name: name || null, nameKey: name ? fold(name) : null });
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "sign-in-name-set",
      table: "t_people",
      record: personId,
    });
    return ok(null);
  });
}

/** Who is meant at the doors: by e-mail, or by a name where the portal has such. One question either way, so that the time does not tell. */
export function personIdBySignIn(file: PortalFile, given: string): string | undefined {
  const text = given.trim();
  if (text.includes("@")) return personIdByEmail(file, text);
  return file.orm
    .select()
    .from(accounts)
    .where(eq(accounts.nameKey, fold(text.normalize("NFKC"))))
    .get()?.personId;
}
