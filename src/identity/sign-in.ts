/** The ways to sign in to a portal: by password and by link; and what must come before anything else (a new password). */

import { eq } from "drizzle-orm";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import type { PortalFile } from "@/data/file/open";
import { credentials } from "@/data/file/portal-tables";
import { actingOf, type PasswordState } from "@/data/people/acting";
import { membershipsOf, personFacts, personIdByEmail, setStatus } from "@/data/people/people";
import { countTry, forgetTries, waitFor } from "./limits";
import { type LinkState, redeemLink } from "./links";
import { hashPassword, passwordMatches, passwordProblem } from "./passwords";
import { endOtherSessions, type Session, startSession } from "./sessions";

/** `wrong` is the same answer for an unknown address, a wrong password and a person who may not sign in. */
export type SignInError = { code: "wrong" } | { code: "too-many"; seconds: number };

export async function signInWithPassword(
  file: PortalFile,
  email: string,
  password: string,
  now: number,
): Promise<Result<{ token: string; personId: string; mustChoosePassword: boolean }, SignInError>> {
  const key = `account ${fold(email.trim()).slice(0, 200)}`;
  const wait = waitFor(file.orm, key, now);
  if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
  countTry(file.orm, key, now);
  const personId = personIdByEmail(file, email);
  const person = personId ? personFacts(file, personId) : undefined;
  const credential = personId ? file.orm.select().from(credentials).where(eq(credentials.personId, personId)).get() : undefined;
  const good = await passwordMatches(credential?.hash, password);
  if (!good || !person || (person.status !== "active" && person.status !== "invited")) return err({ code: "wrong" });
  forgetTries(file.orm, key);
  return ok({ token: enter(file, person.id, now), personId: person.id, mustChoosePassword: credential?.temporary === true });
}

export function signInWithLink(file: PortalFile, token: string, now: number): Result<{ token: string; personId: string }, LinkState> {
  const link = redeemLink(file, token, now);
  if (link.state !== "good") return err(link);
  const person = personFacts(file, link.personId);
  if (!person || (person.status !== "active" && person.status !== "invited")) return err({ state: "unknown" });
  return ok({ token: enter(file, person.id, now), personId: person.id });
}

function enter(file: PortalFile, personId: string, now: number): string {
  if (personFacts(file, personId)?.status === "invited") setStatus(file, { kind: "person", id: personId }, personId, "active", now);
  return startSession(file, personId, membershipsOf(file, personId)[0]?.id ?? null, now);
}

export const passwordState = (file: PortalFile, personId: string): PasswordState => actingOf(file, personId)?.person.password ?? "none";

export async function storePassword(file: PortalFile, personId: string, password: string, temporary: boolean, now: number): Promise<void> {
  const row = { personId, hash: await hashPassword(password), temporary, changedAt: new Date(now).toISOString() };
  file.orm.insert(credentials).values(row).onConflictDoUpdate({ target: credentials.personId, set: row }).run();
}

/** Replaces a temporary password, or sets a first one. The new one must differ, and every other session ends. */
export async function choosePassword(file: PortalFile, session: Session, password: string, now: number): Promise<string | null> {
  const person = personFacts(file, session.personId);
  const row = file.orm.select().from(credentials).where(eq(credentials.personId, session.personId)).get();
  const problem = passwordProblem(password, [person?.name ?? "", person?.email ?? "", file.slug]);
  if (problem) return problem;
  if (row && (await passwordMatches(row.hash, password))) return "Choose a password that differs from the one you were given.";
  await storePassword(file, session.personId, password, false, now);
  endOtherSessions(file, session.personId, session.hash);
  return null;
}
