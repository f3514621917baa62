/** The ways to sign in to a portal: by password and by link; and what must come before anything else (a new password). */

import { eq } from "drizzle-orm";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import type { PortalFile } from "@/data/file/open";
import { credentials } from "@/data/file/portal-tables";
import { actingOf, type PasswordState } from "@/data/people/acting";
import { membershipsOf, personFacts, personIdByEmail, setStatus } from "@/data/people/people";
import { TooMany } from "./hashing";
import { countTry, type From, forgetTries, limitsOf, waitFor } from "./limits";
import { type LinkState, redeemLink } from "./links";
import { hashPassword, passwordMatches, passwordProblem } from "./passwords";
import { tokenHash } from "./secrets";
import { byFreshLink, endOtherSessions, type Session, startSession, type Via } from "./sessions";

/** `wrong` is the same answer for an unknown address, a wrong password and a person who may not sign in. */
export type SignInError = { code: "wrong" } | { code: "too-many"; seconds: number };

export async function signInWithPassword(
  file: PortalFile,
  email: string,
  password: string,
  from: From,
  now: number,
): Promise<Result<{ token: string; personId: string; mustChoosePassword: boolean }, SignInError>> {
  const limits = limitsOf(accountOf(email), from);
  const wait = waitFor(file.orm, limits, now);
  if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
  countTry(file.orm, limits, now);
  const personId = personIdByEmail(file, email);
  const person = personId ? personFacts(file, personId) : undefined;
  const credential = personId ? file.orm.select().from(credentials).where(eq(credentials.personId, personId)).get() : undefined;
  const good = await whetherMatches(credential?.hash, password);
  if (good === "too-many") return err({ code: "too-many", seconds: BUSY_SECONDS });
  if (!good || !person || (person.status !== "active" && person.status !== "invited")) return err({ code: "wrong" });
  forgetTries(file.orm, limits);
  return ok({ token: enter(file, person.id, now), personId: person.id, mustChoosePassword: credential?.temporary === true });
}

/** What tries are counted for, known or not. */
export const accountOf = (email: string): string => `account ${fold(email.trim()).slice(0, 200)}`;

const BUSY_SECONDS = 5;

/** Where too many are asked for at once, nobody is told whether it was right. */
export async function whetherMatches(stored: string | undefined, password: string): Promise<boolean | "too-many"> {
  try {
    return await passwordMatches(stored, password);
  } catch (e) {
    if (e instanceof TooMany) return "too-many";
    throw e;
  }
}

export function signInWithLink(file: PortalFile, token: string, now: number): Result<{ token: string; personId: string }, LinkState> {
  const link = redeemLink(file, token, now);
  if (link.state !== "good") return err(link);
  const person = personFacts(file, link.personId);
  if (!person || (person.status !== "active" && person.status !== "invited")) return err({ state: "unknown" });
  return ok({ token: enter(file, person.id, now, "link"), personId: person.id });
}

function enter(file: PortalFile, personId: string, now: number, via: Via = "password"): string {
  if (personFacts(file, personId)?.status === "invited") setStatus(file, { kind: "person", id: personId }, personId, "active", now);
  return startSession(file, personId, membershipsOf(file, personId)[0]?.id ?? null, now, via);
}

export const passwordState = (file: PortalFile, personId: string): PasswordState => actingOf(file, personId)?.person.password ?? "none";

export async function storePassword(file: PortalFile, personId: string, password: string, temporary: boolean, now: number): Promise<void> {
  const row = { personId, hash: await hashPassword(password), temporary, changedAt: new Date(now).toISOString() };
  file.orm.insert(credentials).values(row).onConflictDoUpdate({ target: credentials.personId, set: row }).run();
}

export interface NewPassword {
  readonly password: string;
  /** The one that is there; asked for unless that is a temporary one, which was typed a moment ago, or there is none. */
  readonly present: string;
}
export type PasswordProblems = Partial<Record<keyof NewPassword, string>>;

/**
 * Replaces a password, or sets a first one. The new one must differ. Every session ends, this one too: the answer is the token of the one
 * that takes its place.
 */
export async function choosePassword(
  file: PortalFile,
  session: Session,
  given: NewPassword,
  from: From,
  now: number,
): Promise<Result<{ token: string }, PasswordProblems>> {
  const person = personFacts(file, session.personId);
  const row = file.orm.select().from(credentials).where(eq(credentials.personId, session.personId)).get();
  if (row && !row.temporary && !byFreshLink(file, session, now)) {
    const limits = limitsOf(`present ${session.personId}`, from);
    const wait = waitFor(file.orm, limits, now);
    if (wait > 0) return err({ present: `Too many tries. Wait ${Math.ceil(wait / 1000)} seconds, then try again.` });
    countTry(file.orm, limits, now);
    const good = await whetherMatches(row.hash, given.present);
    if (good === "too-many") return err({ present: `Elkhorn is busy. Wait ${BUSY_SECONDS} seconds, then try again.` });
    if (!good) return err({ present: "This is not your present password." });
    forgetTries(file.orm, limits);
  }
  const problem = passwordProblem(given.password, [person?.name ?? "", person?.email ?? "", file.slug]);
  if (problem) return err({ password: problem });
  if (row && (await whetherMatches(row.hash, given.password)) !== false)
    return err({
      password: row.temporary
        ? "Choose a password that differs from the one you were given."
        : "Choose one that differs from the present one.",
    });
  await storePassword(file, session.personId, given.password, false, now);
  const token = startSession(file, session.personId, session.membershipId, now);
  endOtherSessions(file, session.personId, tokenHash(token));
  return ok({ token });
}
