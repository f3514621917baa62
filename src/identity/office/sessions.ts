/** The back office's own sign-in: staff of the agency, in the installation's file. */
import { and, desc, eq, gt, lt, lte, ne, or } from "drizzle-orm";
import { isOfficeRole, mayInOffice, type OfficeRole } from "@/core/access/who/office";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import { attempts, staff, staffSessions } from "@/data/file/control-tables";
import { newId } from "@/data/file/ids";
import { control } from "@/data/file/open";
import { noteStaff } from "@/data/installation/staff-log";
import { type Party, provePasskey } from "../doors/passkey";
import { secondState } from "../factors/second";
import { type Guessed, type SecondRefused, trySecond } from "../factors/try-second";
import { countTry, type From, forgetTries, limitsOf, waitFor } from "../limits/limits";
import { accountOf, hashPassword, whetherMatches } from "../passwords/passwords";
import { newToken, tokenHash } from "../secrets/secrets";
import type { Shelf } from "../secrets/shelf";
import type { SessionStep } from "../sessions/sessions";

export interface Staff {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly role: OfficeRole;
}

/** Where second factors of staff are kept. */
export const officeShelf = (): Shelf => ({ orm: control().orm, id: "office" });

const LASTS = 14 * 86_400_000;
const HALF = 15 * 60_000;
/** A session of staff that nobody used for so long is over. */
const IDLE = 12 * 3_600_000;
const SEEN_EACH = 60_000;

/** Limits count before anything is looked at. Where a second factor is on, the session is half one until it is given. */
export async function officeSignIn(
  email: string,
  password: string,
  from: From,
  now: number,
): Promise<Result<{ token: string; step: SessionStep }, { code: "wrong" } | { code: "too-many"; seconds: number }>> {
  const { orm } = control();
  const limits = limitsOf(accountOf(email), from);
  const wait = waitFor(orm, limits, now, attempts);
  if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
  countTry(orm, limits, now, attempts);
  const row = orm
    .select()
    .from(staff)
    .where(eq(staff.email, fold(email.trim())))
    .get();
  const good = await whetherMatches(row?.status === "active" ? row.hash : undefined, password);
  if (good === "too-many") return err({ code: "too-many", seconds: 5 });
  if (!good || row?.status !== "active") return err({ code: "wrong" });
  forgetTries(orm, limits, attempts);
  const step = secondState(officeShelf(), row.id).since === null ? "in" : "second";
  return ok({ token: beginStaffSession(row.id, now, step), step });
}

/** The session's token; only its hash is kept. */
export function beginStaffSession(staffId: string, now: number, step: SessionStep = "in"): string {
  const token = newToken();
  const expiresAt = now + (step === "in" ? LASTS : HALF);
  control()
    .orm.insert(staffSessions)
    .values({ hash: tokenHash(token), staffId, createdAt: now, seenAt: now, expiresAt, step })
    .run();
  return token;
}

export interface StaffSession {
  readonly hash: string;
  readonly since: number;
}

/** Where somebody of the staff is signed in, the latest first. */
export const staffSessionsOf = (staffId: string, now: number): StaffSession[] =>
  control()
    .orm.select({ hash: staffSessions.hash, since: staffSessions.createdAt })
    .from(staffSessions)
    .where(and(eq(staffSessions.staffId, staffId), eq(staffSessions.step, "in"), gt(staffSessions.expiresAt, now)))
    .orderBy(desc(staffSessions.createdAt))
    .all();

/** Ends one of one's own sessions, or all but the one that asks. */
export function endStaffSessions(staffId: string, which: string, keep: string, now: number): void {
  const of = and(eq(staffSessions.staffId, staffId), which === "others" ? ne(staffSessions.hash, keep) : eq(staffSessions.hash, which));
  const { changes } = control().orm.delete(staffSessions).where(of).run();
  if (changes > 0) noteStaff(staffId, "signed-out-elsewhere", now);
}

