/** The ways to sign in to a portal: by password and by link; and what must come before anything else (a new password). */

import { eq } from "drizzle-orm";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import { credentials } from "@/data/file/portal-tables";
import { actingOf, type PasswordState } from "@/data/people/acting";
import { personFacts } from "@/data/people/people";
import type { Refused } from "../doors/contract";
import { type LinkGiven, linkDoor } from "../doors/link";
import { passwordDoor } from "../doors/password";
import { isStay } from "../doors/settings";
import { standingDoor } from "../doors/standing";
import { countTry, type From, forgetTries, limitsOf, waitFor } from "../limits/limits";
import { BUSY_SECONDS, hashPassword, passwordProblem, whetherMatches } from "../passwords/passwords";
import { lookAtLink } from "../secrets/links";
import { tokenHash } from "../secrets/secrets";
import { byFreshLink, endOtherSessions, type Session, startSession } from "../sessions/sessions";
import { comeIn, type Entered } from "./enter";

/** Lets somebody in by e-mail and password, or says why not; a try counts against the limits. `now` in milliseconds. */
export const signInWithPassword = (
  file: PortalFile,
  email: string,
  password: string,
  from: From,
  now: number,
): Promise<Result<Entered, Refused>> => comeIn(file, passwordDoor, { email, password }, from, now);

/** A link says by itself whether it works once or stays. */
export function signInWithLink(
  file: PortalFile,
  token: string,
  from: From,
  now: number,
  by: Pick<LinkGiven, "browser" | "code"> = {},
): Promise<Result<Entered, Refused>> {
  const link = lookAtLink(file, token, now);
  const stays = link.state === "good" && link.purpose === "standing";
  return stays ? comeIn(file, standingDoor, { token }, from, now) : comeIn(file, linkDoor, { token, ...by }, from, now);
}

/** Whether a person has a password, and whether it is one to be changed. */
export const passwordState = (file: PortalFile, personId: string): PasswordState => actingOf(file, personId)?.person.password ?? "none";

/** Stores a new password, hashed, in place of the one before. `now` in milliseconds. */
export async function storePassword(file: PortalFile, personId: string, password: string, temporary: boolean, now: number): Promise<void> {
  storeHash(file, personId, await hashPassword(password), temporary, now);
}

/** Of a password that was hashed before, so that it is stored in one transaction with whose it is. */
export function storeHash(file: PortalFile, personId: string, hash: string, temporary: boolean, now: number): void {
  const row = { personId, hash, temporary, changedAt: new Date(now).toISOString() };
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
  if (isStay(session.via)) return err({ password: "Whoever came in by a link that stays chooses no password." });
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
