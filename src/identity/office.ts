/** The back office's own sign-in: staff of the agency, in the installation's file. */
import { and, eq, gt } from "drizzle-orm";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import { attempts, staff, staffSessions } from "@/data/file/control-tables";
import { newId } from "@/data/file/ids";
import { control } from "@/data/file/open";
import { countTry, type From, forgetTries, limitsOf, waitFor } from "./limits";
import { hashPassword } from "./passwords";
import { newToken, tokenHash } from "./secrets";
import { accountOf, type SignInError, whetherMatches } from "./sign-in";

export interface Staff {
  readonly id: string;
  readonly name: string;
  readonly email: string;
}

const LASTS = 14 * 86_400_000;

export async function officeSignIn(
  email: string,
  password: string,
  from: From,
  now: number,
): Promise<Result<{ token: string }, SignInError>> {
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
  const good = await whetherMatches(row?.hash, password);
  if (good === "too-many") return err({ code: "too-many", seconds: 5 });
  if (!good || !row) return err({ code: "wrong" });
  forgetTries(orm, limits, attempts);
  const token = newToken();
  orm
    .insert(staffSessions)
    .values({ hash: tokenHash(token), staffId: row.id, createdAt: now, expiresAt: now + LASTS })
    .run();
  return ok({ token });
}

/** Who the token's session is of, and the session's hash, which stands for it without opening it. */
export function officeSession(token: string | undefined, now: number): { staff: Staff; session: string } | undefined {
  if (!token) return undefined;
  const session = tokenHash(token);
  const row = control()
    .orm.select({ id: staff.id, name: staff.name, email: staff.email })
    .from(staffSessions)
    .innerJoin(staff, eq(staff.id, staffSessions.staffId))
    .where(and(eq(staffSessions.hash, session), gt(staffSessions.expiresAt, now)))
    .get();
  return row && { staff: row, session };
}

export const officeSessionStands = (session: string, now: number): boolean =>
  control()
    .orm.select({ hash: staffSessions.hash })
    .from(staffSessions)
    .where(and(eq(staffSessions.hash, session), gt(staffSessions.expiresAt, now)))
    .get() !== undefined;

export const officeSignOut = (token: string): void => {
  control()
    .orm.delete(staffSessions)
    .where(eq(staffSessions.hash, tokenHash(token)))
    .run();
};

export async function addStaff(name: string, email: string, password: string, now: number): Promise<void> {
  const row = { id: newId(), name, email: fold(email.trim()), hash: await hashPassword(password), createdAt: new Date(now).toISOString() };
  control().orm.insert(staff).values(row).run();
}
