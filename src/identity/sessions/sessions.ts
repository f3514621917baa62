/** Sessions of a portal's people. The token is in the cookie alone; nothing is cached, so an ended session is out at once. */

import { and, desc, eq, gt, lt, lte, ne, or, sql } from "drizzle-orm";
import type { PortalFile } from "@/data/file/open";
import { sessions } from "@/data/file/portal-tables";
import { isBusy } from "@/data/file/when-free";
import { type DoorId, isStay, showsMail } from "../doors/settings";
import { newToken, tokenHash } from "../secrets/secrets";

export const ABSOLUTE = 30 * 86_400_000;
const IDLE = 7 * 86_400_000;
const MINUTE = 60_000;
/** How long the second of two steps is waited for. */
const HALF = 15 * MINUTE;

export interface Session {
  readonly hash: string;
  readonly personId: string;
  readonly membershipId: string | null;
  readonly step: SessionStep;
  readonly via: DoorId;
}

/** Whether it is in, or waits for a second factor to be given or made. Until then it opens nothing but the page for that. */
export type SessionStep = "in" | "second" | "enrol";

/** The session's token; only its hash is kept. */
export function startSession(
  file: PortalFile,
  personId: string,
  membershipId: string | null,
  now: number,
  via: DoorId = "password",
  step: SessionStep = "in",
): string {
  const token = newToken();
  file.orm
    .insert(sessions)
    .values({
      hash: tokenHash(token),
      personId,
      membershipId,
      createdAt: now,
      seenAt: now,
      expiresAt: now + (step === "in" ? ABSOLUTE : HALF),
      via,
      step,
    })
    .run();
  return token;
}

const askSession = () => {
  const { personId, membershipId, seenAt, hash, expiresAt, step, via } = sessions;
  return sql`SELECT ${personId}, ${membershipId}, ${seenAt}, ${step}, ${via} FROM ${sessions} WHERE ${hash} = ${sql.placeholder("p0")} AND ${expiresAt} > ${sql.placeholder("p1")}`;
};

/** Undefined where it is over or unknown. */
export function findSession(file: PortalFile, token: string, now: number): Session | undefined {
  const hash = tokenHash(token);
  // Prepared once for the file: every request asks this.
  const row = file.statements.row("session", askSession, [hash, now]) as [string, string | null, number, SessionStep, DoorId] | undefined;
  if (!row) return undefined;
  const [personId, membershipId, seenAt, step, via] = row;
  if (seenAt + IDLE < now) return undefined;
  if (!file.readOnly && seenAt + MINUTE < now) {
    try {
      file.orm.update(sessions).set({ seenAt: now }).where(eq(sessions.hash, hash)).run();
    } catch (e) {
      if (!isBusy(e)) throw e; // the next request moves it
    }
  }
  return { hash, personId, membershipId, step, via };
}

/**
 * Another session of whoever holds one, as old as that and over no later: who they are was shown then, and is not shown again by this.
 * Null where that session has ended meanwhile.
 */
export function startBeside(file: PortalFile, hash: string, now: number, lasts: number): string | null {
  const from = file.orm
    .select()
    .from(sessions)
    .where(and(eq(sessions.hash, hash), gt(sessions.expiresAt, now), gt(sessions.seenAt, now - IDLE), eq(sessions.step, "in")))
    .get();
  if (!from) return null;
  const token = newToken();
  const { personId, membershipId, createdAt, via, step } = from;
  const expiresAt = Math.min(from.expiresAt, now + lasts);
  file.orm
    .insert(sessions)
    .values({ hash: tokenHash(token), personId, membershipId, createdAt, seenAt: now, expiresAt, via, step, beside: hash })
    .run();
  return token;
}

/** Whether it began a moment ago by what was sent to its person by mail: a forgotten password is replaced without being asked for. */
export const byFreshLink = (file: PortalFile, session: Session, now: number): boolean => {
  const row = file.orm.select().from(sessions).where(eq(sessions.hash, session.hash)).get();
  return row !== undefined && showsMail(row.via) && now - row.createdAt < 15 * MINUTE;
};

/** Whether it began a moment ago: more doors of one's own are made by who has just shown who they are, not by a session left open. */
export const isFresh = (file: PortalFile, session: Session, now: number): boolean => {
  const row = file.orm.select().from(sessions).where(eq(sessions.hash, session.hash)).get();
  // What is made while signed in by a standing link, such as a passkey, would outlast the link.
  return row !== undefined && !isStay(row.via) && now - row.createdAt < 15 * MINUTE;
};

/** Unknown ones are over already. */
export const endSession = (file: PortalFile, token: string): void => {
  file.orm
    .delete(sessions)
    .where(eq(sessions.hash, tokenHash(token)))
    .run();
};

/** Ends one session. */
export const endSessionOf = (file: PortalFile, session: Session): void => {
  file.orm.delete(sessions).where(eq(sessions.hash, session.hash)).run();
};

export interface OpenSession {
  /** What stands for it without opening it. */
  readonly hash: string;
  readonly since: number;
  readonly seenAt: number;
  readonly via: DoorId;
}

/** The sessions of a person, the last used first. */
export const sessionsOf = (file: PortalFile, personId: string, now: number): OpenSession[] =>
  file.orm
    .select()
    .from(sessions)
    .where(and(eq(sessions.personId, personId), gt(sessions.expiresAt, now), gt(sessions.seenAt, now - IDLE), eq(sessions.step, "in")))
    .orderBy(desc(sessions.seenAt))
    .all()
    .map((s) => ({ hash: s.hash, since: s.createdAt, seenAt: s.seenAt, via: s.via as DoorId }));

/** Ends one of the person's own sessions. False where it is not theirs. */
export const endOneOf = (file: PortalFile, personId: string, hash: string): boolean =>
  file.orm
    .delete(sessions)
    .where(and(eq(sessions.personId, personId), eq(sessions.hash, hash)))
    .run().changes === 1;

/** After a new password: every other session of the person ends. */
export const endOtherSessions = (file: PortalFile, personId: string, keep: string): void => {
  file.orm
    .delete(sessions)
    .where(and(eq(sessions.personId, personId), ne(sessions.hash, keep)))
    .run();
};

/** Has a session act by another of the person's memberships from now on. */
export const actIn = (file: PortalFile, session: Session, membershipId: string): void => {
  file.orm.update(sessions).set({ membershipId }).where(eq(sessions.hash, session.hash)).run();
};

/** Rows of sessions that are over, however they ended: they open nothing, and nobody is shown them. */
export const sweepSessions = (file: PortalFile, now: number): void =>
  void file.orm
    .delete(sessions)
    .where(or(lte(sessions.expiresAt, now), lt(sessions.seenAt, now - IDLE)))
    .run();