/** By a passkey of the office's own host: held and verified at once, so no second step follows. */
export async function officePasskey(response: Parameters<typeof provePasskey>[1], party: Party, now: number): Promise<string | null> {
  const id = await provePasskey(officeShelf(), response, party, now);
  const row = id && control().orm.select({ status: staff.status }).from(staff).where(eq(staff.id, id)).get();
  return id && row && row.status === "active" ? beginStaffSession(id, now) : null;
}

/** Whether it began a moment ago: another way in is made by who has just shown who they are. */
export function isFreshStaff(session: string, now: number): boolean {
  const row = control().orm.select({ at: staffSessions.createdAt }).from(staffSessions).where(eq(staffSessions.hash, session)).get();
  return row !== undefined && now - row.at < HALF;
}

/** The second of two steps: another session takes the place of the one that waited. */
export function officeSecond(
  token: string | undefined,
  given: string,
  asked: { readonly from: From; readonly now: number; readonly tell: (what: Guessed) => void },
): Result<{ token: string }, SecondRefused> {
  const { now } = asked;
  const half = officeSession(token, now, "second");
  if (!half || !token) return err({ code: "wrong" });
  const tried = trySecond(officeShelf(), half.staff.id, given, { ...asked, tries: attempts });
  if (!tried.ok) return tried;
  officeSignOut(token);
  return ok({ token: beginStaffSession(half.staff.id, now) });
}

/** Who the token's session is of, and the session's hash, which stands for it without opening it. */
export function officeSession(
  token: string | undefined,
  now: number,
  step: SessionStep = "in",
): { staff: Staff; session: string } | undefined {
  if (!token) return undefined;
  const session = tokenHash(token);
  const row = control()
    .orm.select({ id: staff.id, name: staff.name, email: staff.email, role: staff.role, seenAt: staffSessions.seenAt })
    .from(staffSessions)
    .innerJoin(staff, eq(staff.id, staffSessions.staffId))
    .where(standing(session, now, step))
    .get();
  // Who has no role that is known has none.
  if (!row || !isOfficeRole(row.role)) return undefined;
  const { seenAt, role, ...who } = row;
  if (seenAt + SEEN_EACH < now) control().orm.update(staffSessions).set({ seenAt: now }).where(eq(staffSessions.hash, session)).run();
  return { staff: { ...who, role }, session };
}

const standing = (session: string, now: number, step: SessionStep) =>
  and(
    eq(staffSessions.hash, session),
    gt(staffSessions.expiresAt, now),
    gt(staffSessions.seenAt, now - IDLE),
    eq(staffSessions.step, step),
    eq(staff.status, "active"),
  );

/** Whether the session still is, and its holder may look at records: asked at each request of somebody who sees as another. */
export function officeSessionStands(session: string, now: number): boolean {
  const row = control()
    .orm.select({ role: staff.role })
    .from(staffSessions)
    .innerJoin(staff, eq(staff.id, staffSessions.staffId))
    .where(standing(session, now, "in"))
    .get();
  return row !== undefined && mayInOffice(row.role, "records");
}

/** Ends a session of the back office. Nothing happens where it is over. */
export const officeSignOut = (token: string): void => {
  control()
    .orm.delete(staffSessions)
    .where(eq(staffSessions.hash, tokenHash(token)))
    .run();
};

/** Makes somebody of the staff with a password of their own. `now` in milliseconds. */
export async function addStaff(name: string, email: string, password: string, now: number): Promise<void> {
  const row = { id: newId(), name, email: fold(email.trim()), hash: await hashPassword(password), createdAt: new Date(now).toISOString() };
  control().orm.insert(staff).values(row).run();
}

/** The same of the back office. */
export const sweepStaffSessions = (now: number): void =>
  void control()
    .orm.delete(staffSessions)
    .where(or(lte(staffSessions.expiresAt, now), lt(staffSessions.seenAt, now - IDLE)))
    .run();
